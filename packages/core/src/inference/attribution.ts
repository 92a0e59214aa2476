import type { Reading } from '../evidence/reading.js';
import { FAMILIES, type Family } from '../terms/families.js';
import type { Severity, Suspect } from './suspects.js';
import { GROSS } from './trust.js';

/** A suspect at one severity, or coming and going. */
export interface Hypothesis {
  readonly index: number;
  readonly suspect: Suspect;
  readonly severity: Severity;
  /** Posterior probability. */
  readonly weight: number;
}

export interface Scored extends Hypothesis {
  readonly comesAndGoes: boolean;
  readonly log: number;
  readonly meterGround: number;
  /** Log likelihood of each reading by itself. */
  readonly logs: Float64Array;
  /** Of each reading with nothing fitted. */
  readonly alone: Float64Array;
  readonly slips: Float64Array;
}

export interface SuspectPosterior {
  readonly suspect: Suspect;
  readonly probability: number;
  /** Log of how much each reading speaks for it against all others, by the reading's id. */
  readonly evidence: ReadonlyMap<string, number>;
  /** Log of how much better it explains each reading than a sound vehicle does, by the reading's id. */
  readonly beyondSound: ReadonlyMap<string, number>;
}

/** Keeps a hypothesis that is all but ruled out from dividing nothing by nothing. */
const LEAST_WEIGHT = 1e-200;

/**
 * What each reading says of each suspect: its mean likelihood under the suspect's own hypotheses over that under all other
 * families', each weighed by what the other readings leave of it: sum w / sum (w / L).
 */
export function bySuspect(
  suspects: readonly Suspect[],
  hypotheses: readonly Scored[],
  readings: readonly Reading[],
  sound: Float64Array,
): SuspectPosterior[] {
  const count = readings.length;
  const sums = new Map<Suspect | Family, Float64Array>();
  const sumOf = (key: Suspect | Family) => {
    const known = sums.get(key) ?? new Float64Array(count + 1);
    sums.set(key, known);
    return known;
  };
  const all = new Float64Array(count + 1);
  for (const { suspect, weight, logs } of hypotheses) {
    const w = Math.max(LEAST_WEIGHT, weight);
    const [own, family] = [sumOf(suspect), sumOf(suspect.family)];
    own[count] += w;
    family[count] += w;
    all[count] += w;
    for (let i = 0; i < count; i++) {
      const without = w * Math.exp(-logs[i]);
      own[i] += without;
      family[i] += without;
      all[i] += without;
    }
  }
  return suspects
    .map((suspect) => {
      const own = sumOf(suspect);
      const family = sumOf(suspect.family);
      const best = hypotheses.reduce(
        (a, h) => (h.suspect === suspect && (a === undefined || h.weight > a.weight) ? h : a),
        undefined as Scored | undefined,
      );
      const evidence = new Map<string, number>();
      const beyondSound = new Map<string, number>();
      readings.forEach((reading, i) => {
        const mine = own[count] / own[i];
        const others = Math.max(LEAST_WEIGHT, all[count] - family[count]) / Math.max(LEAST_WEIGHT, all[i] - family[i]);
        evidence.set(reading.id, Math.log(mine / others));
        beyondSound.set(reading.id, (best?.alone[i] ?? 0) - sound[i]);
      });
      return { suspect, probability: own[count] / all[count], evidence, beyondSound };
    })
    .sort((a, b) => b.probability - a.probability);
}

/** Of a sound vehicle, the probability that some reading misled all the same: the meter's ground, or a slip at a station. */
function misreadShare({ slips, meterGround }: Scored, readings: readonly Reading[]): number {
  let none = 1 - meterGround;
  readings.forEach(({ kind }, i) => {
    if (kind === 'voltage') none *= 1 - Math.max(0, slips[i] - GROSS.normal);
  });
  return 1 - none;
}

export function byFamily(hypotheses: readonly Scored[], readings: readonly Reading[]): Map<Family, number> {
  const sums = new Map<Family, number>(FAMILIES.map((family) => [family, 0]));
  const add = (family: Family, weight: number) => sums.set(family, (sums.get(family) ?? 0) + weight);
  for (const h of hypotheses) {
    const misread = h.suspect.family === 'healthy' ? misreadShare(h, readings) : 0;
    add(h.suspect.family, h.weight * (1 - misread));
    add('measurement-error', h.weight * misread);
  }
  return new Map([...sums].sort((a, b) => b[1] - a[1]));
}

/** A sound vehicle that was read wrongly is a suspect of its own: the meter's ground, or a slipped probe. */
export function withMisread(
  suspects: readonly SuspectPosterior[],
  hypotheses: readonly Scored[],
  readings: readonly Reading[],
): SuspectPosterior[] {
  const sound = hypotheses.find(({ suspect }) => suspect.id === 'healthy');
  const healthy = suspects.find(({ suspect }) => suspect.id === 'healthy');
  if (!sound || !healthy) return [...suspects];
  const misread = misreadShare(sound, readings);
  const ground = misread > 0 ? Math.min(misread, sound.meterGround) : 0;
  const part = (id: string, title: string, share: number): SuspectPosterior => ({
    ...healthy,
    suspect: { ...healthy.suspect, id, title, family: 'measurement-error' },
    probability: healthy.probability * share,
  });
  return [
    ...suspects.filter((one) => one !== healthy),
    { ...healthy, probability: healthy.probability * (1 - misread) },
    part('meter-ground', 'The meter’s own ground', ground),
    part('slipped-probe', 'A slipped probe, all else sound', misread - ground),
  ].sort((a, b) => b.probability - a.probability);
}

export function slipShares(hypotheses: readonly Scored[], readings: readonly Reading[]): Map<string, number> {
  return new Map(readings.map(({ id }, i) => [id, hypotheses.reduce((sum, h) => sum + h.weight * h.slips[i], 0)]));
}
