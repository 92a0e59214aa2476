import { KEY_STATE_NAMES } from '@jarro/core';
import { Plus } from 'lucide-react';
import type { EvidenceItem } from '@jarro/api-types';
import { usePressureUnit } from '../../app/units';
import { when } from '../../app/words';
import { Button } from '../../ui/button';
import { DataTable } from '../../ui/data-table';
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
  const { item, profile } = useTheBench();
  const placeOf = ({ at }: EvidenceItem) => profile.stations.findIndex(({ id }) => id === at);
  const readings = item.evidence.filter(({ kind }) => isStationKind(kind)).reverse();
  if (readings.length === 0) return null;
  return (
    <DataTable
      rows={readings}
      keyOf={({ id }) => id}
      rowClass={({ voided }) => (voided ? 'text-soft line-through' : undefined)}
      columns={[
        { title: 'Reading', sortBy: placeOf, cell: (reading) => <What reading={reading} /> },
        { title: 'Key', cell: ({ keyState }) => keyState && KEY_STATE_NAMES[keyState] },
        { title: 'Fault', cell: ({ faultPresent }) => (faultPresent ? 'present' : 'absent') },
        {
          title: 'Taken',
          sortBy: ({ sequence }) => sequence,
          className: 'text-[0.93rem]',
          cell: ({ takenAt, takenBy }) => `${when(takenAt)}, ${takenBy}`,
        },
        {
          title: '',
          right: true,
          className: 'no-underline',
          cell: (reading) =>
            reading.voided ? (
              <span className="text-[0.87rem]">{reading.voided.reason}</span>
            ) : (
              editable && mayBeVoided(item, reading) && <VoidEntry caseId={item.id} id={reading.id} />
            ),
        },
      ]}
    />
  );
}

function What({ reading }: { reading: EvidenceItem }) {
  const { item } = useTheBench();
  const { title, text } = describeLink(reading, item, usePressureUnit());
  return (
    <>
      {title} <span className="font-semibold">{text}</span>
    </>
  );
}
