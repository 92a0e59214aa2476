import { STAGE_GUIDES, STAGES } from '@jarro/core';
import { Check, PenLine } from 'lucide-react';
import { NavLink } from 'react-router';
import { useKept } from '../../app/kept';
import type { CaseDetail } from '@jarro/api-types';
import { useTheBench } from './bench';
import { progressOf, type Progress } from './progress';

/** The working order down the side; free to jump. */
export function StageRail({ item }: { item: CaseDetail }) {
  const progress = progressOf(item, useTheBench().ladders);
  const [draft] = useKept(`intake-form/${item.id}`);
  return (
    <nav
      aria-label="Stages"
      className="card flex gap-1 self-start overflow-x-auto p-2 lg:sticky lg:top-2 lg:flex-col lg:gap-0"
    >
      {STAGES.map((stage) => (
        <RailLink
          key={stage}
          to={`/cases/${item.id}/${stage}`}
          label={STAGE_GUIDES.find((guide) => guide.stage === stage)?.title ?? stage}
          progress={progress[stage]}
          unsaved={stage === 'intake' && draft !== undefined}
        />
      ))}
      <div className="my-1 hidden border-t border-line lg:block" />
      <RailLink
        to={`/cases/${item.id}/evidence`}
        label="Evidence"
        progress={{ count: item.evidence.length, open: ['-'] }}
      />
    </nav>
  );
}

function RailLink({
  to,
  label,
  progress: { count, open },
  unsaved = false,
}: {
  to: string;
  label: string;
  progress: Progress;
  unsaved?: boolean;
}) {
  return (
    <NavLink
      to={to}
      className={({ isActive }) =>
        `flex min-h-11 shrink-0 items-center justify-between gap-2 rounded-xl px-3 font-semibold whitespace-nowrap ${isActive ? 'bg-enamel text-on-enamel' : 'hover:bg-paper'}`
      }
    >
      {label}
      {unsaved ? (
        <PenLine aria-label="not saved yet" className="size-4" />
      ) : open.length === 0 ? (
        <Check aria-label="done" className="size-4 shrink-0" />
      ) : (
        <span className="text-[0.87rem] font-normal opacity-75">{count || ''}</span>
      )}
    </NavLink>
  );
}
