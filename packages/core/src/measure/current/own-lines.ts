import { FEWEST_OWN } from './coherence.js';
import type { Reading } from './readings.js';

/** Less likely readings are no alternatives. */
export const RULED_OUT = 0.02;
/** By chance a line stays that only two turns have in one of so many (seen in one of 193 drawn records). */
const BY_CHANCE = 100;

/**
 * What likenesses with their scatter hardly part the mean of all turns does: a turn has lines that stay in it and that no part of it
 * has. Where a stretch has such lines its parts are no turns, and it may be one itself, or the half of one whose halves are alike.
 *
 * @param coherent whether so many cycles have so many lines of their own, or more, that stay
 * @param isHalf whether twice as many have one; of the likeliest turn's double, whose other lines are alike, one is enough
 * @param isBridged something was put into gaps that come at random. That is no noise whose chances are known: then only a turn whose
 *   halves are nearly alike is asked for
 */
export function byOwnLines(
  readings: readonly Reading[],
  coherent: (cycles: number, least: number) => boolean,
  isHalf: (cycles: number) => boolean,
  isBridged: boolean,
): readonly Reading[] {
  const isDouble = (cycles: number) => cycles === 2 * readings[0].cycles;
  const isLikely = ({ confidence }: Reading) => !isBridged && confidence * BY_CHANCE >= RULED_OUT;
  const staying = readings
    .filter((one) => isDouble(one.cycles) || isLikely(one))
    .map(({ cycles }) => cycles)
    .filter((cycles) => coherent(cycles, isDouble(cycles) ? 1 : FEWEST_OWN));
  const wholes = staying.filter(
    (cycles) => !isHalf(cycles) && !staying.some((longer) => longer > cycles && longer % cycles === 0),
  );
  const isWhole = (cycles: number) => wholes.includes(cycles);
  const odds = ({ cycles }: Reading) =>
    isWhole(cycles) || (!staying.includes(cycles) && isWhole(cycles / 2)) ? BY_CHANCE : 1;
  const sumOf = (by: (of: Reading) => number) => readings.reduce((sum, one) => sum + odds(one) * by(one), 0);
  const [all, byData] = [sumOf(({ confidence }) => confidence), sumOf((one) => one.byData)];
  return readings
    .map((one) => ({
      ...one,
      confidence: (odds(one) * one.confidence) / all,
      byData: (odds(one) * one.byData) / byData,
    }))
    .sort((one, other) => other.confidence - one.confidence);
}
