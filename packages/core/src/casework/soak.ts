import type { SoakRecord } from '../evidence/records.js';

/** Chance at which a quiet soak counts as proof that the fault is gone. */
export const SOAK_LEVEL = 0.05;

/** What a soak after the repair is worth. */
export interface SoakWorth {
  /** Drops before the repair, and the minutes in which they were counted. */
  readonly before: SoakRecord;
  readonly after: SoakRecord;
  /** Chance that the old fault would have kept quiet all the same; absent where none was counted before, or one came since. */
  readonly quietByChance?: number;
  /** Minutes without a drop that would be enough in all; absent where nothing was counted before. */
  readonly enoughMinutes?: number;
  readonly enough: boolean;
}

/**
 * Weighs a quiet soak against how often the fault came before. Drops that come at random at an unknown rate λ (1 a minute), of
 * which n were counted in T minutes, leave λ a gamma distribution of shape n and rate T (prior 1/λ); the chance of none in t
 * further minutes at the same rate is then ∫ e^(−λt) p(λ) dλ = (T/(T+t))^n. The rate's own doubt is in it: with the rate
 * taken for known it would be e^(−nt/T), which is too sure. (Gamma-Poisson predictive distribution; Gelman et al., Bayesian
 * Data Analysis, section 2.6, from memory.)
 */
export function soakWorth(before: readonly SoakRecord[], after: readonly SoakRecord[]): SoakWorth {
  const [was, is] = [sumOf(before), sumOf(after)];
  const soaked = { before: was, after: is };
  if (was.drops === 0 || was.minutes === 0) return { ...soaked, enough: is.drops === 0 };
  const enoughMinutes = quietMinutes(was);
  if (is.drops > 0) return { ...soaked, enoughMinutes, enough: false };
  const quietByChance = (was.minutes / (was.minutes + is.minutes)) ** was.drops;
  return { ...soaked, enoughMinutes, quietByChance, enough: quietByChance <= SOAK_LEVEL };
}

/** Minutes without a drop after which the old fault would have shown but for a chance of 1 in 20: (T/(T+t))^n solved for t. */
function quietMinutes({ minutes, drops }: SoakRecord): number {
  return minutes * (SOAK_LEVEL ** (-1 / drops) - 1);
}

function sumOf(records: readonly SoakRecord[]): SoakRecord {
  return {
    minutes: records.reduce((sum, { minutes }) => sum + minutes, 0),
    drops: records.reduce((sum, { drops }) => sum + drops, 0),
  };
}
