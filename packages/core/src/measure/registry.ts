import { currentAnalyser } from './current/current-analyser.js';
import { pressureAnalyser } from './pressure/pressure-analyser.js';

/** All that is looked for in a record, in the order of the answer. A new analyser is a folder beside these and a line here. */
export const ANALYSERS = [currentAnalyser, pressureAnalyser] as const;
