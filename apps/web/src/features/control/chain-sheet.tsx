import { driveChain, newestEntry, type DriveChain, type Entry, type EntryKind } from '@jarro/core';
import { useState } from 'react';
import { Link } from 'react-router';
import type { CaseDetail } from '@jarro/api-types';
import { useTheBench } from '../case/bench';
import { entriesOf } from '../case/evidence';
import { MeasureSheet, type WhatToMeasure } from '../case/measure-sheet';
import { ReadingTile } from '../pressure/gauge-tile';

const BREAKS: Readonly<Record<DriveChain['breaks'], { readonly name: string; readonly tone: string }>> = {
  'not-asked': { name: 'Not asked', tone: 'text-rust' },
  'not-arriving': { name: 'Asked, and not arriving', tone: 'text-rust' },
  'not-supplied': { name: 'The module isn’t supplied', tone: 'text-rust' },
  'not-given': { name: 'Asked, and not passed on', tone: 'text-rust' },
  'answered-wrong': { name: 'The module reports a fault', tone: 'text-rust' },
  nowhere: { name: 'The chain holds', tone: 'text-mineral' },
  unknown: { name: 'Not known yet', tone: 'text-soft' },
};

/** Everything that an untrained eye needs on a driven pump, in the order of the chain, and where it breaks. */
export function ChainSheet({ item, editable }: { item: CaseDetail; editable: boolean }) {
  const { profile } = useTheBench();
  const [what, setWhat] = useState<WhatToMeasure>();
  const entries = entriesOf(item);
  const { links, breaks, says } = driveChain(entries, profile);
  const { name, tone } = BREAKS[breaks];
  return (
    <section aria-label="From command to pump" className="space-y-2">
      <p role="status">
        <span className={`block text-2xl leading-tight font-bold ${tone}`}>{name}</span>
        {says}
      </p>
      <div className="grid grid-cols-2 gap-2 md:grid-cols-4">
        {links.map(({ kind, at }) => {
          const entry = newestEntry(entries, kind, at);
          const station = profile.stations.find(({ id }) => id === at);
          return station ? (
            <StationTile key={`${kind} ${at}`} caseId={item.id} kind={kind} name={station.name} entry={entry} />
          ) : (
            <ReadingTile
              key={`${kind} ${at}`}
              kind={kind}
              at={at}
              entry={entry}
              onMeasure={editable ? () => setWhat({ kind, at }) : undefined}
            />
          );
        })}
      </div>
      {what && <MeasureSheet caseId={item.id} what={what} onClose={() => setWhat(undefined)} />}
    </section>
  );
}

/** What is read on the path stands there, with its key state and reference; it is read there too. */
function StationTile({
  caseId,
  kind,
  name,
  entry,
}: {
  readonly caseId: string;
  readonly kind: EntryKind;
  readonly name: string;
  readonly entry: Entry | undefined;
}) {
  const unit = kind === 'voltage' ? 'V' : 'A';
  return (
    <Link
      to={`/cases/${caseId}/power-path`}
      className="flex flex-col rounded-xl border border-line p-2 text-left hover:border-ink"
    >
      <span className="label line-clamp-2 block min-h-9 leading-tight">
        {kind === 'voltage' ? `Module supply, at ${name}` : 'Pump current'}
      </span>
      {typeof entry?.value === 'number' ? (
        <span className="text-4xl leading-tight font-bold whitespace-nowrap">
          {entry.value.toFixed(unit === 'V' ? 2 : 1)} <span className="text-base font-normal text-soft">{unit}</span>
        </span>
      ) : (
        <span className="flex min-h-9 items-center text-soft">on the power path</span>
      )}
    </Link>
  );
}
