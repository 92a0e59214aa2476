import { newestEntry, type EntryKind } from '../evidence/entry.js';
import { fitHold, type HoldFit } from '../measure/pressure/hold.js';
import type { HoldRecord } from '../measure/pressure/hold-record.js';
import type { SweepRecord, SweepStep } from '../measure/pulses/sweep-record.js';
import type { KeyState } from '../terms/key-states.js';
import type { CaseLadder } from './case-ladder.js';
import { entriesOf, phasesOf, presentLinks, type CaseStageName, type ChainLink } from './chain.js';

/** One station's loaded volts before and after the repair. */
export interface ComparedStation {
  readonly id: string;
  readonly name: string;
  readonly beforeV?: number;
  readonly afterV?: number;
  readonly healthyV?: number;
}

/** The path’s loaded volts before and after the repair, station by station, and the key state of each. */
export interface ComparedLadders {
  readonly before: KeyState;
  readonly after: KeyState;
  readonly stations: readonly ComparedStation[];
}

/**
 * The staircase that was read last after the repair, beside that of the same key state before it; the last of those where
 * that state wasn't read.
 * @returns undefined where nothing of the path was read after the repair
 */
export function comparedLadders(
  before: readonly CaseLadder[],
  after: readonly CaseLadder[],
): ComparedLadders | undefined {
  const is = after.findLast(({ rungs }) => rungs.some(({ volts }) => volts !== undefined));
  const was = before.find(({ keyState }) => keyState === is?.keyState) ?? before.at(-1);
  if (!is || !was) return undefined;
  const stations = is.rungs.map(({ station: { id, name }, volts, healthyV }): ComparedStation => {
    const earlier = was.rungs.find((rung) => rung.station.id === id)?.volts;
    return {
      ...{ id, name, healthyV },
      ...(earlier !== undefined && { beforeV: earlier }),
      ...(volts !== undefined && { afterV: volts }),
    };
  });
  return {
    before: was.keyState,
    after: is.keyState,
    stations: stations.filter(({ beforeV, afterV }) => beforeV !== undefined || afterV !== undefined),
  };
}

/** One command of a duty sweep, before and after the repair. */
export interface ComparedStep {
  readonly commandPercent: number;
  readonly before?: SweepStep;
  readonly after?: SweepStep;
}

/** The newest sweeps of before and after the repair by command, smallest first; empty unless both were taken. */
export function comparedSweeps(links: readonly ChainLink[], stage: CaseStageName): ComparedStep[] {
  const [was, is] = bothPhases(links, stage, (phase) => recordOf<SweepRecord>(phase, 'sweep', 'module'));
  if (!was || !is) return [];
  const commands = [...new Set([...was.steps, ...is.steps].map(({ commandPercent }) => commandPercent))];
  return commands
    .sort((a, b) => a - b)
    .map((command) => {
      const at = ({ steps }: SweepRecord) => steps.find(({ commandPercent }) => commandPercent === command);
      const [before, after] = [at(was), at(is)];
      return { commandPercent: command, ...(before && { before }), ...(after && { after }) };
    });
}

/** A hold test as it was timed, and how it falls where that can be told. */
export interface TimedHold {
  readonly record: HoldRecord;
  readonly fit?: HoldFit;
}

/** The newest timed hold tests of before and after the repair; undefined unless both were taken. */
export function comparedHolds(
  links: readonly ChainLink[],
  stage: CaseStageName,
): { readonly before: TimedHold; readonly after: TimedHold } | undefined {
  const [before, after] = bothPhases(links, stage, (phase): TimedHold | undefined => {
    const record = recordOf<HoldRecord>(phase, 'hold', 'rail');
    const fitted = record && fitHold(record);
    return record && { record, ...(fitted && 'fit' in fitted && { fit: fitted.fit }) };
  });
  return before && after && { before, after };
}

/** The same of the evidence before the repair, and after it once it is finished. */
function bothPhases<T>(
  links: readonly ChainLink[],
  stage: CaseStageName,
  of: (phase: readonly ChainLink[]) => T | undefined,
): [before: T | undefined, after: T | undefined] {
  const { before, done } = phasesOf(links, stage);
  return [of(before), done ? of(presentLinks(links, stage)) : undefined];
}

/** The newest record of a kind; undefined where it was said in a word, or couldn't be taken. */
function recordOf<T extends object>(links: readonly ChainLink[], kind: EntryKind, at: string): T | undefined {
  const value = newestEntry(entriesOf(links), kind, at)?.value;
  return typeof value === 'object' ? (value as T) : undefined;
}
