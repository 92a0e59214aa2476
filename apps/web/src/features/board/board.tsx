import { FAMILY_NAMES, VERDICT_NAMES } from '@jarro/core';
import { Activity, Check, ChevronLeft, ChevronRight, CircleHelp, Gauge, Plus } from 'lucide-react';
import { useDeferredValue, useState } from 'react';
import { Link } from 'react-router';
import { errorText, useBoardQuery, type BoardQuestion } from '../../app/api';
import type { BoardCase } from '@jarro/api-types';
import { counted, when } from '../../app/words';
import { Button } from '../../ui/button';
import { ErrorNotice } from '../../ui/notice';
import { BoardFilters } from './board-filters';
import { EVERYTHING } from './everything';
import { OpenCase } from './open-case';
import { TakeIn } from './take-in';

interface Column {
  readonly title: string;
  readonly hint: string;
  readonly holds: (item: BoardCase) => boolean;
}

/** A case moves right as proof comes in. */
const COLUMNS: readonly Column[] = [
  {
    title: 'Nothing proven',
    hint: 'No evidence yet',
    holds: (item) => item.stage === 'open' && item.captures + item.readings === 0,
  },
  {
    title: 'On the bench',
    hint: 'Evidence coming in',
    holds: (item) => item.stage === 'open' && item.captures + item.readings > 0,
  },
  { title: 'Decided', hint: 'A verdict stands', holds: (item) => item.stage !== 'open' },
];

export function Board() {
  const [asked, ask] = useState<BoardQuestion>(EVERYTHING);
  // While somebody types the list follows when there is time.
  const search = useDeferredValue(asked.search);
  // Colleagues open and decide cases too, and suspects come a moment after what was read.
  const { data: board, error } = useBoardQuery({ ...asked, search }, { refetchOnMountOrArgChange: 10 });
  const cases = board?.cases;
  const { page } = asked;
  const setPage = (next: number) => ask({ ...asked, page: next });
  const isNarrowed = JSON.stringify({ ...asked, search: search.trim(), page: 1 }) !== JSON.stringify(EVERYTHING);
  const [opening, setOpening] = useState(false);
  return (
    <main className="mx-auto max-w-[1280px] p-4">
      <div className="mb-4 flex flex-wrap items-end justify-between gap-3">
        <h1 className="text-3xl">Cases</h1>
        <div className="flex flex-wrap gap-2">
          <TakeIn />
          <Button look="rust" onClick={() => setOpening(true)}>
            <Plus aria-hidden className="size-5" /> Open a case
          </Button>
        </div>
      </div>
      <BoardFilters asked={asked} onAsk={(changes) => ask({ ...asked, ...changes, page: 1 })} />
      <ErrorNotice text={errorText(error)} />
      <div className="grid gap-4 md:grid-cols-3">
        {COLUMNS.map((column) => (
          <section key={column.title} aria-label={column.title}>
            <div className="mb-2 flex items-baseline justify-between border-b-2 border-ink pb-1">
              <h2 className="text-lg">{column.title}</h2>
              <span className="label">{column.hint}</span>
            </div>
            <div className="space-y-3">
              {cases?.filter(column.holds).map((item) => (
                <CaseCard key={item.id} item={item} />
              ))}
              {cases && !cases.some(column.holds) && (
                <p className="rounded-2xl border border-dashed border-line p-4 text-soft">
                  {isNarrowed
                    ? 'No case here fits what you look for.'
                    : column.title === 'Nothing proven'
                      ? 'New cases wait here. Open one when a vehicle comes in.'
                      : 'No case is at this step now.'}
                </p>
              )}
            </div>
          </section>
        ))}
      </div>
      {board && board.pages > 1 && (
        <nav aria-label="Pages of cases" className="mt-6 flex flex-wrap items-center justify-between gap-3">
          <Button onClick={() => setPage(page - 1)} disabled={page === 1}>
            <ChevronLeft aria-hidden className="size-5" /> Newer
          </Button>
          <span className="text-soft">
            Page {page} of {board.pages} · {board.total} cases, the open ones first
          </span>
          <Button onClick={() => setPage(page + 1)} disabled={page >= board.pages}>
            Older <ChevronRight aria-hidden className="size-5" />
          </Button>
        </nav>
      )}
      <OpenCase open={opening} onClose={() => setOpening(false)} />
    </main>
  );
}

function CaseCard({ item }: { item: BoardCase }) {
  return (
    <Link to={`/cases/${item.id}`} className="card block p-4 transition-colors hover:border-ink">
      <div className="flex items-baseline justify-between gap-2">
        <span className="font-title text-xl font-bold">{item.vehicle?.model}</span>
        <span className="label">
          {item.isComeback && <span className="font-semibold text-rust">comeback · </span>}No. {item.number}
        </span>
      </div>
      <div className="label">
        {[item.vehicle?.year, item.vehicle?.engine, item.vehicle?.plate].filter(Boolean).join(' · ')}
      </div>
      <p className="mt-2">{item.complaint}</p>
      <div className="mt-3 flex flex-wrap items-center gap-x-4 gap-y-1 text-[0.93rem]">
        <span className="flex items-center gap-1.5">
          <Activity aria-hidden className="size-4" /> {counted(item.captures, 'capture', 'captures')}
        </span>
        <span className="flex items-center gap-1.5">
          <Gauge aria-hidden className="size-4" /> {counted(item.readings, 'reading', 'readings')}
        </span>
      </div>
      <div className="mt-3 flex items-center justify-between border-t border-line pt-2 text-[0.93rem]">
        <Standing item={item} />
        <span className="text-soft">
          {phaseOf(item)}
          {when(item.openedAt)}
        </span>
      </div>
    </Link>
  );
}

/** Where a decided case is, before its date. */
function phaseOf({ stage, repaired }: BoardCase): string {
  if (stage === 'open') return '';
  return stage === 'closed' ? 'closed · ' : repaired ? 'in recheck · ' : 'to repair · ';
}

function Standing({ item }: { item: BoardCase }) {
  if (!item.verdict) {
    return (
      <span className="flex items-center gap-1.5 text-ochre">
        <CircleHelp aria-hidden className="size-4" />
        {item.suspect ? `suspect: ${FAMILY_NAMES[item.suspect]}` : 'no verdict yet'}
      </span>
    );
  }
  const condemned = item.verdict === 'replace-pump';
  return (
    <span className={`flex items-center gap-1.5 font-semibold ${condemned ? 'text-rust' : 'text-mineral'}`}>
      <Check aria-hidden className="size-4" /> {VERDICT_NAMES[item.verdict]}
    </span>
  );
}
