import { newestEntry, NOT_POSSIBLE } from '../evidence/entry.js';
import type { SweepRecord, SweepStep } from '../evidence/records.js';
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
  const was = sweepOf(phasesOf(links, stage).before);
  const is = phasesOf(links, stage).done && sweepOf(presentLinks(links, stage));
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

function sweepOf(links: readonly ChainLink[]): SweepRecord | undefined {
  const value = newestEntry(entriesOf(links), 'sweep', 'module')?.value;
  return value === undefined || value === NOT_POSSIBLE ? undefined : (value as SweepRecord);
}
