import { KEY_STATE_NAMES } from '@jarro/core';
import { Plus } from 'lucide-react';
import type { EvidenceItem } from '@jarro/api-types';
import { usePressureUnit } from '../../app/units';
import { when } from '../../app/words';
import { Button } from '../../ui/button';
import { useTheBench } from '../case/bench';
import { mayBeVoided } from '../case/evidence';
import { VoidEntry } from '../case/void-entry';
import { useMayMeasure } from '../case/use-may-measure';
import { describeLink } from '../evidence/describe-link';
import { ChooseSystem } from './choose-system';
import { DropLedgerTable } from './drop-ledger';
import { isStationKind, type StationReading } from './station-kinds';
import { StepTable } from './step-table';

/** The power path: which one it is, what each stretch of it loses, and every reading taken on it. */
export function PathStage({ onReading }: { onReading: (reading: StationReading) => void }) {
  const { item, profile, ladders } = useTheBench();
  const open = useMayMeasure(item);
  const ladder = ladders[ladders.length - 1];
  return (
    <div className="space-y-5">
      <ChooseSystem />
      <div className="flex items-center justify-between">
        <h3 className="text-xl">Loaded readings, {KEY_STATE_NAMES[ladder.keyState].toLowerCase()}</h3>
        {open && (
          <Button look="ink" onClick={() => onReading({ station: profile.stations[0].id, kind: 'voltage' })}>
            <Plus aria-hidden className="size-5" /> Walk the path
          </Button>
        )}
      </div>
      <DropLedgerTable ledger={ladder.ledger} />
      <StepTable ladder={ladder} />
      <Readings editable={open} />
    </div>
  );
}

/** Everything read at the path's stations, newest first, voided ones included. */
function Readings({ editable }: { editable: boolean }) {
  const { item } = useTheBench();
  const readings = item.evidence.filter(({ kind }) => isStationKind(kind)).reverse();
  if (readings.length === 0) return null;
  return (
    <table className="w-full">
      <thead className="label text-left">
        <tr className="border-b-2 border-ink">
          <th className="py-1 font-normal">Reading</th>
          <th className="pl-4 font-normal">Key</th>
          <th className="font-normal">Fault</th>
          <th className="font-normal">Taken</th>
          <th />
        </tr>
      </thead>
      <tbody>
        {readings.map((reading) => (
          <ReadingRow key={reading.id} reading={reading} editable={editable} />
        ))}
      </tbody>
    </table>
  );
}

function ReadingRow({ reading, editable }: { reading: EvidenceItem; editable: boolean }) {
  const { item } = useTheBench();
  const unit = usePressureUnit();
  const { title, text } = describeLink(reading, item, unit);
  return (
    <tr className={`border-b border-line ${reading.voided ? 'text-soft line-through' : ''}`}>
      <td className="py-1.5">
        {title} <span className="font-semibold">{text}</span>
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
          editable && mayBeVoided(item, reading) && <VoidEntry caseId={item.id} id={reading.id} />
        )}
      </td>
    </tr>
  );
}
