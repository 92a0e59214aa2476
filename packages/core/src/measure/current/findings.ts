import { finding, LIMITS, COMMON_PRACTICE, type Finding } from '../../limits/limits.js';
import type { Dropout } from './dropouts.js';
import type { LowTime } from './measure-runs.js';
import type { RampResult } from './types.js';

export interface FindingContext {
  readonly sampleRateHz?: number;
  /** A stated bar count that the pattern contradicts. */
  readonly contradictedBars?: number | undefined;
  /** Begin and end of each time that the rotor came to stand, s. */
  readonly stallsS?: readonly (readonly [number, number])[];
  /** Each time that far less flowed than usual. */
  readonly lowsS?: readonly LowTime[];
  /** Begin and end of each time that the feed broke off within a run, s. */
  readonly breaksS?: readonly (readonly [number, number])[];
  /** When the starter turned the engine, from and until, s. */
  readonly cranksS?: readonly (readonly [number, number])[];
  /** Short spikes of either direction in the longest run. */
  readonly spikes?: number;
}

type Rule = (ramp: RampResult, context: FindingContext) => Finding | undefined;

const note = (rule: string) => ({ rule, source: COMMON_PRACTICE });

/** A clamp's drift and noise take a current that falls to nothing this far below it at times, A. */
const BELOW_NOTHING_A = 0.3;

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
  ({ steady, zeroOffsetA }) =>
    steady && zeroOffsetA === undefined && steady.minA < -BELOW_NOTHING_A
      ? finding(
          'zero-wrong',
          'act',
          `The running current reads down to ${steady.minA.toFixed(2)} A, and none flows backwards: the clamp’s zero is off by as much or more, and every level here is too low by it. State what the clamp shows with the pump off, or zero it and capture again.`,
          note('Pump current flows from feed to ground'),
          [steady.fromS, steady.toS],
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
  ({ steady, pattern }) =>
    steady && steady.ripplePercent > LIMITS.ripplePercent.value && pattern !== 'pulsed'
      ? finding(
          'ripple-high',
          'keep-in-mind',
          `Highest to lowest point is ${steady.ripplePercent.toFixed(0)} % of the draw. ${rippleMeans(steady.ripplePercent, pattern)}`,
          LIMITS.ripplePercent,
          [steady.fromS, steady.toS],
        )
      : undefined,
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
  (_, { stallsS = [] }) => {
    if (stallsS.length === 0) return undefined;
    const [fromS, toS] = stallsS.reduce((a, b) => (b[1] - b[0] > a[1] - a[0] ? b : a));
    const times = stallsS.length === 1 ? 'once' : `${stallsS.length} times`;
    return finding(
      'stall',
      'act',
      `The rotor comes to stand ${times}, longest for ${((toS - fromS) * 1000).toFixed(0)} ms: the current rises to its stalled level and falls again. Something drags or jams it: look for debris and a failing bearing, and prove feed and ground before condemning it.`,
      note('A rotor that stands draws its stalled current'),
      [fromS, toS],
    );
  },
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
    steady && pattern !== 'pulsed' && inrushPeakA !== undefined && inrushPeakA > LIMITS.inrushMost.value * steady.meanA
      ? finding(
          'inrush-high',
          'keep-in-mind',
          `The first peak is ${(inrushPeakA / steady.meanA).toFixed(1)} times the running draw: the supply gives what the winding asks for, but the running pump has little to do. Check pressure and that there is fuel in the tank.`,
          LIMITS.inrushMost,
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
  interruptionFinding,
  dropoutFinding,
];

/** A control unit powers the pump again as soon as it sees the engine turn (common practice, no published source), s. */
const SEES_TURN_S = 0.5;

/**
 * Runs that follow one another too closely for anybody to have turned the key, which is what was done where the engine is
 * cranked then: the prime was over, and the start brings the pump back.
 */
function interruptionFinding(
  { runs = [] }: RampResult,
  { breaksS = [], cranksS = [] }: FindingContext,
): Finding | undefined {
  const gaps = [...runs.slice(1).map((run, i) => [runs[i].toS, run.fromS] as const), ...breaksS];
  const isStart = (fromS: number, toS: number) =>
    cranksS.some(([begins]) => begins > fromS && Math.abs(toS - begins) < SEES_TURN_S);
  const breaks = gaps.filter(([fromS, toS]) => toS - fromS < LIMITS.interruptionS.value && !isStart(fromS, toS));
  if (breaks.length === 0) return undefined;
  if (
    breaks.length === 1 &&
    isPrime(
      runs.find((run) => run.toS === breaks[0][0]),
      breaks[0],
    )
  )
    return primeThenStart(breaks[0]);
  const [fromS, toS] = breaks.reduce((a, b) => (b[1] - b[0] > a[1] - a[0] ? b : a));
  const times = breaks.length === 1 ? 'once' : `${breaks.length} times`;
  return finding(
    'interrupted',
    'act',
    `The current breaks off ${times}, longest for ${((toS - fromS) * 1000).toFixed(0)} ms, and comes back with a new start. A contact opens: relay, connector, cut-off switch or ground, or the pump’s own brushes. Record the voltage at the pump with it: if that stays, it is the pump; if it falls, its feed.`,
    LIMITS.interruptionS,
    [fromS, toS],
  );
}

/** A prime lasts as long as its timer (common practice, no published source), s. */
const PRIME_S = { least: 0.8, most: 3.5 };
/** Nobody turns a key within less, s. */
const TURNS_KEY_S = 0.25;

/** Whether a run was switched on and off within the record, after about as long as a prime takes, and somebody may have turned a key then. */
function isPrime(
  run: NonNullable<RampResult['runs']>[number] | undefined,
  [fromS, toS]: readonly [number, number],
): boolean {
  if (run?.onsetS === undefined || toS - fromS < TURNS_KEY_S) return false;
  const lastsS = run.toS - run.onsetS;
  return lastsS > PRIME_S.least && lastsS < PRIME_S.most;
}

function primeThenStart([fromS, toS]: readonly [number, number]): Finding {
  return finding(
    'prime-then-start',
    'keep-in-mind',
    `The current goes off and comes back ${((toS - fromS) * 1000).toFixed(0)} ms later with a new start: so does a prime whose timer ends and an engine that is started then. If nobody turned the key meanwhile, a contact opens; record the voltage at the pump with it: if that stays, it is the pump; if it falls, its feed.`,
    LIMITS.interruptionS,
    [fromS, toS],
  );
}

/** Up to this much a clogged filter's uneven load explains; beyond it only the commutator does (common practice). */
const MOST_OF_A_FILTER = 40;

function rippleMeans(percent: number, pattern: RampResult['pattern']): string {
  if (percent <= MOST_OF_A_FILTER && pattern === 'even') {
    return "A dirty filter can do this too: don't condemn the pump on it alone.";
  }
  if (pattern === 'locked-notch' || pattern === 'burnt-bars' || pattern === 'dead-stretch') {
    return 'That much comes from the commutator, not from the filter.';
  }
  return percent <= MOST_OF_A_FILTER
    ? 'Look at where it falls before blaming filter or pump.'
    : 'No filter does this: the current breaks, at the brushes or on its way.';
}

/** Dropouts a second, for what comes at random. */
function often(count: number, { steady }: RampResult): string {
  const lengthS = steady ? steady.toS - steady.fromS : 0;
  return lengthS > 0 ? `${(count / lengthS).toFixed(count / lengthS < 10 ? 1 : 0)} a second` : `${count}`;
}

/** A starter takes less than this of a pump's current, and its first pull is over sooner (common practice, no published source). */
const LOW_SHARE = 0.6;
const LOW_S = 0.1;

/** A current that is far lower for a while, by whatever makes it so: a clamp alone can't tell which. */
function lowFinding({ steady }: RampResult, { lowsS = [] }: FindingContext): Finding | undefined {
  const lows = lowsS.filter(({ fromS, toS, share }) => share < LOW_SHARE && toS - fromS > LOW_S);
  if (!steady || lows.length === 0) return undefined;
  const longest = lows.reduce((a, b) => (b.toS - b.fromS > a.toS - a.fromS ? b : a));
  const times = lows.length === 1 ? 'once' : `${lows.length} times, longest`;
  const percent = Math.round(100 * longest.share);
  return finding(
    'current-low',
    'act',
    `The current falls ${times} for ${(longest.toS - longest.fromS).toFixed(2)} s, to ${percent} % of its usual ${steady.meanA.toFixed(1)} A: the pump has less to do, as when it runs dry or fuel passes it, or its feed or brushes carry less. Record the voltage at the pump and the pressure with it: what falls along tells which.`,
    note('A pump draws less when it has less to do, or gets less'),
    [longest.fromS, longest.toS],
  );
}

/** Longer than this no brush jumps off a bar of a pump that runs, s. */
const LONG_S = 0.01;
const isLong = ({ startS, endS }: Dropout) => endS - startS > LONG_S;
const lastsMs = ({ startS, endS }: Dropout) => ((endS - startS) * 1000).toFixed(0);
const BESIDE_VOLTS =
  'Record the voltage at the pump with it: if that stays, the brushes are off the bars; if it falls, the feed is breaking.';

function dropoutFinding(ramp: RampResult, { breaksS = [] }: FindingContext): Finding | undefined {
  const { dropouts, pattern } = ramp;
  const random = dropouts.filter((dropout) => !dropout.locked);
  const locked = dropouts.filter((dropout) => dropout.locked);
  const longest = dropouts.reduce((a, b) => (b.endS - b.startS > a.endS - a.startS ? b : a), dropouts[0]);
  switch (pattern) {
    case 'dead-stretch': {
      const lengthS = ramp.steady ? ramp.steady.toS - ramp.steady.fromS : 0;
      const deadS = locked.reduce((sum, { startS, endS }) => sum + endS - startS, 0);
      const everyTurn = lengthS > 0 && locked.length > random.length;
      return finding(
        'dead-stretch',
        'act',
        everyTurn
          ? `Through ${Math.round((100 * deadS) / lengthS)} % of every turn no current flows: the brushes meet dead bars and the rotor coasts across them. If it stops there it may not start again; a tap on the tank wakes it, which is a test and no repair.`
          : `The current is gone for ${lastsMs(longest)} ms, again and again, while the pump should run. ${BESIDE_VOLTS}`,
        note('Flat zero stretches: brushes off the bars, motor coasting on momentum'),
        [longest.startS, longest.endS],
      );
    }
    case 'brush-bounce':
      return finding(
        'brush-bounce',
        'keep-in-mind',
        `The current breaks for less than a bar's passing, ${often(random.length, ramp)}, at no fixed place of the turn: brushes that bounce, worn or on a rough commutator. Record the voltage at the pump with it: if that falls along, it is the feed.`,
        note('Random ups and downs are brush bounce or a bad connection'),
        [random[0].startS, random[0].endS],
      );
    case 'random-dropouts':
      // What breaks off and starts anew is said by itself.
      if (breaksS.length > 0) return undefined;
      if (isLong(longest)) {
        const gone = random.filter(isLong).length;
        const times = gone === 1 ? 'once' : `${gone} times, longest`;
        return finding(
          'current-gone',
          'act',
          `The current is gone ${times} for ${lastsMs(longest)} ms while the pump should run. ${BESIDE_VOLTS}`,
          note(
            'Ups and downs that don’t come with the turn are brushes or a connection; the voltage beside them tells which',
          ),
          [longest.startS, longest.endS],
        );
      }
      return finding(
        'random-dropouts',
        'keep-in-mind',
        `${random.length} dropouts, ${often(random.length, ramp)}, at no fixed place of the turn: brush bounce or a bad connection. Record the voltage at the pump together with the current to tell which.`,
        note('Random ups and downs are brush bounce or a bad connection'),
        [random[0].startS, random[0].endS],
      );
    default:
      return undefined;
  }
}

export function rampFindings(ramp: RampResult, context: FindingContext): Finding[] {
  return RULES.map((rule) => rule(ramp, context)).filter((found) => found !== undefined);
}
