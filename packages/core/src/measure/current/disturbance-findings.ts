import { finding, LIMITS, type Finding } from '../../limits/limits.js';
import { note, type FindingContext, type Rule } from './finding-context.js';
import type { RampResult } from './types.js';

/** A rotor that comes to stand while it is fed. */
export const stallFinding: Rule = (_, { stallsS = [] }) => {
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
};

/** A starter takes less than this of a pump's current, and its first pull is over sooner (common practice, no published source). */
const LOW_SHARE = 0.6;
const LOW_S = 0.1;

/** A current that is far lower for a while, by whatever makes it so: a clamp alone can't tell which. */
export function lowFinding({ steady }: RampResult, { lowsS = [] }: FindingContext): Finding | undefined {
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

/** A control unit powers the pump again as soon as it sees the engine turn (common practice, no published source), s. */
const SEES_TURN_S = 0.5;

/**
 * Runs that follow one another too closely for anybody to have turned the key, which is what was done where the engine is
 * cranked then: the prime was over, and the start brings the pump back.
 */
export function interruptionFinding(
  { runs = [] }: RampResult,
  { breaksS = [], cranksS = [], stallsS = [] }: FindingContext,
): Finding | undefined {
  const gaps = [...runs.slice(1).map((run, i) => [runs[i].toS, run.fromS] as const), ...breaksS];
  const isStart = (fromS: number, toS: number) =>
    cranksS.some(([begins]) => begins > fromS && Math.abs(toS - begins) < SEES_TURN_S);
  const stands = (fromS: number, toS: number) => stallsS.some(([begins, ends]) => begins < toS && ends > fromS);
  const breaks = gaps.filter(
    ([fromS, toS]) => toS - fromS < LIMITS.interruptionS.value && !isStart(fromS, toS) && !stands(fromS, toS),
  );
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

/** A pump that drives its current back once its feed is cut: nothing is wrong with that, and the zero isn't there. */
export const coastingFinding: Rule = ({ zeroOffsetA }, { coasting }) =>
  coasting &&
  finding(
    'coasting',
    'info',
    `As the feed is cut, ${coasting.backA.toFixed(1)} A flow backwards and fade: the pump coasts, and another consumer behind the same contact takes what it generates. ${zeroOffsetA === undefined ? 'It doesn’t come to rest within the record, so that shows no zero of the clamp.' : 'The clamp’s zero is where that comes to rest.'}`,
    note('A motor that coasts is a generator'),
    [coasting.fromS, coasting.toS],
  );

/** Few enough to see each, and enough to see that they are alike. */
const CYCLES_SHOWN = 4;

/** A current that a driver switches: no fault, and not the pump's own current. */
export const switchedFinding: Rule = (_, { switched }) =>
  switched &&
  finding(
    'switched',
    'info',
    `A driver lets the current flow for ${(100 * switched.onShare).toFixed(0)} % of the time, ${switched.frequencyHz.toFixed(0)} times a second. The mean is what the battery gives; the pump’s own current flows on in between.`,
    note('A driver’s clock knows nothing of the humps'),
    [switched.atS, switched.atS + CYCLES_SHOWN / switched.frequencyHz],
  );
