import type { KeyState } from '../terms/key-states.js';
import type { Posterior } from '../inference/posterior.js';
import type { Question } from '../inference/question.js';
import type { Suspect } from '../inference/suspects.js';
import type { HouseRules } from '../rules/house-rules.js';
import type { Facts } from './facts.js';

/** What a verdict's proofs are judged by. */
export interface Charge {
  /** The likeliest suspect that the verdict would condemn. */
  readonly suspect: Suspect;
  readonly facts: Facts;
  readonly posterior: Posterior;
  readonly rules: HouseRules;
}

export const question = (kind: Question['kind'], at: string, keyState: KeyState): Question => ({ kind, at, keyState });
