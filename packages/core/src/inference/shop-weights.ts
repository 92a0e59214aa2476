import type { SystemProfile } from '../vehicle/profile.js';
import type { Family } from '../terms/families.js';
import { VERDICTS, type Verdict } from '../terms/verdicts.js';
import { prepare } from './prepared.js';

/** Closed, proven cases of a shop by what was found. */
export type FoundCounts = Readonly<Partial<Record<Verdict, number>>>;

/** The usual weights count as so many closed cases: below that a shop's own luck would lead. */
const WORTH = 30;
/** However seldom a shop saw it, a fault keeps a quarter of its usual weight, and never gains more than four times. */
const LEAST = 0.25;
const MOST = 4;

/**
 * What a shop's own closed cases make of the usual weights, by family: the share of each verdict with the usual shares counted as
 * thirty cases beside the shop's, over its usual share (Dirichlet prior on shares; Gelman et al., Bayesian Data Analysis, section
 * 3.4, from memory).
 */
export function shopWeights(profile: SystemProfile, found: FoundCounts): Partial<Record<Family, number>> {
  const { suspects } = prepare(profile);
  const priors = new Map<Verdict, number>();
  const verdicts = Object.keys(VERDICTS) as Verdict[];
  const verdictOf = (family: Family) =>
    verdicts.find((verdict) => (VERDICTS[verdict] as readonly Family[]).includes(family));
  for (const { family, prior } of suspects) {
    const verdict = verdictOf(family);
    if (verdict) priors.set(verdict, (priors.get(verdict) ?? 0) + prior);
  }
  const all = [...priors.values()].reduce((sum, prior) => sum + prior, 0);
  // What this path can't have had doesn't count here.
  const cases = [...priors.keys()].reduce((sum, verdict) => sum + (found[verdict] ?? 0), 0);
  const weights: Partial<Record<Family, number>> = {};
  for (const [verdict, prior] of priors) {
    const usual = prior / all;
    const own = ((found[verdict] ?? 0) + WORTH * usual) / (cases + WORTH);
    for (const family of VERDICTS[verdict]) weights[family] = Math.min(MOST, Math.max(LEAST, own / usual));
  }
  return weights;
}
