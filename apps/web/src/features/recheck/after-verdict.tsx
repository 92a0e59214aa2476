import { repairState, testName, type Stage } from '@jarro/core';
import type { StationReading } from '../path/station-kinds';
import { useTheBench } from '../case/bench';
import { handOverOf } from './use-recheck';
import { questionOf } from './question-of';
import { placeOfTest } from '../scale/place-of-test';

interface Next {
  readonly title: string;
  readonly why: string;
  readonly go: () => void;
}

/** What comes next once the verdict stands: the repair, each failing test again, the hand-over. */
export function AfterVerdict({
  onReading,
  onStage,
}: {
  onReading: (reading: StationReading) => void;
  onStage: (stage: Stage) => void;
}) {
  const next = useNext(onReading, onStage);
  const { item, rechecked } = useTheBench();
  const repeats = rechecked && 'result' in rechecked ? rechecked.result.repeats : [];
  const again = repeats.filter(({ result }) => result !== 'open').length;
  return (
    <section aria-label="After the verdict" className="space-y-2">
      {next && (
        <button
          type="button"
          onClick={next.go}
          className="block w-full rounded-2xl bg-rust p-4 text-left text-on-rust hover:brightness-110"
        >
          <span className="text-[0.87rem]">Do next</span>
          <span className="mt-1 block font-title text-lg leading-snug font-bold">{next.title}</span>
          <span className="mt-1 block">{next.why}</span>
        </button>
      )}
      {repeats.length > 0 && item.stage === 'decided' && (
        <p>
          <span className="text-2xl font-bold">
            {again} of {repeats.length}
          </span>{' '}
          failing tests repeated
        </p>
      )}
    </section>
  );
}

function useNext(onReading: (reading: StationReading) => void, onStage: (stage: Stage) => void): Next | undefined {
  const { item, profile, rechecked } = useTheBench();
  if (item.stage !== 'decided') return undefined;
  const repair = repairState(item.evidence, item.stage);
  if (repair && !repair.done) {
    const { open, plan } = repair;
    const why =
      open.length > 0 ? `${open.length} of ${plan.steps.length} particulars are open.` : 'Say that it is finished.';
    return { title: plan.title, why, go: () => onStage('repair') };
  }
  // What isn't compared yet can't be ready.
  const recheck = rechecked && 'result' in rechecked ? rechecked.result : undefined;
  if (!recheck) return undefined;
  const { fails, ready, needs } = handOverOf(item, rechecked);
  if (fails)
    return { title: 'The recheck fails', why: 'Reopen the case with what it taught.', go: () => onStage('recheck') };
  const repeat = recheck.repeats.find(({ result }) => result === 'open');
  const link = repeat && item.evidence.find(({ id }) => id === repeat.before);
  if (link) {
    const place = placeOfTest(questionOf(link), profile.stations.find(({ kind }) => kind === 'module')?.id);
    const go = () => ('stage' in place ? onStage(place.stage) : onReading(place));
    return { title: testName(link.id, item.evidence), why: 'It showed the fault: take it again.', go };
  }
  if (ready) return { title: 'Hand the vehicle back', why: 'Everything stands.', go: () => onStage('closed') };
  const open = needs.find(({ state }) => state === 'open');
  return open && { title: 'Finish the recheck', why: open.text, go: () => onStage('recheck') };
}
