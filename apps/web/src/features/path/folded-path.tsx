import { type CaseLadder, type Rung, KEY_STATE_NAMES } from '@jarro/core';
import { ChevronDown, Route } from 'lucide-react';
import type { Bench } from '../case/bench';
import { standingOf } from './standings';
import { SUSPECT_MARK, useSuspectInView } from './use-suspect-in-view';

/** The path in one line: each station as a mark to press, the worst drop in words, what arrives at the pump. */
export function FoldedPath({
  ladder,
  bench,
  onStation,
  onOpen,
}: {
  ladder: CaseLadder;
  bench: Bench;
  onStation: (station: string) => void;
  onOpen: () => void;
}) {
  const { acrossPumpV } = ladder.ledger;
  const marks = useSuspectInView<HTMLDivElement>(ladder.rungs);
  return (
    <section aria-label="Supply path" className="card flex items-center gap-x-3 p-1.5 pl-3">
      <Route aria-hidden className="hidden size-5 shrink-0 text-soft sm:block" />
      <div ref={marks} className="flex min-w-0 shrink gap-1 overflow-x-auto py-0.5">
        {ladder.rungs.map((rung) => (
          <StationMark key={rung.station.id} rung={rung} bench={bench} onStation={onStation} />
        ))}
      </div>
      <button
        type="button"
        onClick={onOpen}
        className="ml-auto flex min-h-11 shrink-0 items-center gap-3 rounded-xl px-2 text-right hover:bg-paper"
      >
        <span className="hidden text-[0.93rem] leading-tight md:block">
          <WorstDrop ladder={ladder} />
        </span>
        {acrossPumpV !== undefined && (
          <span className="text-lg font-bold whitespace-nowrap">
            {acrossPumpV.toFixed(2)} V<span className="sr-only"> across the pump</span>
          </span>
        )}
        <ChevronDown aria-label="Open the path" className="size-5 shrink-0 text-soft" />
      </button>
    </section>
  );
}

function StationMark({ rung, bench, onStation }: { rung: Rung; bench: Bench; onStation: (station: string) => void }) {
  const { station, volts, side } = rung;
  const { mark: Mark, word, tone } = standingOf(rung, bench);
  const isSuspect = rung.standing === 'suspect';
  return (
    <button
      type="button"
      aria-label={[station.name, word, volts?.toFixed(2)].filter(Boolean).join(' ')}
      title={`${station.name}: ${word}`}
      onClick={() => onStation(station.id)}
      {...(isSuspect && { [SUSPECT_MARK]: true })}
      className={`grid min-h-11 min-w-11 shrink-0 content-center justify-items-center rounded-xl border px-1 hover:border-ink ${isSuspect ? 'border-2 border-rust' : 'border-line'} ${side === 'pump' ? 'bg-paper' : ''}`}
    >
      {isSuspect ? (
        <span className="max-w-28 truncate text-[0.8rem] leading-tight font-semibold">{station.name}</span>
      ) : (
        side === 'pump' && <span className="text-[0.8rem] leading-tight font-semibold">Pump</span>
      )}
      <span className={`flex items-center gap-0.5 text-[0.8rem] leading-tight ${tone}`}>
        <Mark aria-hidden className="size-3.5 shrink-0" />
        {volts !== undefined && <span className="text-ink">{volts.toFixed(1)}</span>}
      </span>
    </button>
  );
}

/** The largest drop that was read, and whether it is allowed. */
function WorstDrop({ ladder }: { ladder: CaseLadder }) {
  const steps = ladder.rungs.flatMap(({ step, station, side }) =>
    step ? [{ ...step, where: side === 'ground' ? `from ${station.name} on` : `up to ${station.name}` }] : [],
  );
  if (steps.length === 0) return <span className="text-soft">No drop read yet</span>;
  const worst = steps.reduce((a, b) => (b.dropV > a.dropV ? b : a));
  return (
    <>
      <span className="text-soft">Worst drop, {KEY_STATE_NAMES[ladder.keyState].toLowerCase()} </span>
      <span className={`font-semibold ${worst.within ? '' : 'text-rust'}`}>
        {worst.dropV.toFixed(2)} V {worst.within ? 'allowed' : 'too much'}
      </span>
      <span className="block text-soft">{worst.where}</span>
    </>
  );
}
