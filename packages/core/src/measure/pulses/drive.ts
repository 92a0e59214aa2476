import { COMMON_PRACTICE, finding, LIMITS, type Finding } from '../../limits/limits.js';
import { tableOutput } from '../../vehicle/command-table.js';
import type { CommandTable } from '../../vehicle/profile.js';
import { isGivenUnasked } from './beside-each-other.js';
import type { MeasuredLine } from './pulse-train.js';
import { AGREES_PERCENT, follow, type Following } from './relation.js';
import { whenSwitched } from './when-switched.js';

/** Where the chain from command to output breaks. */
export interface DriveResult {
  readonly expectedDutyPercent?: number;
  /** Mean of the module's supply while it is switched, V. */
  readonly supplyV?: number;
  /** Module supply less the output's high level, V: what the module keeps to itself. */
  readonly outputDropV?: number;
  readonly cause: 'none' | 'upstream' | 'module' | 'undetermined';
  readonly because: string;
}

/** The lines of a driver module, as far as they were recorded. */
export interface DriveLines {
  readonly command?: MeasuredLine;
  readonly output?: MeasuredLine;
  /** Mean of the module's supply while it is switched, V. */
  readonly supplyV?: number;
  readonly sampleRateHz: number;
  readonly table?: CommandTable | undefined;
}

/** An output feeds a pump from the battery: it swings higher than any control unit's 5 V line … */
const LEAST_OUTPUT_V = 6;
/** … and a command that swings so high beside it is the output. */
const SUPPLY_LEVEL_V = 9;
/** Modules that take twice the command's duty are full on here (common practice, no published source). */
const FULL_ON_OF_SOME_PERCENT = 50;

const SWAPPED = { rule: 'A module feeds the pump from the battery, not from 5 V', source: COMMON_PRACTICE };
const TABLES_DIFFER = { rule: 'Modules read their command by tables of their own', source: COMMON_PRACTICE };

export function judgeDrive(lines: DriveLines): { drive: DriveResult; findings: Finding[] } {
  const { command, output, supplyV } = lines;
  const outputDropV =
    supplyV !== undefined && output?.train.highV !== undefined ? supplyV - output.train.highV : undefined;
  const drop = { ...(supplyV !== undefined && { supplyV }), ...(outputDropV !== undefined && { outputDropV }) };
  const following = command && output ? follow(command, output, lines.sampleRateHz, lines.table) : undefined;
  const expected = following ? { expectedDutyPercent: following.expectedPercent } : {};
  if (command && output && areSwapped(command, output)) {
    const text =
      `The command swings to ${volts(command.train.highV)} and the output to ${volts(output.train.highV)}: ` +
      'the two leads look swapped. Check which is on which pin.';
    return {
      drive: { ...drop, cause: 'undetermined', because: text },
      findings: [finding('leads-swapped', 'act', text, SWAPPED)],
    };
  }
  const [cause, because] = causeOf(lines, outputDropV, following);
  return { drive: { ...expected, ...drop, cause, because }, findings: following ? readDifferently(following) : [] };
}

function areSwapped(command: MeasuredLine, output: MeasuredLine): boolean {
  const [asked, given] = [command.train, output.train];
  if (asked.stuck || given.stuck) return false;
  return (asked.highV ?? 0) > SUPPLY_LEVEL_V && (given.highV ?? Infinity) < LEAST_OUTPUT_V;
}

type Judgement = readonly [DriveResult['cause'], string];

/** Along the chain: asked, supplied, passed on, answered rightly, at full height. The first link that is broken is the cause. */
function causeOf(lines: DriveLines, outputDropV: number | undefined, following: Following | undefined): Judgement {
  const { command, output, supplyV, table } = lines;
  return (
    notAsked(command) ??
    notSupplied(output, supplyV) ??
    notGiven(command, output, table) ??
    givenUnasked(lines) ??
    notFollowed(command, output, following) ??
    tooLow(output, supplyV, outputDropV) ?? ['none', asAsked(command, output)]
  );
}

function asAsked(command: MeasuredLine | undefined, output: MeasuredLine | undefined): string {
  const state = output?.train.stuck;
  if (!state) {
    const lost = command?.train.rests
      ? ' Between, nothing was asked: if the key stayed on then, the command was lost before the module.'
      : '';
    return `What is asked${whenAsked(command)} arrives at the output, at full height.${lost}`;
  }
  const means = state === 'high' ? 'full on' : 'off';
  return `By the system’s table ${percent(askedOf(command))} means ${means}, and ${means} the output stays.`;
}

/** A command that begins or ceases within the record: a key, a prime, or an engine that died. */
function whenAsked(command: MeasuredLine | undefined): string {
  const said = command ? whenSwitched(command.train) : '';
  return said && `, ${said},`;
}

function notAsked(command: MeasuredLine | undefined): Judgement | undefined {
  if (!command) return ['undetermined', 'The command isn’t on the record: what was asked isn’t known.'];
  const { stuck, highV, lowV, missing, gaps, extra } = command.train;
  if (stuck === 'between') {
    return ['undetermined', `The command line stays at ${volts(highV)}: that is neither high nor low.`];
  }
  if (stuck) return ['upstream', `Nothing is asked: the command line stays at ${volts(highV ?? lowV)}.`];
  if (missing > 0) {
    const first = gaps[0].startS.toFixed(4);
    return ['upstream', `The command itself misses ${count(missing, 'pulse')}, the first at ${first} s.`];
  }
  if (extra) return ['upstream', `The command itself has ${count(extra.length, 'pulse')} too many.`];
  return undefined;
}

/** A module that gets too little can't be judged by what it gives. */
function notSupplied(output: MeasuredLine | undefined, supplyV: number | undefined): Judgement | undefined {
  if (supplyV === undefined || supplyV >= leastSupplyV()) return undefined;
  return [
    'upstream',
    `The module’s own supply is at ${volts(supplyV)}${output ? '' : ', and its output isn’t on the record'}.`,
  ];
}

/** A poor battery less the drop that a sound path may have. */
const leastSupplyV = () => LIMITS.restBatteryPoorV.value - LIMITS.supplyDropV.value;

function notGiven(
  command: MeasuredLine | undefined,
  output: MeasuredLine | undefined,
  table: CommandTable | undefined,
): Judgement | undefined {
  if (!output)
    return ['undetermined', 'The output isn’t on the record: whether the module passes the command on isn’t known.'];
  const { stuck, highV, lowV, missing, gaps, extra } = output.train;
  const asked = askedOf(command);
  if (stuck) {
    if (table && isNear(tableOutput(table, asked), stuck === 'high' ? 100 : 0)) return undefined;
    const text = `${percent(asked)} is asked, and the output stays at ${volts(highV ?? lowV)}`;
    return !table && stuck === 'high' && isNear(asked, FULL_ON_OF_SOME_PERCENT)
      ? ['undetermined', `${text}: a module that takes 50 % for full on does that. Look it up in the system’s table.`]
      : ['module', `${text}.`];
  }
  if (missing > 0) {
    const first = gaps[0].startS.toFixed(4);
    return [
      'module',
      `The command is whole, and the output misses ${count(missing, 'pulse')}, the first at ${first} s.`,
    ];
  }
  if (extra) return ['module', `The command is whole, and the output has ${count(extra.length, 'pulse')} too many.`];
  return undefined;
}

/** A module that holds what it was asked last, one that doesn't let go, or a command that was lost before it: the lines look alike. */
function givenUnasked({ command, output, sampleRateHz }: DriveLines): Judgement | undefined {
  if (!command || !output || !isGivenUnasked(command, output, sampleRateHz)) return undefined;
  return [
    'undetermined',
    `The command arrives${whenAsked(command)} and the output is switched beyond that: the command was lost on its way, ` +
      'or the module goes on without it. Note when the key was on, and compare the command at the control unit’s pin.',
  ];
}

function notFollowed(
  command: MeasuredLine | undefined,
  output: MeasuredLine | undefined,
  following: Following | undefined,
): Judgement | undefined {
  if (!following && output?.train.stuck) return undefined;
  if (!following) {
    return ['undetermined', 'Too few whole pulses of command and output are on the record to compare them.'];
  }
  const { follows, ignoresSteps, relation, expectedPercent, outputPercent } = following;
  if (ignoresSteps) return ['module', `The command was moved and the output stayed at ${percent(outputPercent)}.`];
  if (follows) return undefined;
  const asked = askedOf(command);
  const given = output?.train.usualDutyPercent ?? outputPercent;
  return relation === 'table'
    ? ['module', `By the system’s table the output should be ${percent(expectedPercent)}, and it is ${percent(given)}.`]
    : [
        'undetermined',
        `${percent(asked)} is asked and ${percent(given)} given, which is none of the usual ways to read a command; look it up in the system’s table.`,
      ];
}

function tooLow(
  output: MeasuredLine | undefined,
  supplyV: number | undefined,
  outputDropV: number | undefined,
): Judgement | undefined {
  const highV = output?.train.highV;
  if (outputDropV !== undefined && outputDropV > LIMITS.supplyDropV.value) {
    return ['module', `The module keeps ${volts(outputDropV)} to itself: ${volts(highV)} of ${volts(supplyV)} arrive.`];
  }
  if (supplyV === undefined && highV !== undefined && highV < leastSupplyV()) {
    return ['undetermined', `The output reaches only ${volts(highV)}, and the module’s supply isn’t on the record.`];
  }
  return undefined;
}

/** The trap of the trade: a command taken for the duty that it only stands for. */
function readDifferently({ relation, follows, expectedPercent }: Following): Finding[] {
  if (!follows || relation === 'direct' || relation === 'table') return [];
  const text =
    relation === 'double'
      ? `The output is on for twice the share that the command is (${percent(expectedPercent)}): this module takes 50 % for full on. Read its command by the system’s table.`
      : `The output is on while the command is off (${percent(expectedPercent)}): this command is active low.`;
  return [finding(`command-${relation}`, 'keep-in-mind', text, TABLES_DIFFER)];
}

const askedOf = (command: MeasuredLine | undefined) =>
  command?.train.usualDutyPercent ?? command?.train.dutyPercent ?? 0;
const isNear = (percentage: number, other: number) => Math.abs(percentage - other) <= AGREES_PERCENT;
const volts = (value: number | undefined) => (value === undefined ? '–' : `${value.toFixed(2)} V`);
const percent = (value: number) => `${value.toFixed(0)} %`;
const count = (number: number, one: string) => `${number} ${one}${number === 1 ? '' : 's'}`;
