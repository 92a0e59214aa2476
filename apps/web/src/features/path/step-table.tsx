import type { CaseLadder, Rung } from '@jarro/core';
import { Check, Minus, TriangleAlert } from 'lucide-react';

/** Stretch by stretch: what is lost between two stations that were read, and what it may be. */
export function StepTable({ ladder: { rungs } }: { ladder: CaseLadder }) {
  const steps = rungs.flatMap((rung, i) => (rung.step ? [{ rung, step: rung.step, span: spanOf(rungs, i) }] : []));
  if (steps.length === 0) return null;
  return (
    <table className="w-full border-collapse">
      <thead className="label text-left">
        <tr className="border-b-2 border-ink">
          <th className="py-1 font-normal">Stretch</th>
          <th className="text-right font-normal">Drop</th>
          <th className="text-right font-normal">Resistance</th>
          <th className="text-right font-normal">Heat</th>
          <th className="text-right font-normal">May lose</th>
          <th className="pl-4 font-normal">Standing</th>
        </tr>
      </thead>
      <tbody>
        {steps.map(({ rung, step, span }) => (
          <tr key={rung.station.id} className="border-b border-line">
            <td className="py-1.5">{span}</td>
            <td className="text-right font-bold">{step.dropV.toFixed(2)} V</td>
            <td className="text-right">
              {step.resistanceOhm === undefined ? '–' : `${step.resistanceOhm.toFixed(3)} Ω`}
            </td>
            <td className="text-right">{step.powerW === undefined ? '–' : `${step.powerW.toFixed(1)} W`}</td>
            <td className="text-right">{step.limitV.toFixed(2)} V</td>
            <td className="pl-4">
              <StandingMark standing={rung.standing} />
            </td>
          </tr>
        ))}
      </tbody>
    </table>
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
