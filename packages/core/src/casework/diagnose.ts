import type { KeyState } from '../terms/key-states.js';
import type { Reference } from '../terms/references.js';
import { NOT_POSSIBLE } from '../evidence/entry.js';
import type { Reading, ReadingKind } from '../evidence/reading.js';
import { STEP, stepsOf } from '../evidence/kinds/sweep.js';
import { findContradictions, type Contradiction } from '../inference/contradictions.js';
import { posterior, type PosteriorOptions } from '../inference/posterior.js';
import { shopWeights, type FoundCounts } from '../inference/shop-weights.js';
import { planTests } from '../planner/plan.js';
import { whatRemains } from '../planner/remains.js';
import { DEFAULT_HOUSE_RULES, type HouseRules } from '../rules/house-rules.js';
import type { SystemProfile } from '../vehicle/profile.js';
import type { Family } from '../terms/families.js';
import type { Verdict } from '../terms/verdicts.js';
import { verdictGates, type GateResult } from '../verdict/gates.js';

/** A suspect with its share of the weight, 0 to 1. */
export interface SuspectWeight {
  readonly id: string;
  readonly title: string;
  readonly family: Family;
  readonly probability: number;
  /** Readings that speak for it, and against it; the strongest first. */
  readonly because: readonly string[];
  readonly against: readonly string[];
}

/**
 * A test that is proposed: how long it takes, what it tells (bits of the weights’ entropy), why, and where to take
 * it.
 */
export interface NextTest {
  readonly id: string;
  readonly title: string;
  readonly minutes: number;
  readonly bits: number;
  readonly why: string;
  readonly cautions: readonly string[];
  readonly reading: {
    readonly kind: ReadingKind;
    readonly at: string;
    readonly state: KeyState;
    readonly reference?: Reference;
  };
}

/** Everything that the evidence amounts to; the command line's `diagnose --json`. */
export interface Diagnosis {
  readonly suspects: readonly SuspectWeight[];
  readonly families: readonly { readonly family: Family; readonly probability: number }[];
  readonly nextTests: readonly NextTest[];
  /** What is left to do when no test tells anything any more; empty while there are some. */
  readonly remains: readonly string[];
  readonly contradictions: readonly Contradiction[];
  readonly gate: Readonly<Record<Verdict, GateResult>>;
}

/** What a shop brings to the weighing beside the readings. */
export interface DiagnoseOptions extends PosteriorOptions {
  /** The shop's own; the usual ones for what is absent. */
  readonly rules?: Partial<HouseRules>;
  /** The shop's own closed cases by what was found; they count where the rules say so. */
  readonly closedCases?: FoundCounts;
}

/** A reading moves a suspect when it changes its odds by this factor, as a natural logarithm. */
const MOVES = 0.2;
const MOST_TESTS = 8;

/** Weighs every suspect by all readings, plans what to do next, and says which verdicts the evidence allows. */
export function diagnose(
  profile: SystemProfile,
  readings: readonly Reading[],
  options: DiagnoseOptions = {},
): Diagnosis {
  const weighed = taken(profile, readings);
  const { closedCases } = options;
  const counts = options.rules?.ownCases === 'counted' && closedCases;
  const result = posterior(profile, weighed, {
    ...options,
    ...(counts && { familyWeights: shopWeights(profile, counts) }),
  });
  const contradictions = findContradictions(result, weighed);
  const rules = { ...DEFAULT_HOUSE_RULES, ...options.rules };
  const gates = verdictGates(result, weighed, contradictions, rules);
  const planned = planTests({ posterior: result, readings, contradictions, gates, rules }).slice(0, MOST_TESTS);
  return {
    suspects: result.suspects.map(({ suspect: { id, title, family }, probability, evidence }) => {
      const moved = [...evidence].sort((a, b) => Math.abs(b[1]) - Math.abs(a[1]));
      return {
        id,
        title,
        family,
        probability,
        because: recordsOf(moved.filter(([, log]) => log > MOVES).map(([id]) => id)),
        against: recordsOf(moved.filter(([, log]) => log < -MOVES).map(([id]) => id)),
      };
    }),
    families: [...result.families].map(([family, probability]) => ({ family, probability })),
    nextTests: planned.map(({ id, title, minutes, bits, why, cautions, question }) => ({
      id,
      title,
      minutes,
      bits,
      why,
      cautions,
      reading: {
        kind: question.kind,
        at: question.at,
        state: question.keyState,
        ...(question.reference && { reference: question.reference }),
      },
    })),
    remains: planned.length > 0 ? [] : whatRemains({ posterior: result, readings, contradictions, gates, rules }),
    contradictions: toldOnce(contradictions.map((one) => ({ ...one, readings: recordsOf(one.readings) }))),
    gate: Object.fromEntries(
      Object.entries(gates).map(([verdict, { allowed, station, missing, proven }]) => [
        verdict,
        { allowed, ...(station !== undefined && { station }), missing, proven },
      ]),
    ) as Record<Verdict, GateResult>,
  };
}

/** What is weighed: what couldn't be done weighs nothing, only the plan remembers it; a sweep is weighed step by step. */
export function taken(profile: SystemProfile, readings: readonly Reading[]): Reading[] {
  return readings
    .filter(({ value }) => value !== NOT_POSSIBLE)
    .flatMap((reading) => stepsOf(reading, placesOfSteps(profile)));
}

/** Where the steps of a sweep were read. */
function placesOfSteps({ stations }: SystemProfile) {
  const module = stations.findIndex(({ kind }) => kind === 'module');
  return { pump: stations.find(({ kind }) => kind === 'pump')?.id ?? '', supply: stations[module - 1]?.id };
}

/** Two steps of a sweep may contradict the rest in the same words. */
function toldOnce(contradictions: readonly Contradiction[]): Contradiction[] {
  const told = new Map(contradictions.map((one) => [JSON.stringify([one.readings, one.explanation]), one]));
  return [...told.values()];
}

/** The readings that were taken, each once: a sweep's steps are of one. */
function recordsOf(ids: readonly string[]): string[] {
  return [...new Set(ids.map((id) => id.split(STEP)[0]))];
}
