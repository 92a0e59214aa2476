import { balanceAnalyser, type BalancePart } from './balance/balance-analyser.js';
import { crankingAnalyser, type CrankingPart } from './cranking/cranking-analyser.js';
import { currentAnalyser, type CurrentPart } from './current/current-analyser.js';
import { pressureAnalyser, type PressurePart } from './pressure/pressure-analyser.js';
import { pulseAnalyser, type PulsePart } from './pulses/pulse-analyser.js';
import { sequenceAnalyser, type SequencePart } from './sequence/sequence-analyser.js';

/**
 * All that is looked for in a record, in order: when the engine was cranked, what drives the pump, what fell first, and then the current, whose usual
 * draw is that of a time in which nothing happened. A new analyser is a folder beside these, a line here, and its part of the answer below.
 */
export const ANALYSERS = [
  crankingAnalyser,
  pulseAnalyser,
  sequenceAnalyser,
  currentAnalyser,
  pressureAnalyser,
  balanceAnalyser,
] as const;

/** What the analysers add to the answer, each where its roles were there. */
export type MeasuredParts = Partial<CrankingPart & CurrentPart & PressurePart & PulsePart & SequencePart & BalancePart>;
