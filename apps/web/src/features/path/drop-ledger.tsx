import type { DropLedger } from '@jarro/core';
import { Check, TriangleAlert } from 'lucide-react';

const SIDES = { supply: 'Supply, battery + to pump feed', ground: 'Ground, pump ground to battery −' } as const;

/** What is lost on each side under load, with its limit and where the limit comes from. */
export function DropLedgerTable({ ledger }: { ledger: DropLedger }) {
  if (ledger.lines.length === 0) {
    return (
      <p className="text-soft">
        Read the battery, the pump feed and the pump ground with the pump running; the drops are worked out here.
      </p>
    );
  }
  return (
    <>
      <table className="w-full border-collapse">
        <thead className="label text-left">
          <tr className="border-b-2 border-ink">
            <th className="py-1 font-normal">Loaded drop</th>
            <th className="text-right font-normal">Drop</th>
            <th className="text-right font-normal">Resistance</th>
            <th className="text-right font-normal">Lost as heat</th>
            <th className="text-right font-normal">Limit</th>
            <th className="pl-4 font-normal">Standing</th>
          </tr>
        </thead>
        <tbody>
          {ledger.lines.map((line) => (
            <tr key={line.side} className="border-b border-line" title={`${line.rule} (${line.source})`}>
              <td className="py-2">{SIDES[line.side]}</td>
              <td className="text-right text-xl font-bold">{line.dropV.toFixed(2)} V</td>
              <td className="text-right">
                {line.resistanceOhm === undefined ? '–' : `${line.resistanceOhm.toFixed(3)} Ω`}
              </td>
              <td className="text-right">{line.powerW === undefined ? '–' : `${line.powerW.toFixed(1)} W`}</td>
              <td className="text-right">{line.limitV.toFixed(2)} V</td>
              <td className={`pl-4 font-semibold ${line.within ? 'text-mineral' : 'text-rust'}`}>
                <span className="flex items-center gap-1">
                  {line.within ? (
                    <Check aria-hidden className="size-4" />
                  ) : (
                    <TriangleAlert aria-hidden className="size-4" />
                  )}
                  {line.within ? 'within' : 'over'}
                </span>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="label mt-1">Limits: house limits of this shop; {ledger.lines[0].source}.</p>
      {ledger.doubts.map((doubt) => (
        <p key={doubt} className="mt-2 flex gap-2 text-rust">
          <TriangleAlert aria-hidden className="mt-0.5 size-5 shrink-0" /> {doubt}
        </p>
      ))}
    </>
  );
}
