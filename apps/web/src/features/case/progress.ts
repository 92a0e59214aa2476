import {
  type CaseLadder,
  type Entry,
  FIRST_CHECKS,
  KEY_STATE_NAMES,
  repairState,
  STAGES,
  type Stage,
  type SweepRecord,
} from '@jarro/core';
import type { CaseDetail } from '@jarro/api-types';
import { entriesOf, type LinkedCapture, standing, standingCaptures } from './evidence';
import { untaken } from './same-reading';
import { newestOffer } from './signal-offers';

export interface Progress {
  /** How much is there. */
  readonly count: number;
  /** What is still open, in words; nothing open is done. */
  readonly open: readonly string[];
}

/** What is there of each stage, and what of it is open. */
export function progressOf(item: CaseDetail, ladders: readonly CaseLadder[]): Record<Stage, Progress> {
  const entries = entriesOf(item);
  const links = standing(item);
  const written = (stage: Stage, open: string): Progress => {
    const count = links.filter(({ kind, at }) => (kind === 'note' || kind === 'photo') && at === stage).length;
    return { count, open: count ? [] : [open] };
  };
  const answered = new Set(entries.filter(({ kind }) => kind === 'check').map(({ at }) => at));
  const batteries = new Set(entries.filter(({ kind }) => kind === 'battery').map(({ at }) => at));
  const checks = FIRST_CHECKS.filter(({ at }) => answered.has(at)).length;
  const captures = standingCaptures(item);
  const signals = entries.filter(({ kind }) => CONTROL_KINDS.has(kind)).length;
  const { rungs, ledger } = ladders[ladders.length - 1];
  const stations = rungs.map(({ station }) => station);
  const hasModule = stations.some(({ kind }) => kind === 'module');
  const isOffering = untaken(item, newestOffer(item, stations)?.entries ?? []).length > 0;
  const read = rungs.filter(({ volts }) => volts !== undefined).length;
  const pumpAt = rungs.findIndex(({ side }) => side === 'pump');
  // The pair at the pump and the battery settle most; what lies between is read when they don't.
  const settle = [rungs[0], rungs[pumpAt], rungs[pumpAt + 1]];
  const unread = settle.filter(({ volts }) => volts === undefined);
  return {
    ...(Object.fromEntries(STAGES.map((stage) => [stage, written(stage, 'what was done')])) as Record<Stage, Progress>),
    intake: { count: Math.sign(item.intake.sequence), open: openIntake(item) },
    'first-checks': {
      count: checks + batteries.size,
      open: [
        ...FIRST_CHECKS.filter(({ at }) => !answered.has(at)).map(({ title }) => title.toLowerCase()),
        ...(batteries.has('rest') || batteries.has('charging') ? [] : ['battery']),
      ],
    },
    pressure: {
      count: entries.filter(({ kind }) => ['pressure', 'hold', 'volume', 'scan'].includes(kind)).length,
      open: openPressure(item),
    },
    'power-path': {
      count: read,
      open: [
        ...(ledger.lines.every(({ within }) => within) ? [] : ['the lost volts']),
        ...unread.map(({ station }) => station.name.toLowerCase()),
      ],
    },
    current: { count: captures.length, open: openCurrent(captures, isOffering) },
    control: {
      count: written('control', '').count + signals,
      open: [
        ...(isOffering ? [OFFERED] : []),
        ...(hasModule && !comparesCommand(entries) ? ['command and output'] : []),
      ],
    },
    verdict: { count: 0, open: item.stage === 'open' ? ['the verdict'] : [] },
    repair: repairProgress(item),
    recheck: { count: 0, open: item.stage === 'closed' ? [] : ['the same tests again'] },
    closed: { count: 0, open: item.stage === 'closed' ? [] : ['the hand-over'] },
  };
}

/** A capture's readings stand on the stages of the current and of the signals until they are taken over. */
const OFFERED = 'what the capture shows, into the sheet';

/** What a driver module is asked and answers, what the feed loses, what injectors take, and the order of a stall. */
const CONTROL_KINDS: ReadonlySet<string> = new Set(['sweep', 'fell-first', 'duty', 'source', 'injectors']);

/** Whether what a driver module gives out was read beside what it is asked: by two duties, or in a sweep's step. */
function comparesCommand(entries: readonly Entry[]): boolean {
  const has = (at: string) => entries.some((entry) => entry.kind === 'duty' && entry.at === at);
  const sweeps = entries.filter(({ kind }) => kind === 'sweep').flatMap(({ value }) => (value as SweepRecord).steps);
  return (has('command') && has('output')) || sweeps.some(({ outputPercent }) => outputPercent !== undefined);
}

function repairProgress({ evidence, stage }: CaseDetail): Progress {
  const state = repairState(evidence, stage);
  if (!state) return { count: 0, open: ['the verdict'] };
  if (state.done) return { count: state.said.size, open: [] };
  return { count: state.said.size, open: [`${state.open.length} particulars`, 'its end'] };
}

function openIntake({ intake }: CaseDetail): string[] {
  return [
    ...(intake.symptoms.length ? [] : ['what it does']),
    ...(intake.circumstances.length ? [] : ['when']),
    ...(intake.system === 'unknown' ? ['which fuel system'] : []),
  ];
}

function openCurrent(captures: readonly LinkedCapture[], isOffering: boolean): string[] {
  const ramps = captures.flatMap(({ analysis }) => analysis?.ramp ?? []);
  if (ramps.length === 0) return ['a capture of the prime'];
  const tellsDraw = ramps.some(({ steady, pattern }) => steady !== undefined || pattern === 'no-current');
  return [...(isOffering ? [OFFERED] : []), ...(tellsDraw ? [] : ['a capture that tells what the pump draws'])];
}

function openPressure({ sheet, intake }: CaseDetail): string[] {
  const read = new Set(sheet.lines.filter(({ counts }) => counts).map(({ state }) => state));
  return [
    ...(sheet.bled ? [] : ['bleeding']),
    ...(['prime', 'idle'] as const)
      .filter((state) => !read.has(state))
      .map((state) => KEY_STATE_NAMES[state].toLowerCase()),
    ...(sheet.hold ? [] : ['hold']),
    ...(intake.features.railSensor === 'yes' && !sheet.sensor ? ['three-way check'] : []),
  ];
}
