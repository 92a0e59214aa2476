import type { CaseLadder, Rung } from '@jarro/core';
import { Check, Minus, TriangleAlert } from 'lucide-react';
import { DataTable } from '../../ui/data-table';
import { ohmText, wattText } from './drop-words';

/** Stretch by stretch: what is lost between two stations that were read, and what it may be. */
export function StepTable({ ladder: { rungs } }: { ladder: CaseLadder }) {
  const steps = rungs.flatMap((rung, i) => (rung.step ? [{ rung, step: rung.step, span: spanOf(rungs, i) }] : []));
  if (steps.length === 0) return null;
  return (
    <DataTable
      rows={steps}
      keyOf={({ rung }) => rung.station.id}
      columns={[
        { title: 'Stretch', cell: ({ span }) => span },
        { title: 'Drop', right: true, className: 'font-bold', cell: ({ step }) => `${step.dropV.toFixed(2)} V` },
        { title: 'Resistance', right: true, cell: ({ step }) => ohmText(step.resistanceOhm) },
        { title: 'Heat', right: true, cell: ({ step }) => wattText(step.powerW) },
        { title: 'May lose', right: true, cell: ({ step }) => `${step.limitV.toFixed(2)} V` },
        { title: 'Standing', cell: ({ rung }) => <StandingMark standing={rung.standing} /> },
      ]}
    />
  );
}

const WORDS: Readonly<Record<Rung['standing'], { mark: typeof Check; word: string; tone: string }>> = {
  cleared: { mark: Check, word: 'cleared', tone: 'text-mineral' },
  suspect: { mark: TriangleAlert, word: 'suspect', tone: 'text-rust' },
  unknown: { mark: Minus, word: 'proves nothing', tone: 'text-soft' },
};

function StandingMark({ standing }: { standing: Rung['standing'] }) {
  const { mark: Mark, word, tone } = WORDS[standing];
  return (
    <span className={`flex items-center gap-1 font-semibold ${tone}`}>
      <Mark aria-hidden className="size-4" /> {word}
    </span>
  );
}

function spanOf(rungs: readonly Rung[], i: number): string {
  const read = (rung: Rung) => rung.volts !== undefined;
  if (rungs[i].side === 'ground') {
    const next = rungs.slice(i + 1).find(read);
    return `${rungs[i].station.name} to ${next?.station.name ?? 'battery −'}`;
  }
  const before = rungs.slice(0, i).filter(read).at(-1);
  return `${before?.station.name} to ${rungs[i].station.name}`;
}
