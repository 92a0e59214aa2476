import { LIMITS } from '../limits/limits.js';
import { meanOf, median } from '../signal/levels.js';
import { findLines, welchSpectrum, type Line } from '../signal/spectrum.js';
import { humpsForBars, shareOfHumps, shareOfSpeed } from './commutators.js';
import { humpOrder, meanPattern } from './hump-order.js';
import { toOrder, type OrderSignal } from './order.js';
import { trackPhase, type PhaseTrack } from './phase-track.js';
import { likenessOf, weighTurns, type Likeness } from './turn-evidence.js';

export type Basis = 'measured' | 'given' | 'assumed';

/** A reading of the humps that isn't ruled out. */
export interface Alternative {
  readonly rpm: number;
  readonly perRevolution: number;
  readonly confidence: number;
}

/** How the humps make up a revolution. */
export interface Revolution {
  readonly basis: Basis;
  readonly perRevolution: number;
  /** Probability that turn and count are right, 0..1. */
  readonly confidence: number;
  /** The next likely readings, the likeliest first. */
  readonly alternatives: readonly Alternative[];
  /** Frequency of the line that was followed, Hz, and how many of its cycles make a turn. */
  readonly lineHz: number;
  readonly linePerRevolution: number;
  /** The line's phase through the stretch that was searched. */
  readonly track: PhaseTrack;
  /** A bar count was given and the pattern contradicts it. */
  readonly contradictsGiven: boolean;
}

/** Why a record shows no revolution, with what to do about it. */
export interface Untold {
  readonly untold: string;
}

/** From a notch a turn of a slow pump to the humps of a fast twelve-bar pump, with room either side. */
const LOWEST_LINE_HZ = 40;
const HIGHEST_LINE_HZ = 4300;
const SEGMENT_S = 0.2;
const SEGMENTS = 16;
const LINES_TRIED = 8;
const LEAST_PROMINENCE = 10;
const SINGLE_SEGMENT = 15;
const SMEAR = 0.03;
/** Windows that part a line from its neighbours one shaft rate (57 Hz and more) away. */
const COARSE_WINDOW_S = 0.04;
const FINE_WINDOW_S = 0.06;
const POINTS_A_CYCLE = 8;
/** Enough to count 26 humps in a pattern. */
const POINTS_A_PATTERN = 156;
const MOST_CYCLES = 26;
/** A line that follows the angle nearly as well as the best does. */
const AS_WELL = 0.9;
/** Likelier than all others together, or it isn't assumed either. */
const ASSUMED = 0.5;
/** Plain humps say little of their number where no turn stands out: another count than the usual has to be this likely. */
const ASSUMED_OTHER = 0.8;
/** Certain enough to be called measured; what is less likely than this is no alternative either. */
const MEASURED = 0.95;
const RULED_OUT = 0.02;
/** Readings this much less likely (natural logarithm) aren't looked at further. */
const FAR_BEHIND = 14;
/** A motor whose two brushes can't be told apart, so that half a turn is like the other: one in ten (no published source). */
const LIKE_BRUSHES = 0.1;
/** Peak to peak of a line as a share of the draw: sound humps are a small part, deeper ones are notches. */
const HIGHEST_HUMP = 0.2;
const DEEPEST_HUMP = 0.4;
/** Two counts that fit a pattern alike. */
const UNPLAIN = 0.6;
/** Shares of humps a turn with a count that was given; people miscount. */
const GIVEN_RIGHT = 0.97;
const HUMP_COUNTS: readonly number[] = [5, 6, 7, 8, 9, 10, 11, 12, 14, 16, 18, 20, 22, 24, 26];

/** The steady current in which a turn is looked for. */
export interface Stretch {
  readonly samples: Float32Array;
  readonly sampleRateHz: number;
}

interface Followed {
  readonly line: Line;
  readonly lineHz: number;
  readonly track: PhaseTrack;
  readonly order: OrderSignal;
  readonly likeness?: Likeness;
  /** The most that the current is like itself at any lag. */
  readonly top: number;
}

/**
 * Finds the humps and the revolution in a stretch of steady current: along the line that follows the rotor's angle best,
 * every possible turn is weighed by the current's likeness to itself (docs/measuring.md, "The turn").
 * @returns why not, when no line stands out, or deep notches leave it open what is a turn
 */
export function findRevolution(stretch: Stretch, givenBars: number | undefined): Revolution | Untold {
  const { samples, sampleRateHz } = stretch;
  const segment = Math.min(samples.length, Math.round(SEGMENT_S * sampleRateHz));
  const spectrum = welchSpectrum(withoutMean(samples), sampleRateHz, segment, SEGMENTS);
  const lines = findLines(spectrum, LOWEST_LINE_HZ, Math.min(HIGHEST_LINE_HZ, 0.47 * sampleRateHz), 400)
    .filter((line) => line.prominence >= leastProminence(samples.length / segment))
    .filter((line, i, all) => !all.slice(0, i).some((stronger) => isSameLine(stronger, line)))
    .slice(0, LINES_TRIED);
  if (lines.length === 0) {
    return {
      untold: `no hump rate stands out of the noise (${Math.round(sampleRateHz)} samples a second); use a smaller clamp range, a faster time base and 10 kHz bandwidth or more`,
    };
  }
  const folded = foldedShare(lines, sampleRateHz);
  const followed = lines.map((line) => follow(samples, sampleRateHz, line, folded));
  const share = humpShare(followed[0].track, samples);
  const best = bestFollowed(followed);
  const read = best && readings(stretch, best, best === followed[0] ? share : 1, givenBars);
  const [first, ...others] = read ?? [];
  const usual = humpsForBars(givenBars ?? LIMITS.usualBars.value);
  const assumed = first && (first.humps === usual || share >= HIGHEST_HUMP) ? ASSUMED : ASSUMED_OTHER;
  if (best && first && first.confidence >= assumed) {
    const given = givenBars === undefined ? undefined : humpsForBars(givenBars);
    const measured = first.confidence >= MEASURED && (given === undefined || first.byData >= MEASURED);
    return {
      basis: measured ? 'measured' : given === undefined ? 'assumed' : 'given',
      perRevolution: first.humps,
      confidence: first.confidence,
      alternatives: others
        .filter(({ confidence }) => confidence >= RULED_OUT)
        .map(({ cycles, humps, confidence }) => ({
          rpm: (60 * best.lineHz) / cycles,
          perRevolution: humps,
          confidence,
        })),
      lineHz: best.lineHz,
      linePerRevolution: first.cycles,
      track: best.track,
      contradictsGiven: measured && given !== undefined && given !== first.humps,
    };
  }
  // Among notches without a turn nobody knows which line is the humps.
  if (share > DEEPEST_HUMP) {
    return {
      untold:
        'deep notches pass, and nothing parts a whole turn from a part of it, or humps from notches; capture longer, or give the bar count',
    };
  }
  return byCount(followed[0], givenBars);
}

/** The turn by a bar count, given or usual; an assumption that would make an impossible pump is not made. */
function byCount({ line, lineHz, track }: Followed, givenBars: number | undefined): Revolution | Untold {
  const bars = givenBars ?? LIMITS.usualBars.value;
  const perRevolution = humpsForBars(bars);
  const rpm = (60 * lineHz) / perRevolution;
  if (givenBars === undefined && shareOfSpeed(rpm) < RULED_OUT) {
    return {
      untold: `the bars are too alike for the revolution to show, and the usual ${bars} bars would make it ${Math.round(rpm)} rpm, which no pump turns; give the bar count`,
    };
  }
  return {
    basis: givenBars === undefined ? 'assumed' : 'given',
    perRevolution,
    confidence: 1 - LEAST_PROMINENCE / (LEAST_PROMINENCE + line.prominence),
    alternatives: [],
    lineHz,
    linePerRevolution: perRevolution,
    track,
    contradictsGiven: false,
  };
}

/** A drifting speed smears one line into several; the nearest true neighbour is a 26th away. */
function isSameLine(a: Line, b: Line): boolean {
  return Math.abs(a.hz / b.hz - 1) < SMEAR;
}

/** Noise alone throws up higher peaks the fewer segments are averaged. */
function leastProminence(segments: number): number {
  return LEAST_PROMINENCE + SINGLE_SEGMENT / Math.max(1, segments);
}

/** Peak to peak of a line as a share of the draw. */
function humpShare({ amplitude }: PhaseTrack, samples: Float32Array): number {
  return (2 * median(amplitude)) / Math.abs(meanOf(samples));
}

function withoutMean(samples: Float32Array): Float32Array {
  const mean = meanOf(samples);
  return samples.map((value) => value - mean);
}

/**
 * Share of the power that sampling folds back. Humps come to a cusp, so that their harmonics fall as 1/k^2 and their powers
 * as 1/k^4; beyond half of s samples a hump lies the sum of them, (8/3) / s^3 of the first.
 */
function foldedShare(lines: readonly Line[], sampleRateHz: number): number {
  const all = lines.reduce((sum, { power }) => sum + power, 0);
  return lines.reduce((sum, { power, hz }) => sum + (power / all) * (8 / 3) * (hz / sampleRateHz) ** 3, 0);
}

function follow(samples: Float32Array, sampleRateHz: number, line: Line, folded: number): Followed {
  const coarse = trackPhase(samples, sampleRateHz, line.hz, COARSE_WINDOW_S * line.hz);
  const hops = coarse.at.length;
  const lineHz =
    hops > 2
      ? (sampleRateHz * (coarse.cycles[hops - 1] - coarse.cycles[0])) / (coarse.at[hops - 1] - coarse.at[0])
      : line.hz;
  const long = samples.length / sampleRateHz > 3 * FINE_WINDOW_S;
  const track = long ? trackPhase(samples, sampleRateHz, lineHz, FINE_WINDOW_S * lineHz) : coarse;
  const order = toOrder(samples, track, POINTS_A_CYCLE);
  const likeness = likenessOf(order, folded);
  const top = likeness ? Math.max(...likeness.at.subarray(1)) : 0;
  return { line, lineHz, track, order, ...(likeness && { likeness }), top };
}

/**
 * The line that tells the angle best: along a line of the rotor the current comes back to itself, along any other (mains,
 * ignition) it doesn't. Of those that do, the sharpest: strong, and of a high order.
 */
function bestFollowed(followed: readonly Followed[]): Followed | undefined {
  const told = followed.filter(({ likeness }) => likeness);
  const most = Math.max(...told.map(({ top }) => top));
  const sharpness = ({ line }: Followed) => line.power * line.hz ** 2;
  return told
    .filter(({ top }) => top >= AS_WELL * most)
    .reduce<Followed | undefined>((a, b) => (a && sharpness(a) >= sharpness(b) ? a : b), undefined);
}

interface Read {
  readonly cycles: number;
  readonly humps: number;
  readonly confidence: number;
  /** The same without the count that was given. */
  readonly byData: number;
}

/** Every possible turn along a line with its posterior probability, the likeliest first. */
function readings(
  { samples }: Stretch,
  { lineHz, likeness, track }: Followed,
  lineShare: number,
  givenBars: number | undefined,
): Read[] {
  if (!likeness) return [];
  const every = Array.from({ length: MOST_CYCLES }, (_, i) => i + 1);
  const evidence = new Map(weighTurns(likeness, every).map(({ cycles, log }) => [cycles, log]));
  const possible = every.filter((cycles) => evidence.has(cycles) && shareOfSpeed((60 * lineHz) / cycles) > 0);
  const logs = possible.map((cycles) => {
    const half = cycles % 2 === 0 ? evidence.get(cycles / 2) : undefined;
    const own = evidence.get(cycles) ?? -Infinity;
    // Where half a turn is like the other, the likeness repeats after half of it.
    return half === undefined ? own : Math.max(own + Math.log(1 - LIKE_BRUSHES), half + Math.log(LIKE_BRUSHES));
  });
  const most = Math.max(...logs);
  const given = givenBars === undefined ? undefined : humpsForBars(givenBars);
  const weighed = possible.flatMap((cycles, i) => {
    if (logs[i] < most - FAR_BEHIND) return [];
    const humps = countHumps(samples, track, cycles, lineShare);
    const byData = Math.exp(logs[i] - most) * shareOfSpeed((60 * lineHz) / cycles) * shareOfHumps(humps);
    const fits = given === undefined ? 1 : humps === given ? GIVEN_RIGHT : (1 - GIVEN_RIGHT) * shareOfHumps(humps);
    const plain = given === undefined ? byData : (byData / shareOfHumps(humps)) * fits;
    return [{ cycles, humps, byData, plain }];
  });
  const sum = (values: readonly number[]) => values.reduce((total, value) => total + value, 0) || 1;
  const ofData = sum(weighed.map(({ byData }) => byData));
  const ofAll = sum(weighed.map(({ plain }) => plain));
  return weighed
    .map(({ byData, plain, ...read }) => ({ ...read, confidence: plain / ofAll, byData: byData / ofData }))
    .sort((a, b) => b.confidence - a.confidence);
}

/** Humps in a turn of so many cycles: the cycles themselves, unless the line is deeper than humps are. */
function countHumps(samples: Float32Array, track: PhaseTrack, cycles: number, lineShare: number): number {
  if (lineShare < HIGHEST_HUMP && cycles > 1) return cycles;
  const points = Math.max(POINTS_A_CYCLE, Math.ceil(POINTS_A_PATTERN / cycles));
  const pattern = meanPattern(toOrder(samples, track, points), cycles);
  const counted = humpOrder(pattern, HUMP_COUNTS);
  const mayBeHumps = lineShare < DEEPEST_HUMP && cycles % 2 === 0 && cycles > 4;
  return mayBeHumps && counted.certainty < UNPLAIN ? cycles : counted.perPattern;
}
