import { feedbackSays } from '../evidence/kinds/duty.js';
import { answered, newestNumber, type Entry, type EntryKind } from '../evidence/entry.js';
import { LIMITS } from '../limits/limits.js';
import { tableOutput } from '../vehicle/command-table.js';
import { moduleSupply, type SystemProfile } from '../vehicle/profile.js';

/** One place where a driven pump's chain can be read. */
export interface ChainLink {
  readonly kind: EntryKind;
  readonly at: string;
}

/** Where the chain from the control unit to the pump breaks, as far as it was read. */
export interface DriveChain {
  /** In the order of the chain. */
  readonly links: readonly ChainLink[];
  readonly breaks:
    'not-asked' | 'not-arriving' | 'not-supplied' | 'not-given' | 'answered-wrong' | 'nowhere' | 'unknown';
  /** The same in a sentence. */
  readonly says: string;
  /** The readings that it rests on. */
  readonly because: readonly string[];
}

/**
 * A scan tool's duty, one at a pin and one that a table gives agree within this, points (common practice, no published source:
 * hand meters read a few points off).
 */
export const AGREES_PERCENT = 6;
/** Where the module's ground is read. */
const GROUND = 'module_ground';
/** A duty below this runs no pump (common practice, no published source). */
export const LEAST_ASKED_PERCENT = 5;

type Link = readonly [breaks: DriveChain['breaks'], says: string, ...because: (string | undefined)[]];

/** @param entries standing ones, oldest first */
export function driveChain(entries: readonly Entry[], profile: SystemProfile): DriveChain {
  const { stations } = profile;
  const supply = moduleSupply(stations);
  const pump = stations.find(({ kind }) => kind === 'pump')?.id;
  const read = answered(entries);
  const links: ChainLink[] = [
    { kind: 'scan', at: 'commanded_duty' },
    { kind: 'duty', at: 'command' },
    ...(supply === undefined ? [] : [{ kind: 'voltage', at: supply } as const]),
    { kind: 'voltage', at: GROUND },
    { kind: 'duty', at: 'output' },
    { kind: 'duty', at: 'feedback' },
    { kind: 'scan', at: 'actual_pressure' },
    ...(pump === undefined ? [] : [{ kind: 'current', at: pump } as const]),
  ];
  const of = (kind: EntryKind, at: string | undefined) => (at === undefined ? undefined : newestNumber(read, kind, at));
  const scan = of('scan', 'commanded_duty');
  const command = of('duty', 'command');
  const output = of('duty', 'output');
  const feedback = of('duty', 'feedback') ?? of('scan', 'feedback_duty');
  const supplied = of('voltage', supply);
  const [breaks, says, ...because] =
    arriving(scan, command) ??
    suppliedBadly(supplied) ??
    groundedBadly(of('voltage', GROUND)) ??
    given(command, output, profile) ??
    answeredBadly(feedback, profile) ??
    rest(command, output);
  return { links, breaks, says, because: because.filter((id) => id !== undefined) };
}

type Told = ReturnType<typeof newestNumber>;

const percent = (value: number) => `${value.toFixed(0)} %`;

function arriving(scan: Told, command: Told): Link | undefined {
  if (!command) {
    return scan && scan.value < LEAST_ASKED_PERCENT
      ? ['not-asked', `The scan tool shows ${percent(scan.value)} asked: nothing is wanted of the pump.`, scan.id]
      : undefined;
  }
  // A line that is active low carries the complement of what is asked.
  const differs = (asked: number) =>
    Math.min(Math.abs(command.value - asked), Math.abs(100 - command.value - asked)) > AGREES_PERCENT;
  if (command.value < LEAST_ASKED_PERCENT && (!scan || differs(scan.value))) {
    return scan && scan.value >= LEAST_ASKED_PERCENT
      ? [
          'not-arriving',
          `${percent(scan.value)} is asked and nothing arrives at the module: the line between them.`,
          scan.id,
          command.id,
        ]
      : ['not-asked', 'Nothing arrives at the module’s pin; the scan tool says whether anything is asked.', command.id];
  }
  if (scan && differs(scan.value)) {
    const says = `The control unit asks ${percent(scan.value)} and the module’s pin gets ${percent(command.value)}.`;
    return ['not-arriving', says, scan.id, command.id];
  }
  return undefined;
}

/** What a module's supply has to stand at, V: a poor battery's volts less what the way from it may lose. */
export function leastSupplyV(): number {
  return LIMITS.restBatteryPoorV.value - LIMITS.supplyDropV.value;
}

function suppliedBadly(supplied: Told): Link | undefined {
  if (!supplied || supplied.value >= leastSupplyV()) return undefined;
  return [
    'not-supplied',
    `The module’s own supply is at ${supplied.value.toFixed(2)} V: find that first.`,
    supplied.id,
  ];
}

function groundedBadly(ground: Told): Link | undefined {
  if (!ground || ground.value <= LIMITS.groundDropV.value) return undefined;
  return [
    'not-supplied',
    `The module’s own ground is ${ground.value.toFixed(2)} V above battery −: find that first.`,
    ground.id,
  ];
}

function given(command: Told, output: Told, { commandTable }: SystemProfile): Link | undefined {
  if (!command || !output) return undefined;
  const expected = tableOutput(commandTable, command.value);
  if (Math.abs(output.value - expected) <= AGREES_PERCENT) return undefined;
  const by = commandTable ? 'By the system’s table' : 'Passed on as it is';
  const says = `${by} ${percent(command.value)} asked means ${percent(expected)} given out, and it is ${percent(output.value)}.`;
  // Without a table a module may read its command in a way of its own.
  return commandTable
    ? ['not-given', says, command.id, output.id]
    : ['unknown', `${says} Look up how this module reads its command.`, command.id, output.id];
}

function answeredBadly(feedback: Told, { feedbackTable }: SystemProfile): Link | undefined {
  if (!feedback || !feedbackTable) return undefined;
  const row = feedbackTable.find(
    ({ fromPercent, toPercent }) => feedback.value >= fromPercent && feedback.value <= toPercent,
  );
  const said = feedbackSays(feedback.value, feedbackTable);
  if (!row || said === 'normal') return undefined;
  return ['answered-wrong', `The module answers ${percent(feedback.value)}: ${row.meaning}.`, feedback.id];
}

function rest(command: Told, output: Told): Link {
  if (command && output) {
    const says = `What is asked is given out, ${percent(output.value)}: the chain holds up to the module’s output.`;
    return ['nowhere', says, command.id, output.id];
  }
  return [
    'unknown',
    command ? 'Read the duty that the module gives out.' : 'Read the command at the module’s pin.',
    command?.id,
  ];
}
