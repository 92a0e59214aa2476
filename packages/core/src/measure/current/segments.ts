import { toBlocks, type Blocks } from '../../signal/blocks.js';
import { median, quantile } from '../../signal/levels.js';
import { rangesWhere } from '../../signal/ranges.js';
import { whichRest } from './coasting.js';
import { FASTEST_HUMPS_HZ } from './commutators.js';
import { MOST_OFFSET_A, RARE, type Explanation } from './explanation.js';
import { explain, onFloors } from './explanations.js';
import { runsThrough } from './on-throughout.js';
import { findFloors } from './floor.js';
import { offFades } from './forgets.js';
import { humpsPass } from './humps-pass.js';
import { showsZero } from './resting-level.js';
import { passesSteadyCurrent } from './steady-current.js';
import type { Run, SampleRange, Segments } from './runs.js';
import { removeMains } from '../../signal/mains.js';
import { recorderStep } from '../../signal/rounding.js';
import { withoutSpikes } from '../../signal/spikes.js';

/** Short beside a turn, long beside noise. */
const BLOCK_S = 0.001;
/** A block of fewer can’t leave its lowest and highest sample out: a spike would move it. */
const FEWEST_SAMPLES = 4;
/** A short record gets shorter blocks, so that head and tail stay apart from the rest. */
const FEWEST_BLOCKS = 40;
/** Longer records get longer blocks, so that their levels stay cheap. */
const MOST_BLOCKS = 60_000;
/** The slowest turn of a pump that still turns, 1 500 rpm: whatever is flat for longer is no part of a turn. */
const LONGEST_TURN_S = 0.04;
/** Natural logarithm of odds at which even the best explanation is none. */
const UNEXPLAINED = -30;
/** What asks for three rarities at once is further from true than an input that forgets its level, which explains any swing. */
const FAR_FETCHED = 3 * Math.log(RARE);

/**
 * Splits a raw clamp record into off and runs: zero, sign and off are found together, as the likeliest explanation of the
 * whole record. No smoothing, so edges stay where they are.
 * @param zeroStated zero was stated, and is 0 here
 */
export function findSegments(samples: Float32Array, sampleRateHz: number, zeroStated: boolean): Segments {
  const usual = Math.max(Math.round(BLOCK_S * sampleRateHz), Math.ceil(samples.length / MOST_BLOCKS));
  const size = Math.max(FEWEST_SAMPLES, Math.min(usual, Math.floor(samples.length / FEWEST_BLOCKS)));
  const stepA = recorderStep(samples);
  const blocks = noCalmerThanRounding(toBlocks(samples, size), stepA);
  const aTurn = Math.max(2, Math.ceil((LONGEST_TURN_S * sampleRateHz) / size));
  // Mains pick-up goes on whether the pump runs or not, and hides how flat an off is. A pump that turns at the mains' rate is
  // none: taking that out would put something into the off. What explains the record better is what it was.
  const floors = zeroStated ? [] : findFloors(samples, sampleRateHz);
  const cleaned = withoutMains(blocks, sampleRateHz / size);
  const views = [blocks, ...(cleaned ? [cleaned] : [])];
  const isFast = sampleRateHz > 2 * FASTEST_HUMPS_HZ;
  const blocksHz = sampleRateHz / size;
  const recorder = {
    aTurn,
    blocksHz,
    isFast,
    stepA,
    passesSteady: passesSteadyCurrent(blocks, blocksHz, MOST_OFFSET_A),
  };
  const explanations = explain(views, recorder, {
    zeroStated,
    hasFloor: floors.length > 0,
    humpsPassIn: ({ from, to } = { from: 0, to: blocks.mean.length }) =>
      humpsPass(samples.subarray(from * size, to * size), sampleRateHz),
  });
  explanations.push(...onFloors(floors, blocks, recorder, explanations));
  const taken: Taken = { samples, blocks, views, aTurn, passesSteady: recorder.passesSteady, zeroStated };
  const [likeliest, ...others] = explanations.sort((a, b) => b.logOdds - a.logOdds);
  const isNone = likeliest.draw === 0 && likeliest.logOdds < UNEXPLAINED;
  const best = isNone && recorder.passesSteady ? runsThrough(blocks) : likeliest;
  const found = segmentsBy(best, taken);
  // With a clamp that passes steady current an off doesn't fade: what does is a pump that draws less for a while, and slows down.
  const fade = (segments: Segments) => offFades(samples, sampleRateHz, segments);
  if (zeroStated || !recorder.passesSteady || !fade(found)) return found;
  const other = others.find(({ draw, off }) => draw > 0 && !off.includes(true));
  return other ? segmentsBy(other, taken) : found;
}

interface Taken {
  readonly samples: Float32Array;
  readonly blocks: Blocks;
  readonly views: readonly Blocks[];
  /** Blocks of the slowest turn. */
  readonly aTurn: number;
  readonly passesSteady: boolean;
  readonly zeroStated: boolean;
}

/** Off and runs, sample by sample, as an explanation has them. */
function segmentsBy(best: Explanation, taken: Taken): Segments {
  const { samples, blocks, views, aTurn, passesSteady, zeroStated } = taken;
  const { size } = blocks;
  const inverted = best.sign < 0;
  const { coasting = [] } = best;
  const { mean, deviation } = blocks;
  const noise = quantile(deviation, 0.1) / Math.sqrt(size);
  const seen = { course: withoutSpikes(mean), sign: best.sign, draw: best.draw, noise, aTurn };
  const widest = showsZero(rangesWhere(whichRest(best.off, coasting)), seen);
  const quiet = widest && { from: widest.from * size, to: Math.min(samples.length, widest.to * size) };
  const found = {
    ...(best.floor && { quietLevel: best.floor.level, noise: best.floor.deviation }),
    ...(widest && {
      quietLevel: zeroStated
        ? 0
        : levelOf(
            views.map(({ mean }) => mean),
            widest,
          ),
      noise: median(deviation.subarray(widest.from, widest.to)),
    }),
    ...(quiet && { quiet }),
    ...(coasting.length > 0 && { coasting: coasting.map(({ from, to }) => ({ from: from * size, to: to * size })) }),
    inverted,
    passesSteady,
  };
  if (best.draw === 0) return { ...found, runs: [], isUnexplained: best.logOdds < UNEXPLAINED };
  const threshold = Math.max(5 * (found.noise ?? 0), 0.1 * best.draw);
  const above = (i: number) => best.sign * (samples[i] - best.zero) > threshold;
  const runs = rangesWhere(best.off.map((off) => !off)).map(({ from, to }): Run => {
    const begins = from > 0;
    const ends = to < best.off.length;
    const onset = begins
      ? firstAbove(above, (from - 1) * size, Math.min(samples.length - 2, (from + 2) * size))
      : undefined;
    const off = ends ? lastAbove(above, (to - 2) * size, Math.min(samples.length, (to + 1) * size)) : undefined;
    return {
      from: onset ?? from * size,
      to: off ?? samples.length,
      ...(onset !== undefined && { onset }),
      ...(off !== undefined && { off }),
    };
  });
  return { ...found, runs: runs.filter(({ from, to }) => to > from), isUnexplained: best.logOdds < FAR_FETCHED };
}

/** No stretch is calmer than a recorder's step lets it be seen (step / sqrt(12), uniform rounding). */
function noCalmerThanRounding(blocks: Blocks, step: number): Blocks {
  return { ...blocks, deviation: blocks.deviation.map((deviation) => Math.hypot(deviation, step / Math.sqrt(12))) };
}

/** @returns the blocks without the mains' fundamental, where there is any */
function withoutMains(blocks: Blocks, blockRateHz: number): Blocks | undefined {
  const mean = Float32Array.from(blocks.mean);
  return removeMains(mean, blockRateHz, [1]) ? { ...blocks, mean: Float64Array.from(mean) } : undefined;
}

/**
 * Level of what is off, without its edges, which belong to the switching, and without spikes.
 * @param views the record's course with and without the mains: of a pump that turns at their rate taking them out would put
 * something into the off, so the flatter of the two speaks
 */
function levelOf(views: readonly Float64Array[], { from, to }: SampleRange): number {
  const edge = Math.floor(0.08 * (to - from));
  const [flattest] = views
    .map((mean) => {
      const inner = mean.slice(from + edge, to - edge).sort();
      const spikes = Math.floor(0.1 * inner.length);
      const kept = inner.subarray(spikes, inner.length - spikes);
      return {
        spread: kept[kept.length - 1] - kept[0],
        level: kept.reduce((sum, value) => sum + value, 0) / kept.length,
      };
    })
    .sort((a, b) => a.spread - b.spread);
  return flattest.level;
}

function firstAbove(above: (i: number) => boolean, from: number, to: number): number {
  for (let i = Math.max(0, from); i < to; i++) if (above(i) && above(i + 1) && above(i + 2)) return i;
  return Math.max(0, from);
}

function lastAbove(above: (i: number) => boolean, from: number, to: number): number {
  for (let i = to - 1; i > Math.max(2, from); i--) if (above(i) && above(i - 1) && above(i - 2)) return i + 1;
  return to;
}
