import type { Random } from '../signal/random.js';

/** One record's draws. */
export interface Draws {
  readonly random: Random;
  readonly between: (low: number, high: number) => number;
  readonly pick: <T>(choices: readonly T[]) => T;
}

export function drawsOf(random: Random): Draws {
  return {
    random,
    between: (low, high) => low + (high - low) * random.uniform(),
    pick: (choices) => choices[Math.min(choices.length - 1, Math.floor(random.uniform() * choices.length))],
  };
}
