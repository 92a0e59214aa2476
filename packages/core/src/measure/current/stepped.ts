import { toBlocks } from '../../signal/blocks.js';
import { median, quantile } from '../../signal/levels.js';
import { plateausOf } from '../../signal/plateaus.js';
import { humpsPass } from './humps-pass.js';
import type { SampleRange } from './runs.js';

/** A pump that runs at several levels of current one after the other. */
export interface SteppedRunning {
  /** In order, without the ways between them. */
  readonly levels: readonly SampleRange[];
  /** What the clamp shows where the pump is off; absent where the record shows it nowhere. */
  readonly offLevel?: number;
}

/** The course of the current in parts of three of the slowest turns and more. */
const PART_S = 0.1;
/** A level that lasts as long as a prime's shortest; shorter ones are how a rotor hesitates. */
const LEAST_S = 0.5;
/** Off may be shorter: a key that is turned while the recorder runs. */
const OFF_PART_S = 0.02;
const LEAST_OFF_S = 0.1;
/** Of the highest level: a pump's own draw wanders by some per cent at one speed. */
const STEPPED = 0.12;
const LEAST_APART = 0.04;
const LEAST_TOLERANCE = 0.02;
/** Of the lowest level at which humps pass: at the next lower speed noise may hide them, and that is no off. */
const OFF_SHARE = 0.45;
/** Beside the liveliest level: what is picked up from elsewhere while the pump is off is weaker. */
const RUNS_SHARE = 0.2;
const LIVELY_S = 0.005;

/**
 * Whether the pump changes its level within the record while it runs: by a second speed, a stepped command, an engine that
 * comes up. Humps pass at each of its levels, which no off part shows; and each stands still, which no input that forgets its
 * level lets it. Taken for one steady current, the lowest of them passes for off, and the steps for bars.
 * @returns undefined for a pump with one level
 */
export function findSteppedRunning(samples: Float32Array, sampleRateHz: number): SteppedRunning | undefined {
  const seen = levelsIn(samples, sampleRateHz, PART_S, LEAST_S);
  if (seen.length < 2) return undefined;
  const liveliest = Math.max(...seen.map((one) => one.activity));
  const running = seen.filter(({ passes, activity }) => passes && activity > RUNS_SHARE * liveliest);
  if (running.length < 2) return undefined;
  const sizes = running.map(({ level }) => Math.abs(level));
  const least = Math.min(...sizes);
  if (Math.max(...sizes) - least < STEPPED * Math.max(...sizes)) return undefined;
  const off = levelsIn(samples, sampleRateHz, OFF_PART_S, LEAST_OFF_S).filter(
    ({ passes, level }) => !passes && Math.abs(level) < OFF_SHARE * least,
  );
  return {
    levels: running.map(({ from, to }) => ({ from, to })),
    ...(off.length > 0 && { offLevel: median(off.map(({ level }) => level)) }),
  };
}

interface Level extends SampleRange {
  readonly level: number;
  /** Where it is liveliest: of a slow turn with one bad bar most is calm. */
  readonly activity: number;
  /** Humps pass. */
  readonly passes: boolean;
}

/** Stretches that stand still, with what passes in them. */
function levelsIn(samples: Float32Array, sampleRateHz: number, partS: number, leastS: number): Level[] {
  const size = Math.round(partS * sampleRateHz);
  if (size < 2) return [];
  const { mean } = toBlocks(samples, size);
  if (mean.length < 2) return [];
  // Whichever way the clamp sits, and without the first peak.
  const highest = quantile(mean.map(Math.abs), 0.9);
  const plateaus = plateausOf(mean, {
    leastTolerance: LEAST_TOLERANCE * highest,
    leastApart: LEAST_APART * highest,
    fewest: Math.ceil(leastS / partS),
  });
  return plateaus.map(({ from, to, level }) => {
    const range = { from: from * size, to: Math.min(samples.length, to * size) };
    const part = samples.subarray(range.from, range.to);
    const { deviation } = toBlocks(part, Math.max(8, Math.round(LIVELY_S * sampleRateHz)));
    return { ...range, level, activity: quantile(deviation, 0.9), passes: humpsPass(part, sampleRateHz) };
  });
}
