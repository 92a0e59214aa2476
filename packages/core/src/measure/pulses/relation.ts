import { tableOutput } from '../../vehicle/command-table.js';
import type { CommandTable } from '../../vehicle/profile.js';
import { median } from '../../signal/levels.js';
import { switchedStretches } from './clock.js';
import type { MeasuredLine } from './pulse-train.js';

/** What an output duty is to the command's: by the system's table, or by one of the ways that modules are known to read it. */
export type Relation = 'table' | 'direct' | 'double' | 'inverse';

/** How the output follows its command, by windows of both. */
export interface Following {
  readonly relation: Relation;
  readonly expectedPercent: number;
  readonly outputPercent: number;
  /** Whether the output is what the relation makes of the command, all through. */
  readonly follows: boolean;
  /** The command moved and the output didn't: no relation makes that right. */
  readonly ignoresSteps: boolean;
}

/**
 * Output and asked duty agree within this, points: dead time of the switches and slow edges shift it by one or two (common
 * practice, no published source).
 */
export const AGREES_PERCENT = 3;
/** A module answers a step within some tens of milliseconds (common practice, no published source). */
const ANSWERS_S = 0.03;
/** A command that goes so far, points, was moved. */
const STEP_PERCENT = 6;
/** Share of the windows that must agree: the windows beside a step may hold some of either. */
const MOST_AGREE = 0.85;
const MOST_WINDOWS = 40;
const PERIODS_A_WINDOW = 2;

/** Common practice, no published source: some modules take half of full duty for all of it, and some lines are active low. */
const KNOWN: Readonly<Record<Exclude<Relation, 'table'>, (command: number) => number>> = {
  direct: (command) => command,
  double: (command) => Math.min(100, 2 * command),
  inverse: (command) => 100 - command,
};

interface Window {
  readonly command: number;
  readonly output: number;
}

/** Compares the two lines window by window. Undefined where the record holds too little of either. */
export function follow(
  command: MeasuredLine,
  output: MeasuredLine,
  sampleRateHz: number,
  table: CommandTable | undefined,
): Following | undefined {
  const { windows, lag } = windowsOf(command, output, sampleRateHz);
  if (windows.length === 0) return undefined;
  const relations: [Relation, (command: number) => number][] = table
    ? [['table', (asked) => tableOutput(table, asked)]]
    : (Object.entries(KNOWN) as [Relation, (command: number) => number][]);
  const agrees = AGREES_PERCENT + doubtOf(command) + doubtOf(output);
  const outputs = windows.map((window) => window.output);
  const commands = windows.map((window) => window.command);
  const judged = relations.map(([relation, outOf]) => {
    const expected = commands.map(outOf);
    return {
      relation,
      expected,
      agreeing: agreeingShare(outputs, expected, lag, agrees),
      away: distance(outputs, expected),
    };
  });
  const [best] = judged.sort((a, b) => b.agreeing - a.agreeing || a.away - b.away);
  return {
    relation: best.relation,
    expectedPercent: mean(best.expected),
    outputPercent: mean(outputs),
    follows: best.agreeing >= MOST_AGREE,
    ignoresSteps: range(commands) >= STEP_PERCENT && range(outputs) < Math.min(AGREES_PERCENT, range(commands) / 2),
  };
}

/** Windows of whole periods of both lines in which neither misses a pulse, and how many of them a module may need to answer. */
function windowsOf(command: MeasuredLine, output: MeasuredLine, sampleRateHz: number) {
  const { line: asked, clock } = command;
  const { line: given } = output;
  if (!asked || !given || !clock) return { windows: [], lag: 0 };
  const beats = asked.rises.length >= asked.falls.length ? asked.rises : asked.falls;
  const periods = beats.length - 1;
  const step = Math.max(PERIODS_A_WINDOW, Math.ceil(periods / MOST_WINDOWS));
  const starts = Array.from({ length: Math.floor(periods / step) }, (_, i) => i * step);
  const gaps = [...clock.gaps, ...(output.clock?.gaps ?? [])];
  // A module wakes after its command comes, and may hold on for a moment when it goes.
  const stretches = switchedStretches(output.clock ?? { rests: [] }, given.length);
  const windows = starts
    .map((start) => ({ from: beats[start], to: beats[start + step] }))
    .filter((window) => stretches.some(({ from, to }) => window.from >= from && window.to <= to))
    .filter(({ from, to }) => !gaps.some(({ start }) => start >= from - clock.period && start <= to))
    .map(({ from, to }): Window => ({ command: asked.dutyPercent(from, to), output: wholeDuty(output, from, to) }));
  const lag = Math.ceil((ANSWERS_S * sampleRateHz) / (step * clock.period));
  return { windows, lag };
}

/** Duty over whole pulses of a line within a window, or over the window where it holds none. */
function wholeDuty({ line, clock }: MeasuredLine, from: number, to: number): number {
  if (!line) return 0;
  const periods = clock ? Math.floor((to - from) / clock.period) : 0;
  return periods > 0 && clock ? line.dutyPercent(from, from + periods * clock.period) : line.dutyPercent(from, to);
}

/** Share of the windows whose output is what was asked in them, or on the way there from what was asked shortly before. */
function agreeingShare(outputs: readonly number[], expected: readonly number[], lag: number, agrees: number): number {
  const agreeing = outputs.filter((output, i) => {
    const asked = expected.slice(Math.max(0, i - lag), i + 1);
    return output >= Math.min(...asked) - agrees && output <= Math.max(...asked) + agrees;
  });
  return agreeing.length / outputs.length;
}

/** How far off a line's duty may be where its clock keeps step with the recorder's, points. */
function doubtOf({ train: { usualDutyInterval } }: MeasuredLine): number {
  return usualDutyInterval ? (usualDutyInterval[1] - usualDutyInterval[0]) / 2 : 0;
}

function distance(outputs: readonly number[], expected: readonly number[]): number {
  return median(outputs.map((output, i) => Math.abs(output - expected[i])));
}

const mean = (values: readonly number[]) => values.reduce((sum, value) => sum + value, 0) / values.length;
const range = (values: readonly number[]) => Math.max(...values) - Math.min(...values);
