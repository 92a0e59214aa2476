import { recordOf, type Contradiction } from '@jarro/core';
import { RotateCcw } from 'lucide-react';
import type { CaseDetail } from '../../app/types';
import { usePressureUnit } from '../../app/units';
import { describeLink } from '../evidence/describe-link';

const MOST_NAMED = 2;

/** Readings that can't all be true, before anything is built on them. */
export function RepeatFirst({ item, contradictions }: { item: CaseDetail; contradictions: readonly Contradiction[] }) {
  const unit = usePressureUnit();
  const named = (ids: readonly string[]) => {
    const links = item.evidence.filter(({ id }) => ids.some((reading) => recordOf(reading) === id));
    const names = links.map((link) => `${link.sequence}: ${Object.values(describeLink(link, item, unit)).join(' ')}`);
    const more = names.length - MOST_NAMED;
    return more > 0 ? `${names.slice(0, MOST_NAMED).join('; ')} and ${more} more` : names.join('; ');
  };
  if (contradictions.length === 0) return null;
  return (
    <section aria-label="Repeat first" className="rounded-2xl border-2 border-ochre p-3">
      <h3 className="flex items-center gap-2">
        <RotateCcw aria-hidden className="size-5 text-ochre" /> Repeat first
      </h3>
      <ul className="mt-1 space-y-1.5 text-[0.93rem]">
        {contradictions.map(({ readings, explanation }) => (
          <li key={explanation}>
            <span className="block font-semibold">{named(readings)}</span>
            {explanation}
          </li>
        ))}
      </ul>
    </section>
  );
}
