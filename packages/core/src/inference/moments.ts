import { sameQuestion, type Reading } from '../evidence/reading.js';

/**
 * Splits readings into moments: within one the fault is as it is. Every key state is a moment of its own, and so is whatever
 * was asked a second time in it; what was read while the fault was away is a moment of itself, and so is what fell first: that is
 * told of the time that it happened, whatever is read in that key state before and after.
 * @returns the moment of each reading, from 0 on
 */
export function momentsOf(readings: readonly Reading[]): { readonly of: readonly number[]; readonly count: number } {
  const names = new Map<string, number>();
  const of = readings.map((reading, i) => {
    const again = readings.slice(0, i).filter((before) => sameQuestion(before, reading)).length;
    const time = reading.kind === 'fell-first' ? 'as it happened' : reading.faultPresent;
    const name = `${reading.keyState}/${time}/${again}`;
    let number = names.get(name);
    if (number === undefined) names.set(name, (number = names.size));
    return number;
  });
  return { of, count: names.size };
}
