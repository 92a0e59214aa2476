import { finding, LIMITS, type Finding } from '../../limits/limits.js';
import {
  coastingFinding,
  interruptionFinding,
  lowFinding,
  stallFinding,
  switchedFinding,
} from './disturbance-findings.js';
import { dropoutFinding } from './dropout-finding.js';
import { MOST_OFFSET_A } from './explanation.js';
import { note, often, type FindingContext, type Rule } from './finding-context.js';
import { MOST_OF_A_SOUND_PUMP } from './ripple.js';
import type { RampResult } from './types.js';

/** Whether a mean may as well be what the clamp is off by: then no share of it says anything. */
function isLevelDoubtful({ steady, zeroOffsetA, pattern }: RampResult): boolean {
  return steady !== undefined && zeroOffsetA === undefined && pattern !== 'no-current' && steady.meanA < MOST_OFFSET_A;
}

/** Without the sign of what rounds to nothing. */
const hundredths = (valueA: number) => (Math.round(100 * valueA) / 100 || 0).toFixed(2);

/** Judgements on a pump current, each by its own rule. Order: the instrument first, then the pump. */
const RULES: readonly Rule[] = [
  (ramp, { isSignUntold }) =>
    ramp.inverted && !isSignUntold
      ? finding(
          'clamp-reversed',
          'keep-in-mind',
          'The clamp is on backwards: current reads negative. The numbers here are turned the right way round.',
          note('Pump current flows from feed to ground'),
        )
      : undefined,
  ({ zeroOffsetA }, { isZeroWithinTurns, zeroAfterS }) =>
    zeroOffsetA !== undefined && zeroAfterS === undefined && Math.abs(zeroOffsetA) > 0.1
      ? finding(
          'clamp-not-zeroed',
          'keep-in-mind',
          isZeroWithinTurns
            ? `The pump is never off here; where the current rests between, the clamp shows ${zeroOffsetA.toFixed(2)} A. That was taken for its zero and taken off. If the clamp was zeroed, say so: then that much goes on flowing.`
            : `The clamp showed ${zeroOffsetA.toFixed(2)} A with the pump off. That was taken off; zero the clamp before the next capture.`,
          note('A clamp reads zero with no current'),
        )
      : undefined,
  ({ steady, zeroOffsetA = 0 }, { zeroAfterS }) =>
    steady && zeroAfterS !== undefined
      ? finding(
          'zero-soon',
          'keep-in-mind',
          `The clamp’s zero, ${hundredths(zeroOffsetA)} A, is taken from the ${(zeroAfterS * 1000).toFixed(0)} ms after the switch-off, all that this record shows with the pump off. A pump that coasts can drive a current backwards that soon: then the draw is less than ${steady.meanA.toFixed(2)} A, by as much. Record from before key-on to know it.`,
          note('A pump that coasts makes volts of its own'),
        )
      : undefined,
  (_, { belowZeroA }) =>
    belowZeroA !== undefined
      ? finding(
          'zero-wrong',
          'act',
          `The running current reads down to -${belowZeroA.toFixed(2)} A, and none flows backwards: the clamp’s zero is off by as much or more, and every level here is too low by it. State what the clamp shows with the pump off, or zero it and capture again.`,
          note('Pump current flows from feed to ground'),
        )
      : undefined,
  (ramp) => {
    const { steady } = ramp;
    return steady && isLevelDoubtful(ramp)
      ? finding(
          'level-doubtful',
          'keep-in-mind',
          `Nothing in this record shows the clamp’s zero, and ${steady.meanA.toFixed(1)} A are no more than a clamp can be off by, or an AC-coupled input leaves. State its zero, or capture again from before key-on, before going by this draw.`,
          note('A clamp reads zero with no current'),
          [steady.fromS, steady.toS],
        )
      : undefined;
  },
  ({ steady, pattern }) => {
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
    // A rotor that stands draws several times the running current.
    if (steady.meanA > LIMITS.plausibleMostA.value && pattern !== 'locked-rotor') {
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
  (ramp, { spikes = 0 }) =>
    spikes > 0
      ? finding(
          'pick-up',
          'keep-in-mind',
          `Short spikes up and down, ${often(spikes, ramp)}: the clamp or its lead picks up ignition or another load. They are left out here; keep the lead away from coils and cables.`,
          note('A motor’s current never jumps up for a moment by itself'),
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
  (ramp) => {
    const { steady, pattern } = ramp;
    const isHigh = steady && steady.ripplePercent > LIMITS.ripplePercent.value;
    return isHigh && pattern !== 'pulsed' && !isLevelDoubtful(ramp)
      ? finding(
          'ripple-high',
          'keep-in-mind',
          `Highest to lowest point is ${steady.ripplePercent.toFixed(0)} % of the draw. ${rippleMeans(steady.ripplePercent, pattern)}`,
          LIMITS.ripplePercent,
          [steady.fromS, steady.toS],
        )
      : undefined;
  },
  ({ pattern, steady }) =>
    pattern === 'locked-rotor'
      ? finding(
          'locked-rotor',
          'act',
          'The first peak never falls and no humps pass: the rotor stands still. Switch it off, it burns its winding. Prove feed and ground, then look for what holds it.',
          note('A start that never falls is a locked rotor'),
          steady && [steady.fromS, steady.toS],
        )
      : undefined,
  stallFinding,
  lowFinding,
  ({ steady, inrushPeakA, onsetS, inrushPeakS, pattern }) =>
    steady &&
    pattern !== 'locked-rotor' &&
    pattern !== 'pulsed' &&
    inrushPeakA !== undefined &&
    steady.meanA > 0 &&
    inrushPeakA / steady.meanA < LIMITS.inrushLeast.value
      ? finding(
          'inrush-low',
          'keep-in-mind',
          `The first peak is only ${(inrushPeakA / steady.meanA).toFixed(1)} times the running draw: suspect added resistance in the supply or ground.`,
          LIMITS.inrushLeast,
          [onsetS ?? 0, inrushPeakS ?? 0],
        )
      : undefined,
  ({ steady, inrushPeakA, onsetS, inrushPeakS, pattern }) =>
    steady &&
    !LESSENED.has(pattern) &&
    inrushPeakA !== undefined &&
    inrushPeakA > LIMITS.inrushMost.value * steady.meanA
      ? finding(
          'inrush-high',
          'keep-in-mind',
          `The first peak is ${(inrushPeakA / steady.meanA).toFixed(1)} times the running draw: the supply gives what the winding asks for, but the running pump has little to do. Check pressure and that there is fuel in the tank.`,
          LIMITS.inrushMost,
          [onsetS ?? 0, inrushPeakS ?? 0],
        )
      : undefined,
  ({ bars, pattern }) => {
    const bad = bars?.filter((bar) => bar.state !== 'sound') ?? [];
    // How much of a turn is dead says it better than the bars that it covers.
    if (bad.length === 0 || pattern === 'dead-stretch') return undefined;
    // Bars burn by ones and twos. An open coil takes from all that pass while it lies between the brushes.
    const isCoil = bars !== undefined && bad.length > bars.length / 2;
    const list = bad.map(({ index, relative }) => `bar ${index} ${missing(-relative)}`).join(', ');
    return finding(
      'bars-burnt',
      'keep-in-mind',
      `${bad.length === 1 ? 'One bar drops' : `${bad.length} bars drop`} current on every turn: ${list}. With supply and ground proven this is ${isCoil ? 'an open coil of the winding, or a commutator burnt all over' : 'a worn commutator'}.`,
      note('A notch at the same place of each revolution is a damaged bar or winding; several are a burnt commutator'),
    );
  },
  interruptionFinding,
  coastingFinding,
  switchedFinding,
  dropoutFinding,
];

/** What takes so much of the current away that the mean says little of what the pump has to do. */
const LESSENED: ReadonlySet<RampResult['pattern']> = new Set([
  'pulsed',
  'burnt-bars',
  'dead-stretch',
  'brush-bounce',
  'random-dropouts',
]);

/** Of the draw: a bar that lacks as much carries nothing; the mean is less than what sound bars carry. */
const NOTHING = 0.95;
const missing = (share: number) => (share > NOTHING ? 'carries nothing' : `${Math.round(100 * share)} % down`);

function rippleMeans(percent: number, pattern: RampResult['pattern']): string {
  if (percent <= MOST_OF_A_SOUND_PUMP && pattern === 'even') {
    return "A dirty filter can do this too: don't condemn the pump on it alone.";
  }
  if (pattern === 'locked-notch' || pattern === 'burnt-bars' || pattern === 'dead-stretch') {
    return 'That much comes from the commutator, not from the filter.';
  }
  return percent <= MOST_OF_A_SOUND_PUMP
    ? 'Look at where it falls before blaming filter or pump.'
    : 'No filter does this: the current breaks, at the brushes or on its way.';
}

export function rampFindings(ramp: RampResult, context: FindingContext): Finding[] {
  return RULES.map((rule) => rule(ramp, context)).filter((found) => found !== undefined);
}
