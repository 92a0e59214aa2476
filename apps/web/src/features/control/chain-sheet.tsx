import {
  chainWindow,
  driveChain,
  findNumber,
  KEY_STATE_NAMES,
  newestEntry,
  shownAs,
  moduleSupply,
  signalEntries,
  type Station,
  type DriveChain,
  type DriveLink,
  type Entry,
  type EntryKind,
  type LinkWindow,
  type Shown,
} from '@jarro/core';
import { useState, type ReactNode } from 'react';
import { Link } from 'react-router';
import type { CaseDetail } from '@jarro/api-types';
import { useTheBench } from '../case/bench';
import { usePressureUnit } from '../../app/units';
import { momentOf, entriesOf, standingCaptures } from '../case/evidence';
import { MeasureSheet, type WhatToMeasure } from '../case/measure-sheet';
import { isSameReading } from '../case/same-reading';
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

/**
 * Everything that an untrained eye needs on a driven pump, in the order of the chain, each with what it should read and where
 * it comes from; and where the chain breaks.
 */
export function ChainSheet({ item, editable }: { item: CaseDetail; editable: boolean }) {
  const { profile, rules } = useTheBench();
  const [what, setWhat] = useState<WhatToMeasure>();
  const entries = entriesOf(item);
  const { links, breaks, says } = driveChain(entries, profile);
  const { name, tone } = BREAKS[breaks];
  const grounds = { profile, rules, pressure: item.sheet.windows };
  return (
    <section aria-label="From command to pump" className="space-y-2">
      <p role="status">
        <span className={`block text-2xl leading-tight font-bold ${tone}`}>{name}</span>
        {says}
      </p>
      <div className="grid grid-cols-2 gap-2 md:grid-cols-4">
        {links.map((link) => {
          const { kind, at } = link;
          const entry = newestEntry(entries, kind, at);
          const station = profile.stations.find(({ id }) => id === at);
          const below = <Below item={item} link={link} entry={entry} window={chainWindow(link, entries, grounds)} />;
          return station ? (
            <StationTile key={`${kind} ${at}`} caseId={item.id} kind={kind} name={station.name} entry={entry}>
              {below}
            </StationTile>
          ) : (
            <ReadingTile
              key={`${kind} ${at}`}
              kind={kind}
              at={at}
              entry={entry}
              onMeasure={editable ? () => setWhat({ kind, at }) : undefined}
            >
              {below}
            </ReadingTile>
          );
        })}
      </div>
      {what && <MeasureSheet caseId={item.id} what={what} onClose={() => setWhat(undefined)} />}
    </section>
  );
}

/** What a link should read, and where what it reads comes from. */
function Below({
  item,
  link,
  entry,
  window,
}: {
  item: CaseDetail;
  link: DriveLink;
  entry: Entry | undefined;
  window: LinkWindow | undefined;
}) {
  const pressure = usePressureUnit();
  const { profile } = useTheBench();
  const unit = findNumber(link.kind, link.at)?.value.unit ?? (link.kind === 'voltage' ? 'V' : 'A');
  const shown = shownAs(unit, link.at, pressure);
  const value = typeof entry?.value === 'number' ? entry.value : undefined;
  const isOff =
    value !== undefined && window && (value < (window.least ?? -Infinity) || value > (window.most ?? Infinity));
  return (
    <>
      {window && (
        <span className={`label block leading-tight ${isOff ? 'font-semibold text-rust' : ''}`}>
          {windowText(window, shown)}, {window.by}
        </span>
      )}
      {entry && (
        <span className="label block leading-tight">
          {fromWhere(item, entry, profile.stations)}, {KEY_STATE_NAMES[entry.keyState].toLowerCase()}
        </span>
      )}
    </>
  );
}

function windowText({ least, most }: LinkWindow, { unit, text }: Shown): string {
  if (least === undefined) return `at most ${text(most ?? 0)} ${unit}`;
  return most === undefined ? `${text(least)} ${unit} and more` : `${text(least)} to ${text(most)} ${unit}`;
}

/** Where a reading comes from: read off the scan tool, measured in a capture and taken over, or typed. */
function fromWhere(item: CaseDetail, entry: Entry, stations: readonly Station[]): string {
  if (entry.kind === 'scan') return 'scan tool';
  const isMeasured = standingCaptures(item).some(
    (capture) =>
      capture.analysis &&
      signalEntries(capture.analysis, momentOf(capture).keyState, moduleSupply(stations)).some((one) =>
        isSameReading(one, entry),
      ),
  );
  return isMeasured ? 'capture' : 'typed';
}

/** What is read on the path stands there, with its key state and reference; it is read there too. */
function StationTile({
  caseId,
  kind,
  name,
  entry,
  children,
}: {
  readonly caseId: string;
  readonly kind: EntryKind;
  readonly name: string;
  readonly entry: Entry | undefined;
  readonly children: ReactNode;
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
      {children}
    </Link>
  );
}
