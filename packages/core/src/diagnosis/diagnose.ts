import { DEFAULT_HOUSE_RULES, type HouseRules } from '../rules/house-rules.js';
import type { SystemProfile } from '../systems/profile.js';
import { findContradictions, type Contradiction } from './contradictions.js';
import type { Family } from './families.js';
import { verdictGates, type GateResult, type Verdict } from './gates.js';
import { planTests } from './planner.js';
import { posterior, type PosteriorOptions } from './posterior.js';
import type { Reading, ReadingKind } from './reading.js';
import type { KeyState, Reference } from '../evidence/entry.js';

export interface SuspectWeight {
  readonly id: string;
  readonly title: string;
  readonly family: Family;
  readonly probability: number;
  /** Readings that speak for it, and against it; the strongest first. */
  readonly because: readonly string[];
  readonly against: readonly string[];
}

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
  readonly contradictions: readonly Contradiction[];
  readonly gate: Readonly<Record<Verdict, GateResult>>;
}

export interface DiagnoseOptions extends PosteriorOptions {
  /** The shop's own; the usual ones for what is absent. */
  readonly rules?: Partial<HouseRules>;
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
  const result = posterior(profile, readings, options);
  const contradictions = findContradictions(result, readings);
  const rules = { ...DEFAULT_HOUSE_RULES, ...options.rules };
  const planned = planTests(result, readings, rules).slice(0, MOST_TESTS);
  return {
    suspects: result.suspects.map(({ suspect: { id, title, family }, probability, evidence }) => {
      const moved = [...evidence].sort((a, b) => Math.abs(b[1]) - Math.abs(a[1]));
      return {
        id,
        title,
        family,
        probability,
        because: moved.filter(([, log]) => log > MOVES).map(([reading]) => reading),
        against: moved.filter(([, log]) => log < -MOVES).map(([reading]) => reading),
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
    contradictions,
    gate: verdictGates(result, readings, contradictions, rules),
  };
}
