import type { Intake } from '@jarro/core';
import { useState } from 'react';
import type { CaptureValue, CaseDetail, EvidenceItem } from '@jarro/api-types';
import { usePressureUnit } from '../../app/units';
import { KEY_STATE_NAMES, when } from '../../app/words';
import { VoidEntry } from '../case/void-entry';
import { IntakeVersion } from '../intake/intake-version';
import { useMay } from '../session/use-may';
import { describeLink, VOIDABLE } from './describe-link';
import { SealPanel } from './seal-panel';

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
  const editable = item.stage === 'open' && may('measure');
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

function LinkRow({ item, link, editable }: { item: CaseDetail; link: EvidenceItem; editable: boolean }) {
  const unit = usePressureUnit();
  const { title, text } = describeLink(link, item, unit);
  return (
    <li className="grid grid-cols-[2.5rem_1fr_auto] items-start gap-x-2 border-b border-line py-1.5">
      <span className="text-soft">{link.sequence}</span>
      <div>
        <p className={link.voided ? 'text-soft line-through' : ''}>
          <span className="font-semibold">{title}</span> {text}
        </p>
        {link.kind === 'intake' && <IntakeVersion intake={link.value as Intake} before={intakeBefore(item, link)} />}
        <p className="label">
          {link.takenBy}, {when(link.takenAt)}
          {link.keyState && ` · ${KEY_STATE_NAMES[link.keyState].toLowerCase()}`}
          {link.faultPresent !== null && ` · fault ${link.faultPresent ? 'present' : 'absent'}`}
          {link.kind === 'capture' && <OriginalLink link={link} />}
          {link.voided && ` · voided by ${link.voided.by}: ${link.voided.reason}`}
        </p>
      </div>
      {editable && !link.voided && VOIDABLE.has(link.kind) && <VoidEntry caseId={item.id} id={link.id} />}
    </li>
  );
}
