import { Plus } from 'lucide-react';
import type { CaseDetail, EvidenceItem, ReadingKind } from '../../app/types';
import { KEY_STATE_NAMES, STATION_NAMES, when } from '../../app/words';
import { Button } from '../../ui/button';
import { DropLedgerTable } from './drop-ledger';
import { VoidEntry } from './void-entry';

/** The power path's readings: the ledger they make, then every one of them. */
export function ReadingsPanel({ item, onAdd }: { item: CaseDetail; onAdd: () => void }) {
  const open = item.stage === 'open';
  return (
    <div className="space-y-5">
      <div className="flex items-center justify-between">
        <h2 className="text-xl">Loaded readings</h2>
        {open && (
          <Button look="ink" onClick={onAdd}>
            <Plus aria-hidden className="size-5" /> Walk the path
          </Button>
        )}
      </div>
      <DropLedgerTable ledger={item.ledger} />
      <table className="w-full">
        <thead className="label text-left">
          <tr className="border-b-2 border-ink">
            <th className="py-1 font-normal">Point</th>
            <th className="text-right font-normal">Reading</th>
            <th className="pl-4 font-normal">Key</th>
            <th className="font-normal">Fault</th>
            <th className="font-normal">Taken</th>
            <th />
          </tr>
        </thead>
        <tbody>
          {pathReadings(item).map((reading) => (
            <tr key={reading.id} className={`border-b border-line ${reading.voided ? 'text-soft line-through' : ''}`}>
              <td className="py-1.5">{STATION_NAMES[stationOf(reading)]}</td>
              <td className="text-right font-semibold">
                {Number(reading.value).toFixed(2)} {reading.kind === 'current' ? 'A' : 'V'}
              </td>
              <td className="pl-4">{reading.keyState && KEY_STATE_NAMES[reading.keyState]}</td>
              <td>{reading.faultPresent ? 'present' : 'absent'}</td>
              <td className="text-[0.93rem]">
                {when(reading.takenAt)}, {reading.takenBy}
              </td>
              <td className="text-right no-underline">
                {reading.voided ? (
                  <span className="text-[0.87rem]">{reading.voided.reason}</span>
                ) : (
                  open && <VoidEntry caseId={item.id} id={reading.id} />
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

const stationOf = ({ kind, at }: EvidenceItem) => (kind === 'current' ? 'current' : at) as ReadingKind;

/** Voltages and currents of the path, newest first, voided ones included. */
function pathReadings({ evidence }: CaseDetail): EvidenceItem[] {
  return evidence
    .filter((link) => (link.kind === 'voltage' || link.kind === 'current') && stationOf(link) in STATION_NAMES)
    .reverse();
}
