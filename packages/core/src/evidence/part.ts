import type { Fault } from '../physics/fault.js';
import type { Snapshot } from '../physics/solve.js';
import type { Vehicle } from '../physics/vehicle.js';

/** A vehicle with a fault at the moment of a reading, and the same moment with nothing wrong. */
export interface Scene {
  readonly vehicle: Vehicle;
  readonly fault: Fault;
  readonly now: Snapshot;
  readonly sound: Snapshot;
}

/** One comparable part of a reading: a number, or one of a few answers, with what was expected of it. */
export type Part = NumberPart | AnswerPart;

export interface NumberPart {
  readonly value: number;
  /** What the model foresees of it, from any snapshot of the same moment. */
  readonly of: (now: Snapshot) => number;
  /** Spread of the instrument and of the laws that are simpler than the world. */
  readonly sd: number;
  /** Width of all that such a reading can show, for a gross error to be anywhere in. */
  readonly range: number;
}

export interface AnswerPart {
  readonly value: string;
  /** Share of each answer. */
  readonly shares: Answers;
}

export type Answers = Readonly<Record<string, number>>;

export function isAnswer(part: object): part is AnswerPart {
  return 'shares' in part;
}

/** Shares of the named answers; what is left goes to `rest`, so that they sum to one. */
export function answers(shares: Answers, rest: string): Answers {
  const sum = Object.values(shares).reduce((total, share) => total + share, 0);
  return { ...shares, [rest]: Math.max(0.005, 1 - sum) };
}

/** How far the laws may be off where a fault moves a number away from the sound one, as a share of the way. */
export function slack(of: NumberPart['of'], { now, sound }: Scene, share: number): number {
  return share * Math.abs(of(now) - of(sound));
}

export function sigmoid(x: number): number {
  return 1 / (1 + Math.exp(-x));
}
