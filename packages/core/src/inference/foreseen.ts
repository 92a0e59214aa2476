import type { NumberPart, Part } from '../evidence/part.js';
import type { Snapshot } from '../physics/solve.js';
import type { Row } from './laplace.js';

/** A reading under one severity: its numbers as rows, and the log share of its answers. */
export interface Foreseen {
  readonly answers: number;
  /** Log likelihood at a glance: generous, and without a row worked out. */
  readonly glance: number;
  /** Worked out when first asked for: most hypotheses fall at a glance. */
  readonly rows: () => readonly Row[];
  /** Log likelihood by itself, with nothing known of the unknowns. */
  readonly alone: () => number;
}

/** No likelihood of an answer counts for more than this. */
const LEAST_SHARE = 0.003;
/** What a glance grants every number beside its own spread: vehicles of one kind differ by this share. */
const GRANTED = 0.15;

export function logAnswer({ value, shares }: Extract<Part, { shares: unknown }>, gross: number): number {
  const count = Object.keys(shares).length + 1;
  return Math.log((1 - gross) * (shares[value] ?? LEAST_SHARE) + gross / count);
}

export function glanceLog({ value, of, sd, range }: NumberPart, base: Snapshot, gross: number): number {
  const mean = of(base);
  const spread = Math.hypot(sd, GRANTED * mean);
  const z = (value - mean) / spread;
  return Math.log(((1 - gross) * Math.exp(-0.5 * z * z)) / (Math.sqrt(2 * Math.PI) * spread) + gross / range);
}

export function aloneLog({ value, mean, sd, range, slope }: Row, gross: number): number {
  let variance = sd * sd;
  for (const s of slope) variance += s * s;
  const z2 = (value - mean) ** 2 / variance;
  return Math.log(((1 - gross) * Math.exp(-0.5 * z2)) / Math.sqrt(2 * Math.PI * variance) + gross / range);
}
