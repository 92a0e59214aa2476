import type { DropLedger } from '@jarro/core';
import { TriangleAlert } from 'lucide-react';
import { DataTable } from '../../ui/data-table';
import { Within } from '../../ui/within';
import { ohmText, wattText } from './drop-words';

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
      <DataTable
        rows={ledger.lines}
        keyOf={({ side }) => side}
        columns={[
          {
            title: 'Loaded drop',
            cell: ({ side, rule, source }) => <span title={`${rule} (${source})`}>{SIDES[side]}</span>,
          },
          { title: 'Drop', right: true, className: 'text-xl font-bold', cell: ({ dropV }) => `${dropV.toFixed(2)} V` },
          { title: 'Resistance', right: true, cell: ({ resistanceOhm }) => ohmText(resistanceOhm) },
          { title: 'Lost as heat', right: true, cell: ({ powerW }) => wattText(powerW) },
          { title: 'Limit', right: true, cell: ({ limitV }) => `${limitV.toFixed(2)} V` },
          {
            title: 'Standing',
            cell: ({ within }) => <Within within={within} yes="within" no="over" />,
          },
        ]}
      />
      <p className="label mt-1">Limits: house limits of this shop; {ledger.lines[0].source}.</p>
      {ledger.doubts.map((doubt) => (
        <p key={doubt} className="mt-2 flex gap-2 text-rust">
          <TriangleAlert aria-hidden className="mt-0.5 size-5 shrink-0" /> {doubt}
        </p>
      ))}
    </>
  );
}
