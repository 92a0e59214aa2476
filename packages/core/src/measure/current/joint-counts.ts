import { RULED_OUT } from './own-lines.js';
import type { Counted, Revolution } from './revolution.js';

/** So many humps a turn, and how probable that is. */
interface HumpCount {
  readonly perRevolution: number;
  readonly confidence: number;
}

/**
 * What several runs of one motor say together of the humps in a turn, the likeliest first: the product of what each says. A
 * count that a run doesn't name keeps what it may rule out wrongly, since another source may have disturbed it.
 */
export function jointly(runs: readonly Counted[]): HumpCount[] {
  const shareOf = (humps: number, { perRevolution, confidence, alternatives }: Counted) =>
    perRevolution === humps
      ? confidence
      : (alternatives.find((other) => other.perRevolution === humps)?.confidence ?? RULED_OUT);
  const seen = new Set(
    runs.flatMap((of) => [of.perRevolution, ...of.alternatives.map(({ perRevolution }) => perRevolution)]),
  );
  const weights = [...seen].map((perRevolution) => ({
    perRevolution,
    weight: runs.reduce((product, of) => product * shareOf(perRevolution, of), 1),
  }));
  const sum = weights.reduce((total, { weight }) => total + weight, 0);
  return weights
    .map(({ perRevolution, weight }) => ({ perRevolution, confidence: weight / sum }))
    .sort((x, y) => y.confidence - x.confidence);
}

/** A turn that was left open, with what is known of it from all runs. */
export function withCounts(of: Revolution, counts: readonly HumpCount[]): Revolution {
  const own = counts.find(({ perRevolution }) => perRevolution === of.perRevolution);
  if (!own) return of;
  const humpsHz = (of.lineHz / of.linePerRevolution) * of.perRevolution;
  const alternatives = counts
    .filter((other) => other !== own && other.confidence >= RULED_OUT)
    .map((other) => ({ ...other, rpm: (60 * humpsHz) / other.perRevolution }));
  return { ...of, basis: 'assumed', confidence: own.confidence, alternatives };
}
