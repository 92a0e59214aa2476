import { recordOf, type Contradiction } from '@jarro/core';
import { RotateCcw } from 'lucide-react';
import type { CaseDetail } from '@jarro/api-types';
import { usePressureUnit } from '../../app/units';
import { describeLink } from '../evidence/describe-link';

const MOST_NAMED = 2;

/** Readings that can't all be true, before anything is built on them; and those that a repeat or the rest has settled. */
export function RepeatFirst({ item, contradictions }: { item: CaseDetail; contradictions: readonly Contradiction[] }) {
  const unit = usePressureUnit();
  const named = (ids: readonly string[]) => {
    const links = item.evidence.filter(({ id }) => ids.some((reading) => recordOf(reading) === id));
    const names = links.map((link) => `${link.sequence}: ${Object.values(describeLink(link, item, unit)).join(' ')}`);
    const more = names.length - MOST_NAMED;
    return more > 0 ? `${names.slice(0, MOST_NAMED).join('; ')} and ${more} more` : names.join('; ');
  };
  const list = (title: string, shown: readonly Contradiction[], frame: string) =>
    shown.length > 0 && (
      <section aria-label={title} className={`rounded-2xl p-3 ${frame}`}>
        <h3 className="flex items-center gap-2">
          <RotateCcw aria-hidden className="size-5 text-ochre" /> {title}
        </h3>
        <ul className="mt-1 space-y-1.5 text-[0.93rem]">
          {shown.map(({ readings, explanation }) => (
            <li key={explanation}>
              <span className="block font-semibold">{named(readings)}</span>
              {explanation}
            </li>
          ))}
        </ul>
      </section>
    );
  return (
    <>
      {list(
        'Repeat first',
        contradictions.filter(({ settled }) => !settled),
        'border-2 border-ochre',
      )}
      {list(
        'Seen and settled',
        contradictions.filter(({ settled }) => settled),
        'border border-line',
      )}
    </>
  );
}
