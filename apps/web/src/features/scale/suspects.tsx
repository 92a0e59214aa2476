import { FAMILY_NAMES, recordOf, type Diagnosis, type SuspectWeight } from '@jarro/core';
import { Minus, Plus } from 'lucide-react';
import type { CaseDetail } from '@jarro/api-types';
import { usePressureUnit } from '../../app/units';
import { describeLink } from '../evidence/describe-link';

const SHOWN = 4;
const LEAST = 0.02;
const MOST_REASONS = 2;

/** The suspects with their weights, and which readings moved each. */
export function Suspects({ item, diagnosis }: { item: CaseDetail; diagnosis: Diagnosis }) {
  const shown = diagnosis.suspects.slice(0, SHOWN).filter(({ probability }, i) => i === 0 || probability > LEAST);
  return (
    <section aria-label="Suspects">
      <h3 className="mb-1.5">Suspects</h3>
      <ol className="space-y-2.5">
        {shown.map((suspect, i) => (
          <SuspectRow key={suspect.id} item={item} suspect={suspect} first={i === 0} />
        ))}
      </ol>
    </section>
  );
}

function SuspectRow({ item, suspect, first }: { item: CaseDetail; suspect: SuspectWeight; first: boolean }) {
  const { title, family, probability, because, against } = suspect;
  // Nothing here is ever certain.
  const percent = Math.min(99, Math.round(100 * probability));
  return (
    <li>
      <div className="flex items-baseline justify-between gap-2">
        <span className="leading-tight font-semibold">{title}</span>
        <span className={`leading-none font-bold whitespace-nowrap ${first ? 'text-3xl' : 'text-lg'}`}>
          {percent} %
        </span>
      </div>
      <div aria-hidden className="mt-1 h-2 rounded-full bg-line/60">
        <div className={`h-full rounded-full ${first ? 'bg-rust' : 'bg-steel'}`} style={{ width: `${percent}%` }} />
      </div>
      {first && <p className="label mt-0.5">{FAMILY_NAMES[family]}</p>}
      <ul className="text-[0.87rem]">
        {because.slice(0, MOST_REASONS).map((id) => (
          <Reason key={id} item={item} id={id} speaks="for" />
        ))}
        {against.slice(0, first ? 1 : MOST_REASONS).map((id) => (
          <Reason key={id} item={item} id={id} speaks="against" />
        ))}
      </ul>
    </li>
  );
}

function Reason({ item, id, speaks }: { item: CaseDetail; id: string; speaks: 'for' | 'against' }) {
  const unit = usePressureUnit();
  const link = item.evidence.find((candidate) => candidate.id === recordOf(id));
  if (!link) return null;
  const { title, text } = describeLink(link, item, unit);
  const Mark = speaks === 'for' ? Plus : Minus;
  return (
    <li className="flex items-start gap-1">
      <Mark
        aria-label={speaks}
        className={`mt-0.5 size-3.5 shrink-0 ${speaks === 'for' ? 'text-rust' : 'text-mineral'}`}
      />
      <span className="min-w-0 truncate" title={`${title} ${text}`}>
        {title} {text}
      </span>
    </li>
  );
}
