import { type EntryKind, findMeasure, type Intake, KEY_STATE_NAMES } from '@jarro/core';
import { Camera } from 'lucide-react';
import { useState } from 'react';
import type { CaptureValue, CaseDetail, EvidenceItem } from '@jarro/api-types';
import { usePressureUnit } from '../../app/units';
import { when } from '../../app/words';
import { mayBeVoided } from '../case/evidence';
import { VoidEntry } from '../case/void-entry';
import { Button } from '../../ui/button';
import { Sheet } from '../../ui/sheet';
import { Photos, photosOf } from '../notes/photos';
import { IntakeVersion } from '../intake/intake-version';
import { useMay } from '../session/use-may';
import { describeLink } from './describe-link';
import { SealPanel } from './seal-panel';
import { TakeOut } from './take-out';

const FILTERS = {
  all: 'Everything',
  standing: 'What stands',
  voided: 'Voided',
} as const;
type Filter = keyof typeof FILTERS;

/** Every link of the case's chain, newest first: dated, by whom, in which state, sealed. */
export function EvidenceView({ item }: { item: CaseDetail }) {
  const [filter, setFilter] = useState<Filter>('all');
  const may = useMay();
  const editable = may('measure');
  const shown = item.evidence.filter(
    ({ voided, kind }) => filter === 'all' || (filter === 'voided' ? voided : !voided && kind !== 'void'),
  );
  return (
    <div className="space-y-3">
      <header className="flex flex-wrap items-center justify-between gap-3">
        <h2 className="text-2xl">Evidence</h2>
        <select
          aria-label="Show"
          className="input w-auto"
          value={filter}
          onChange={(event) => setFilter(event.target.value as Filter)}
        >
          {(Object.keys(FILTERS) as Filter[]).map((value) => (
            <option key={value} value={value}>
              {FILTERS[value]}
            </option>
          ))}
        </select>
      </header>
      {item.seal.entries > 0 && <SealPanel item={item} />}
      {shown.length === 0 && (
        <p className="text-soft">Nothing here yet. Whatever is read or seen is kept here, in order.</p>
      )}
      {may('manage') && item.seal.entries > 0 && <TakeOut item={item} />}
      <ol aria-label="Entries">
        {[...shown].reverse().map((link) => (
          <LinkRow key={link.id} item={item} link={link} editable={editable} />
        ))}
      </ol>
    </div>
  );
}

function intakeBefore({ evidence }: CaseDetail, { sequence }: EvidenceItem): Intake | undefined {
  const earlier = evidence.filter((link) => link.kind === 'intake' && link.sequence < sequence);
  return earlier.at(-1)?.value as Intake | undefined;
}

function OriginalLink({ link: { id, value } }: { link: EvidenceItem }) {
  const isKept = (value as CaptureValue).contentSha256 !== undefined;
  return isKept ? (
    <>
      {' · '}
      <a className="underline" href={`/api/captures/${id}/original`}>
        original file
      </a>
    </>
  ) : (
    ' · original file not kept'
  );
}

/** What is a picture itself, or is about the record and nothing that one could photograph. */
const WITHOUT_PHOTO: ReadonlySet<EvidenceItem['kind']> = new Set([
  ...(['photo', 'intake', 'analysis', 'verdict', 'caution', 'system', 'void', 'removal'] as const),
]);

/** A picture of the meter says more than its number typed. */
function PhotosOfEntry({ item, link, title }: { item: CaseDetail; link: EvidenceItem; title: string }) {
  const [open, setOpen] = useState(false);
  const photos = photosOf(item, { entry: link.id });
  if (photos.length === 0 && item.stage === 'closed') return null;
  return (
    <>
      <Button look="bare" title="Photos of this entry" onClick={() => setOpen(true)}>
        <Camera aria-hidden className="size-5" />
        <span className="sr-only">Photos of {title}:</span> {photos.length > 0 && photos.length}
      </Button>
      {open && (
        <Sheet title={`Photos of ${title}`} open onClose={() => setOpen(false)}>
          <Photos
            item={item}
            stage={findMeasure(link.kind as EntryKind, link.at)?.stage ?? 'power-path'}
            about={{ entry: link.id }}
          />
        </Sheet>
      )}
    </>
  );
}

/** A capture has a moment too. */
function momentOf({ keyState, faultPresent }: EvidenceItem): string {
  return keyState ? `${KEY_STATE_NAMES[keyState].toLowerCase()}, fault ${faultPresent ? 'present' : 'absent'}` : '';
}

function LinkRow({ item, link, editable }: { item: CaseDetail; link: EvidenceItem; editable: boolean }) {
  const unit = usePressureUnit();
  const { title, text, moment } = describeLink(link, item, unit);
  return (
    <li className="grid grid-cols-[2.5rem_1fr_auto] items-start gap-x-2 border-b border-line py-1.5">
      <span className="text-soft">{link.sequence}</span>
      <div>
        <p className={link.voided ? 'text-soft line-through' : ''}>
          <span className="font-semibold">{title}:</span> {[text, moment || momentOf(link)].filter(Boolean).join(', ')}
        </p>
        {link.kind === 'intake' && <IntakeVersion intake={link.value as Intake} before={intakeBefore(item, link)} />}
        <p className="label">
          {link.takenBy}, {when(link.takenAt)}
          {link.kind === 'capture' && <OriginalLink link={link} />}
          {link.voided && ` · voided by ${link.voided.by}: ${link.voided.reason}`}
        </p>
      </div>
      <div className="flex items-center gap-1">
        {!WITHOUT_PHOTO.has(link.kind) && <PhotosOfEntry item={item} link={link} title={title} />}
        {editable && mayBeVoided(item, link) && <VoidEntry caseId={item.id} id={link.id} />}
      </div>
    </li>
  );
}
