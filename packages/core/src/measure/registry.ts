import { currentAnalyser } from './current/current-analyser.js';
import { pressureAnalyser } from './pressure/pressure-analyser.js';
import { pulseAnalyser } from './pulses/pulse-analyser.js';
import { sequenceAnalyser } from './sequence/sequence-analyser.js';

/**
 * All that is looked for in a record, in order: what fell first is asked before the current, whose usual draw is that of a
 * time in which nothing happened. A new analyser is a folder beside these and a line here.
 */
export const ANALYSERS = [sequenceAnalyser, currentAnalyser, pulseAnalyser, pressureAnalyser] as const;
