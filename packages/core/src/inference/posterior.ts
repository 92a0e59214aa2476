import type { Scene } from '../evidence/part.js';
import type { Reading } from '../evidence/reading.js';
import type { Vehicle } from '../physics/vehicle.js';
import type { SystemProfile } from '../vehicle/profile.js';
import type { Family } from '../terms/families.js';
import {
  byFamily,
  bySuspect,
  slipShares,
  withMisread,
  type Hypothesis,
  type Scored,
  type SuspectPosterior,
} from './attribution.js';
import { hear, type Complaint } from './complaint.js';
import { prepare } from './prepared.js';
import type { Foretold, Question } from './question.js';
import type { Severity } from './suspects.js';
import { twofoldPairs } from './table-fold.js';
import { isStrained, logSum, mixed, otherViews } from './views.js';
import { USUALLY, Weighing } from './weighing.js';

export interface Posterior {
  readonly vehicle: Vehicle;
  readonly hypotheses: readonly Hypothesis[];
  readonly suspects: readonly SuspectPosterior[];
  readonly families: ReadonlyMap<Family, number>;
  /** Probability that a reading was a slip, by its id. */
  readonly slips: ReadonlyMap<string, number>;
  /** Probability that the meter's own ground was bad wherever the body was its reference. */
  readonly meterGround: number;
  /** Whether the likeliest explanation is a fault that comes and goes. */
  readonly comesAndGoes: number;
  /** Whether the profile's command table seems to be off two-fold: by how much, and how likely. */
  readonly tableFold: { readonly fold: number; readonly probability: number };
  /** What the customer's words come down to. */
  readonly complaint: Complaint;
  /** The scene of a severity as a question would find it. */
  readonly scene: (severity: Severity, question: Question) => Scene;
  /** What each severity foresees of a question, part by part. @param probe any value of the kind */
  readonly foreteller: (question: Question, probe: Reading['value']) => (severity: Severity) => readonly Foretold[];
}

export interface PosteriorOptions {
  /** A charger or jump pack hides what the battery is. */
  readonly batterySupported?: boolean;
  /** Weights of the shop's own closed cases, by family; 1 when absent. */
  readonly familyWeights?: Partial<Record<Family, number>>;
  /** The customer's words. */
  readonly complaint?: string;
}

/** A fault that comes and goes, of all of its kind; by what the customer says (common practice, no published source). */
const COMES_AND_GOES = { said: 0.5, unsaid: 0.12 } as const;

/** Bayes' rule over all suspects and severities, given every reading. */
export function posterior(
  profile: SystemProfile,
  readings: readonly Reading[],
  { batterySupported = false, familyWeights = {}, complaint = '' }: PosteriorOptions = {},
): Posterior {
  const heard = hear(complaint);
  const saidSomething = complaint.trim() !== '';
  const base = { weighing: new Weighing(prepare(profile), readings, batterySupported, USUALLY), share: 1, fold: 1 };
  const score = (weighing: Weighing): Scored[] =>
    weighing.all().map((one, index) => {
      const { suspect, severity, comesAndGoes } = one;
      const usual = heard.comesAndGoes ? COMES_AND_GOES.said : COMES_AND_GOES.unsaid;
      const manner = suspect.varies ? (comesAndGoes ? usual : 1 - usual) : 1;
      const told = saidSomething ? weighing.prepared.complaint(heard, severity) : 1;
      const prior = suspect.prior * severity.share * manner * (familyWeights[suspect.family] ?? 1) * told;
      return { ...one, index, weight: 0, log: Math.log(prior) + one.log };
    });
  const usual = score(base.weighing);
  const strained = isStrained(usual, readings) || twofoldPairs(profile, readings).length > 0;
  const others = strained ? otherViews(profile, readings, batterySupported) : [];
  const views = [
    { ...base, scored: usual, log: Math.log(1 - others.reduce((sum, { share }) => sum + share, 0)) },
    ...others.map((view) => ({ ...view, scored: score(view.weighing), log: Math.log(view.share) })),
  ].map((view) => ({ ...view, total: view.log + logSum(view.scored.map(({ log }) => log)) }));
  const hypotheses = mixed(views);
  const likeliest = views.reduce((a, b) => (b.total > a.total ? b : a));
  const all = logSum(views.map(({ total }) => total));
  const misread = views
    .filter(({ fold }) => fold !== 1)
    .map(({ fold, total }) => ({ fold, probability: Math.exp(total - all) }));
  const { weighing } = likeliest;
  const suspects = bySuspect(weighing.prepared.suspects, hypotheses, readings, weighing.soundAlone());
  return {
    vehicle: base.weighing.prepared.worlds.vehicle,
    hypotheses,
    suspects: withMisread(suspects, hypotheses, readings),
    families: byFamily(hypotheses, readings),
    slips: slipShares(hypotheses, readings),
    meterGround: hypotheses.reduce((sum, h) => sum + h.weight * h.meterGround, 0),
    comesAndGoes: hypotheses.reduce((sum, h) => sum + (h.comesAndGoes ? h.weight : 0), 0),
    tableFold: misread.reduce((a, b) => (b.probability > a.probability ? b : a), { fold: 1, probability: 0 }),
    complaint: saidSomething ? heard.complaint : 'other',
    scene: (severity, question) => weighing.prepared.scene(severity, weighing.asked(question)),
    foreteller: (question, probe) => weighing.foreteller(question, probe),
  };
}
