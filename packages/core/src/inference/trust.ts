import { sameQuestion, type Reading } from '../evidence/reading.js';

/** Share of readings that are slips, by trust (common practice, no published source). */
export const GROSS: Readonly<Record<NonNullable<Reading['trust']>, number>> = { high: 0.004, normal: 0.015, low: 0.2 };
/** What an earlier reading of the same thing still weighs beside a repeat that agrees, and how likely it was a slip. */
const SUPERSEDED = 0.5;
const SUPERSEDED_GROSS = 0.05;

/**
 * A repeat supersedes what was read before; both stay. One that agrees says the same thing twice, so the earlier counts less;
 * one that differs makes a slip of the earlier likely, or shows that the fault comes and goes.
 */
export function trustOf(reading: Reading, later: readonly Reading[]): { gross: number; share: number } {
  const repeats = later.filter((other) => sameQuestion(reading, other));
  const own = GROSS[reading.trust ?? 'normal'];
  if (repeats.length === 0) return { gross: own, share: 1 };
  const agreeing = repeats.filter((other) => agree(reading.value, other.value)).length;
  return { gross: Math.max(own, SUPERSEDED_GROSS), share: SUPERSEDED ** agreeing };
}

/** Two values of one question that differ by no more than people and instruments do. */
function agree(a: Reading['value'], b: Reading['value']): boolean {
  if (typeof a === 'number' && typeof b === 'number') {
    return Math.abs(a - b) <= Math.max(AGREE_LEAST, AGREE_SHARE * Math.abs(b));
  }
  return typeof a !== 'number' && typeof b !== 'number' && (typeof a === 'object' || a === b);
}

const AGREE_LEAST = 0.1;
const AGREE_SHARE = 0.05;
