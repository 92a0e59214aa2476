import { FIRST_CHECKS, STAGE_GUIDES, STAGES, type Stage } from '@jarro/core';
import { Check } from 'lucide-react';
import { NavLink } from 'react-router';
import type { CaseDetail } from '../../app/types';
import { entriesOf, standing, standingCaptures } from './evidence';

interface Progress {
  readonly done: boolean;
  /** Shown beside the name: how much is there. */
  readonly count: number;
}

/** The working order down the side; free to jump. */
export function StageRail({ item }: { item: CaseDetail }) {
  const progress = progressOf(item);
  return (
    <nav aria-label="Stages" className="card flex gap-1 self-start overflow-x-auto p-2 lg:flex-col">
      {STAGES.map((stage) => (
        <RailLink
          key={stage}
          to={`/cases/${item.id}/${stage}`}
          label={STAGE_GUIDES.find((guide) => guide.stage === stage)?.title ?? stage}
          progress={progress[stage]}
        />
      ))}
      <div className="my-1 hidden border-t border-line lg:block" />
      <RailLink
        to={`/cases/${item.id}/evidence`}
        label="Evidence"
        progress={{ done: false, count: item.evidence.length }}
      />
    </nav>
  );
}

function RailLink({ to, label, progress: { done, count } }: { to: string; label: string; progress: Progress }) {
  return (
    <NavLink
      to={to}
      className={({ isActive }) =>
        `flex min-h-11 shrink-0 items-center justify-between gap-2 rounded-xl px-3 font-semibold whitespace-nowrap ${isActive ? 'bg-enamel text-on-enamel' : 'hover:bg-paper'}`
      }
    >
      {label}
      {done ? (
        <Check aria-label="done" className="size-4" />
      ) : (
        <span className="text-[0.87rem] font-normal opacity-75">{count || ''}</span>
      )}
    </NavLink>
  );
}

/** What is there of each stage, and whether it is done. */
export function progressOf(item: CaseDetail): Record<Stage, Progress> {
  const entries = entriesOf(item);
  const links = standing(item);
  const notes = (stage: Stage) =>
    links.filter(({ kind, at }) => (kind === 'note' || kind === 'photo') && at === stage).length;
  const checks = new Set(entries.filter(({ kind }) => kind === 'check' || kind === 'battery').map(({ at }) => at));
  const pressures = entries.filter(({ kind }) => ['pressure', 'hold', 'volume', 'scan'].includes(kind)).length;
  const volts = entries.filter(
    ({ kind, at }) => (kind === 'voltage' && at !== 'injector_kick') || kind === 'current',
  ).length;
  const { standing: verdict } = item.sheet.verdict;
  const checked = FIRST_CHECKS.filter(({ at }) => checks.has(at)).length;
  return {
    intake: {
      done: item.intake.sequence > 0 && item.intake.system !== 'unknown',
      count: item.intake.sequence > 0 ? 1 : 0,
    },
    'first-checks': {
      done: checked === FIRST_CHECKS.length,
      count: checks.size - (checks.has('gauge_bled') ? 1 : 0) - (checks.has('hose_fuel') ? 1 : 0),
    },
    pressure: { done: verdict === 'delivers', count: pressures },
    'power-path': {
      done: item.ledger.lines.length === 2 && item.ledger.lines.every(({ within }) => within),
      count: volts,
    },
    current: { done: false, count: standingCaptures(item).length },
    control: { done: false, count: notes('control') },
    verdict: { done: item.stage !== 'open', count: 0 },
    repair: { done: false, count: notes('repair') },
    recheck: { done: false, count: notes('recheck') },
    closed: { done: item.stage === 'closed', count: 0 },
  };
}
