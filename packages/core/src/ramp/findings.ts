import { finding, LIMITS, COMMON_PRACTICE, type Finding } from '../limits/limits.js';
import type { Dropout } from './dropouts.js';
import type { RampResult } from './types.js';

export interface FindingContext {
  readonly sampleRateHz?: number;
  /** A stated bar count that the pattern contradicts. */
  readonly contradictedBars?: number | undefined;
}

type Rule = (ramp: RampResult, context: FindingContext) => Finding | undefined;

const note = (rule: string) => ({ rule, source: COMMON_PRACTICE });

/** Judgements on a pump current, each by its own rule. Order: the instrument first, then the pump. */
const RULES: readonly Rule[] = [
  (ramp) =>
    ramp.inverted
      ? finding(
          'clamp-reversed',
          'keep-in-mind',
          'The clamp is on backwards: current reads negative. The numbers here are turned the right way round.',
          note('Pump current flows from feed to ground'),
        )
      : undefined,
  ({ zeroOffsetA }) =>
    zeroOffsetA !== undefined && Math.abs(zeroOffsetA) > 0.1
      ? finding(
          'clamp-not-zeroed',
          'keep-in-mind',
          `The clamp showed ${zeroOffsetA.toFixed(2)} A with the pump off. That was taken off; zero the clamp before the next capture.`,
          note('A clamp reads zero with no current'),
        )
      : undefined,
  ({ steady }) => {
    if (!steady) return undefined;
    const window = [steady.fromS, steady.toS] as const;
    if (steady.meanA < LIMITS.plausibleLeastA.value) {
      return finding(
        'scale-small',
        'act',
        `${steady.meanA.toFixed(2)} A steady looks ten times too small for a running pump. Check the clamp's scale setting.`,
        LIMITS.plausibleLeastA,
        window,
      );
    }
    if (steady.meanA > LIMITS.plausibleMostA.value) {
      return finding(
        'scale-large',
        'act',
        `${steady.meanA.toFixed(0)} A steady looks ten times too large for a pump. Check the clamp's scale setting.`,
        LIMITS.plausibleMostA,
        window,
      );
    }
    return undefined;
  },
  ({ pattern }) =>
    pattern === 'no-current'
      ? finding(
          'no-current',
          'act',
          'No current flows. Prove feed and ground at the pump under load before blaming the pump: an open anywhere looks like this.',
          note('No first peak at all means an open circuit'),
        )
      : undefined,
  ({ humps }, { sampleRateHz }) =>
    humps && sampleRateHz !== undefined && sampleRateHz / humps.rateHz < LIMITS.samplesPerHump.value
      ? finding(
          'few-samples',
          'keep-in-mind',
          `Only ${(sampleRateHz / humps.rateHz).toFixed(1)} samples a hump: the shape of the humps is lost. Use a faster time base.`,
          LIMITS.samplesPerHump,
        )
      : undefined,
  (_, { contradictedBars }) =>
    contradictedBars !== undefined
      ? finding(
          'bars-disagree',
          'keep-in-mind',
          `The pattern doesn't repeat as a ${contradictedBars}-bar motor would. The speed is taken from the pattern; check the bar count.`,
          note('The pattern repeats once a revolution'),
        )
      : undefined,
  ({ rpm, humps }) =>
    rpm !== undefined && humps && (rpm < LIMITS.slowestRpm.value || rpm > LIMITS.fastestRpm.value)
      ? finding(
          'speed-unusual',
          'keep-in-mind',
          `${Math.round(rpm)} rpm is outside the usual range${humps.basis === 'measured' ? '. Check current, then supply and ground at the pump' : '; the bar count this rests on may be wrong'}.`,
          LIMITS.slowestRpm,
        )
      : undefined,
  ({ steady }) =>
    steady && steady.ripplePercent > LIMITS.ripplePercent.value
      ? finding(
          'ripple-high',
          'keep-in-mind',
          `Highest to lowest point is ${steady.ripplePercent.toFixed(0)} % of the draw. A dirty filter can do this too: don't condemn the pump on it alone.`,
          LIMITS.ripplePercent,
          [steady.fromS, steady.toS],
        )
      : undefined,
  ({ steady, inrushPeakA, onsetS, inrushPeakS }) =>
    steady && inrushPeakA !== undefined && steady.meanA > 0 && inrushPeakA / steady.meanA < LIMITS.inrushLeast.value
      ? finding(
          'inrush-low',
          'keep-in-mind',
          `The first peak is only ${(inrushPeakA / steady.meanA).toFixed(1)} times the running draw: suspect added resistance in the supply or ground.`,
          LIMITS.inrushLeast,
          [onsetS ?? 0, inrushPeakS ?? 0],
        )
      : undefined,
  ({ bars }) => {
    const bad = bars?.filter((bar) => bar.state !== 'sound') ?? [];
    if (bad.length === 0) return undefined;
    const list = bad.map((bar) => `bar ${bar.index} ${Math.round(-100 * bar.relative)} % down`).join(', ');
    return finding(
      'bars-burnt',
      'keep-in-mind',
      `${bad.length === 1 ? 'One bar drops' : `${bad.length} bars drop`} current on every turn: ${list}. With supply and ground proven this is a worn commutator.`,
      note('A notch at the same place of each revolution is a damaged bar or winding; several are a burnt commutator'),
    );
  },
  ({ dropouts, pattern }) => dropoutFinding(dropouts, pattern),
];

function dropoutFinding(dropouts: readonly Dropout[], pattern: RampResult['pattern']): Finding | undefined {
  const random = dropouts.filter((dropout) => !dropout.locked);
  if (pattern === 'dead-stretch') {
    const longest = random.concat(dropouts).reduce((a, b) => (b.endS - b.startS > a.endS - a.startS ? b : a));
    return finding(
      'dead-stretch',
      'act',
      `The current is gone for ${((longest.endS - longest.startS) * 1000).toFixed(0)} ms while the pump should run. Record the voltage at the pump with it: if that stays, the brushes are off the bars; if it falls, the feed is breaking.`,
      note('Flat zero stretches: brushes off the bars, motor coasting on momentum'),
      [longest.startS, longest.endS],
    );
  }
  if (pattern !== 'random-dropouts') return undefined;
  return finding(
    'random-dropouts',
    'keep-in-mind',
    `${random.length} dropouts at no fixed place of the turn: brush bounce or a bad connection. Record the voltage at the pump together with the current to tell which.`,
    note('Random ups and downs are brush bounce or a bad connection'),
    [random[0].startS, random[0].endS],
  );
}

export function rampFindings(ramp: RampResult, context: FindingContext): Finding[] {
  return RULES.map((rule) => rule(ramp, context)).filter((found) => found !== undefined);
}
