import { meanOf, quantile } from '../../signal/levels.js';
import { mayBeMains } from '../../signal/mains.js';
import { findLines, welchSpectrum, type Line } from '../../signal/spectrum.js';
import { coherenceOf, type Asked } from './coherence.js';
import { FASTEST_HUMPS_HZ, humpsForBars, isKnownCount, shareOfHumpRate, shareOfSpeed } from './commutators.js';
import { followLines, SAME_RATE } from './follow-lines.js';
import { pointsFor } from './order.js';
import { byOwnLines, RULED_OUT } from './own-lines.js';
import type { PhaseTrack } from './phase-track.js';
import { DEEPEST_HUMP, FEWEST_HUMPS, weighReadings, type Followed, type KnownCount, type Stretch } from './readings.js';

/** What a speed rests on: seen in the current itself, a bar count that was given, or a usual one that is assumed. */
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
  /** Humps so faint that an alternator's are as strong: whose they are is likely at best. */
  readonly isFaint: boolean;
  /** A bar count was given and the pattern contradicts it. */
  readonly contradictsGiven: boolean;
}

/** What a run says of the humps in a turn. */
export type Counted = Pick<Revolution, 'perRevolution' | 'confidence' | 'alternatives'>;

/** Why a record shows no revolution, with what to do about it. */
export interface Untold {
  readonly untold: string;
}

/** A notch a turn of a slow pump, with room. */
const LOWEST_LINE_HZ = 40;
/** Natural logarithm of the highest line that is looked for by the lowest. */
export const FOLLOWED_BAND = Math.log(FASTEST_HUMPS_HZ / LOWEST_LINE_HZ);
const SEGMENT_S = 0.2;
const SEGMENTS = 16;
const LINES_TRIED = 8;
const LEAST_PROMINENCE = 10;
const SINGLE_SEGMENT = 15;
const SMEAR = 0.03;
/** A line that comes so often a turn has its neighbours, slow drift and the mains far enough away to be followed through anything. */
export const FEWEST_A_TURN = 4;
/** The current comes back to itself along it nearly as well. */
const AS_STEADY = 0.7;
/** Among deep notches a reading has to be this likely to be worth a word. */
const LEAST_TOLD = 0.35;
/** Certain enough to be called measured. */
const MEASURED = 0.99;
/** Sampled less often a hump's own harmonics are folded back among the rotor's lines, and may make a turn of their own. */
const FEWEST_SAMPLES_A_HUMP = 4;
/**
 * A sound pump's humps are some 4 to 20 % of its draw (common practice, no published source). Beside fainter ones an alternator,
 * or whatever else moves the feed, is as strong.
 */
const FAINTEST_HUMP = 0.015;
const LOST_HOPS = 0.05;
/** The mains' own line and what a lead picks up of their harmonics. */
const MAINS_LINES = 3;
/** Fewer turns than this don't show how much one may differ from the next, however alike they look. */
const FEWEST_TURNS = 8;

/**
 * Finds the humps and the revolution in a stretch of steady current: along the line that follows the rotor's angle best,
 * every possible turn is weighed by the current's likeness to itself (docs/measuring.md, "The turn").
 * @returns why not, when no line stands out, or deep notches leave it open what is a turn
 */
export function findRevolution(stretch: Stretch, known: KnownCount): Revolution | Untold {
  const { samples, sampleRateHz, gaps } = stretch;
  const segment = Math.min(samples.length, Math.round(SEGMENT_S * sampleRateHz));
  const spectrum = welchSpectrum(withoutMean(samples), sampleRateHz, segment, SEGMENTS);
  const lines = findLines(spectrum, LOWEST_LINE_HZ, Math.min(FASTEST_HUMPS_HZ, 0.47 * sampleRateHz), 400)
    .filter((line) => line.prominence >= leastProminence(samples.length / segment))
    .filter((line, i, all) => !all.slice(0, i).some((stronger) => isSameLine(stronger, line)))
    .slice(0, LINES_TRIED);
  if (lines.length === 0) {
    return {
      untold: `no hump rate stands out of the noise (${Math.round(sampleRateHz)} samples a second); use a smaller clamp range, a faster time base and 10 kHz bandwidth or more`,
    };
  }
  const { followed, best, share } = followLines(stretch, lines);
  const { readings, spoilt } = weighReadings(stretch, best, best.line === lines[0] ? share : 1, known);
  const rangeOf = (cycles: number) => rangeOfRate(best.track, sampleRateHz / cycles);
  const notOwn = (cycles: number) => (mayBeMains(rangeOf(cycles), samples.length / sampleRateHz) ? MAINS_LINES : 0);
  const coherent = (cycles: number, asked: Asked = {}) =>
    coherenceOf(best.byAngle(pointsFor(cycles)), cycles, { notOwn: notOwn(cycles), ...asked }) === 'stays';
  // Twice as long a stretch, which may be a turn, has lines that this doesn't have.
  const isHalf = (cycles: number) => shareOfSpeed((60 * best.lineHz) / cycles / 2) > 0 && coherent(2 * cycles);
  const hasOwn = (cycles: number, least: number) => coherent(cycles, { least });
  const read = byOwnLines(readings, hasOwn, isHalf, gaps !== undefined);
  const agreed = read.findIndex(({ humps }) => humps === known.likelyHumps);
  const first = read.at(Math.max(0, agreed));
  const others = read.filter((reading) => reading !== first);
  // Among notches without a turn nobody knows which line is the humps.
  if (share > DEEPEST_HUMP && !(first && first.confidence >= LEAST_TOLD)) {
    return {
      untold:
        'deep notches pass, and nothing parts a whole turn from a part of it, or humps from notches; capture longer, or give the bar count',
    };
  }
  if (!first || first.humps < FEWEST_HUMPS) {
    return {
      untold: `humps pass ${Math.round(best.lineHz)} times a second, which makes no speed that a pump turns at with any usual number of bars; give the bar count`,
    };
  }
  const given = known.bars === undefined ? undefined : humpsForBars(known.bars);
  const isFaint = share < FAINTEST_HUMP;
  const turns = ((samples.length / sampleRateHz) * best.lineHz) / first.cycles;
  const humpHz = (best.lineHz * first.humps) / first.cycles;
  // Many turns can outweigh how rare a count is; but what fits no motor rather has another cause than the rotor.
  const measured =
    turns >= FEWEST_TURNS &&
    first.isCounted &&
    isKnownCount(first.humps) &&
    first.confidence >= MEASURED &&
    !mayBeFolded(humpHz, sampleRateHz) &&
    humpHz <= sampleRateHz / FEWEST_SAMPLES_A_HUMP &&
    !isFaint &&
    // What a step without noise makes of the rotor's own lines wanders too, as its level drifts.
    !(spoilt && stretch.recurring > 0) &&
    coherent(first.cycles, { humps: first.humps }) &&
    !isHalf(first.cycles) &&
    (given === undefined || first.byData >= MEASURED);
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
    ...steadiest(followed, best, first.cycles),
    isFaint,
    contradictsGiven: measured && given !== undefined && given !== first.humps,
  };
}

/** Lowest and highest rate of a line from hop to hop, Hz, without the hops in which it was lost for a moment. */
function rangeOfRate({ at, cycles }: PhaseTrack, perCycleHz: number): readonly [number, number] {
  const rates = at.subarray(1).map((sample, i) => ((cycles[i + 1] - cycles[i]) / (sample - at[i])) * perCycleHz);
  return [quantile(rates, LOST_HOPS), quantile(rates, 1 - LOST_HOPS)];
}

/**
 * The line to follow through the whole run. One that comes once or twice a turn lies between others a shaft rate away, and slow
 * drift, and is lost where it grows faint: where a line of many a turn was followed as well, that one.
 */
function steadiest(
  followed: readonly Followed[],
  best: Followed,
  cycles: number,
): Pick<Revolution, 'lineHz' | 'linePerRevolution' | 'track'> {
  const orderOf = ({ lineHz }: Followed) => (lineHz / best.lineHz) * cycles;
  const finer = followed
    .filter((one) => {
      const order = Math.round(orderOf(one));
      return (
        order >= FEWEST_A_TURN && Math.abs(orderOf(one) / order - 1) < SAME_RATE && one.top >= AS_STEADY * best.top
      );
    })
    .reduce<Followed | undefined>((a, b) => (a && a.line.power >= b.line.power ? a : b), undefined);
  if (cycles >= FEWEST_A_TURN || !finer) return { lineHz: best.lineHz, linePerRevolution: cycles, track: best.track };
  return { lineHz: finer.lineHz, linePerRevolution: Math.round(orderOf(finer)), track: finer.track };
}

/**
 * Whether humps that pass faster than half the sampling rate may as well be folded back to these: a recorder that slow shows
 * r - f for f, and where so many samples make whole turns, a slower rotor altogether. The rarer such humps are beside those
 * that are read, the less.
 */
function mayBeFolded(humpHz: number, sampleRateHz: number): boolean {
  const folded = shareOfHumpRate(sampleRateHz - humpHz) + shareOfHumpRate(sampleRateHz + humpHz);
  return folded > (1 - MEASURED) * shareOfHumpRate(humpHz);
}

/** A drifting speed smears one line into several; the nearest true neighbour is a 26th away. */
function isSameLine(a: Line, b: Line): boolean {
  return Math.abs(a.hz / b.hz - 1) < SMEAR;
}

/** Noise alone throws up higher peaks the fewer segments are averaged. */
function leastProminence(segments: number): number {
  return LEAST_PROMINENCE + SINGLE_SEGMENT / Math.max(1, segments);
}

function withoutMean(samples: Float32Array): Float32Array {
  const mean = meanOf(samples);
  return samples.map((value) => value - mean);
}
