import type { Question } from '../inference/question.js';

/** Something that a verdict rests on: met or not, in plain words. */
export interface Proof {
  readonly met: boolean;
  readonly text: string;
  /** Readings that met it, or that it is judged by. */
  readonly from?: readonly string[];
  /** What to ask so that it may be met, the readiest first. */
  readonly asks?: readonly Question[];
  /** A reading to be taken again. */
  readonly again?: string;
  /** Any test will do that the suspect would answer otherwise than a sound vehicle. */
  readonly asksAnything?: boolean;
}

export const met = (text: string, from: readonly string[] = []): Proof => ({ met: true, text, from });
export const missing = (
  text: string,
  asks: readonly Question[] = [],
  from: readonly string[] = [],
  again?: string,
): Proof => ({ met: false, text, asks, from, ...(again !== undefined && { again }) });
