import { markText, type RecordMark } from '@jarro/core';
import type { CaseDetail, EvidenceItem } from '@jarro/api-types';
import { Button } from '../../ui/button';
import { mayBeVoided, standing } from '../case/evidence';
import { VoidEntry } from '../case/void-entry';

/** A mark with the link that keeps it. */
export interface KeptMark extends RecordMark {
  readonly link: EvidenceItem;
}

/** Marks that stand on a capture, in the order of its time. */
export function marksOf(item: CaseDetail, captureId: string): KeptMark[] {
  return standing(item)
    .filter(({ kind, at }) => kind === 'mark' && at === captureId)
    .map((link) => ({ ...(link.value as RecordMark), link }))
    .sort((a, b) => a.atS - b.atS);
}

/** What people marked on a record: when on its time, what, by whom. */
export function Marks({
  item,
  marks,
  onShow,
}: {
  readonly item: CaseDetail;
  readonly marks: readonly KeptMark[];
  readonly onShow: (mark: KeptMark) => void;
}) {
  if (marks.length === 0) return null;
  return (
    <section aria-label="Marks">
      <h3 className="text-xl">Marks</h3>
      <ol className="divide-y divide-line border-y border-line">
        {marks.map((mark, i) => (
          <li key={mark.link.id} className="flex flex-wrap items-center gap-x-4 py-1">
            <span className="grid size-7 place-items-center rounded-md border border-ink font-semibold">{i + 1}</span>
            <span className="w-24 font-semibold">{mark.atS.toFixed(3)} s</span>
            <span className="mr-auto">
              {markText(mark)} <span className="label">{mark.link.takenBy}</span>
            </span>
            <Button onClick={() => onShow(mark)}>Show</Button>
            {mayBeVoided(item, mark.link) && <VoidEntry caseId={item.id} id={mark.link.id} />}
          </li>
        ))}
      </ol>
    </section>
  );
}
