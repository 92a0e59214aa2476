import type { Recheck } from '@jarro/core';
import type { CaseDetail } from '@jarro/api-types';
import { TriangleAlert } from 'lucide-react';
import { useTheBench } from '../case/bench';
import { useMay } from '../session/use-may';
import { Reopen } from './reopen';
import { handOverOf } from './use-recheck';

/** The repair didn't mend it: nothing else matters until the case is back on the bench. */
export function Failed({ item, recheck }: { item: CaseDetail; recheck?: Recheck }) {
  const { rechecked } = useTheBench();
  const may = useMay();
  const failing = handOverOf(item, rechecked).needs.filter(({ state }) => state === 'fails');
  const now = recheck?.remaining.map(({ title }) => title.toLowerCase()).join(', or ');
  return (
    <section aria-label="The recheck fails" className="space-y-3 rounded-2xl border-2 border-rust p-4">
      <h3 className="flex items-center gap-2 text-xl text-rust">
        <TriangleAlert aria-hidden className="size-6" /> The recheck fails
      </h3>
      <ul className="list-disc pl-5 text-lg">
        {failing.map(({ text }) => (
          <li key={text}>{text}</li>
        ))}
      </ul>
      {now && <p>What was read since speaks for {now}.</p>}
      {may('decide') && <Reopen caseId={item.id} suggested={failing.map(({ text }) => text).join(' ')} />}
    </section>
  );
}
