import { stageGuide, type Stage } from '@jarro/core';
import { Check } from 'lucide-react';
import type { ReactNode } from 'react';
import type { CaseDetail } from '@jarro/api-types';
import { useMay } from '../session/use-may';
import { Acknowledge } from './acknowledge';
import { useTheBench } from './bench';
import { openCautions } from './cautions';
import { takesReadings } from './evidence';
import { FaultBar } from './fault-bar';
import { progressOf } from './progress';

/** A stage of the case: what it is for, where it can hurt, how it is got wrong, and its work. */
export function StageFrame({
  item,
  stage,
  workFirst = false,
  asksFault = false,
  harmless = false,
  children,
}: {
  item: CaseDetail;
  stage: Stage;
  /** The work has a title of its own and needs the room: cautions stand below it. */
  workFirst?: boolean;
  /** Its entries are made with one press, so that whether the fault shows is asked once for all. */
  asksFault?: boolean;
  /** Nothing of this stage's work can hurt anybody in this case: its cautions hold nothing up. */
  harmless?: boolean;
  children: ReactNode;
}) {
  const { title, purpose, cautions, mistakes } = stageGuide(stage);
  const open = openCautions(item, stage);
  const may = useMay();
  const worked = stage === 'repair' ? item.stage === 'decided' : takesReadings(item);
  const held = open.length > 0 && !harmless && worked && may('measure');
  return (
    <div className="space-y-4">
      {workFirst && !held ? (
        children
      ) : (
        <header className="flex flex-wrap items-baseline gap-x-3">
          <h2 className="text-2xl">{title}</h2>
          <p className="text-soft">{purpose}</p>
        </header>
      )}
      <OpenLine item={item} stage={stage} />
      {held ? (
        <Acknowledge caseId={item.id} cautions={open} />
      ) : (
        cautions.length > 0 && (
          <details className="border-l-4 border-ochre pl-3 text-[0.93rem]">
            <summary className="cursor-pointer py-1 font-semibold">
              Take care: {cautions.map(({ name }) => name.toLowerCase()).join(' · ')}
            </summary>
            <ul className="space-y-1">
              {cautions.map(({ id, text }) => (
                <li key={id}>{text}</li>
              ))}
            </ul>
          </details>
        )
      )}
      {asksFault && !held && item.stage === 'open' && may('measure') && <FaultBar caseId={item.id} />}
      {!held && !workFirst && children}
      {mistakes.length > 0 && (
        <details className="border-t border-line pt-2">
          <summary className="label min-h-11 cursor-pointer py-2.5">Common mistakes here</summary>
          <ul className="list-disc space-y-1 pl-5 text-[0.93rem]">
            {mistakes.map((text) => (
              <li key={text}>{text}</li>
            ))}
          </ul>
        </details>
      )}
    </div>
  );
}

const MOST_OPEN = 5;

/** What is still open in this stage, in a line. */
function OpenLine({ item, stage }: { item: CaseDetail; stage: Stage }) {
  const { ladders } = useTheBench();
  if (item.stage !== 'open' || stage === 'verdict' || stage === 'closed') return null;
  const { open } = progressOf(item, ladders)[stage];
  if (open.length === 0) {
    return (
      <p className="flex items-center gap-1.5 text-[0.93rem] text-mineral">
        <Check aria-hidden className="size-4" /> Nothing is left to do here.
      </p>
    );
  }
  const more = open.length - MOST_OPEN;
  return (
    <p className="text-[0.93rem] text-soft">
      Still to do: {open.slice(0, MOST_OPEN).join(', ')}
      {more > 0 && ` and ${more} more`}
    </p>
  );
}
