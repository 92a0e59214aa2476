import {
  BENCH_ANSWERS,
  isBenchKind,
  STATION_IDS,
  type Diagnosis,
  type LadderStation,
  type NextTest,
  type Stage,
} from '@jarro/core';
import { useState } from 'react';
import { errorText, useAddEntryMutation } from '../../app/api';
import type { CaseDetail, ReadingKind } from '../../app/types';
import { Button } from '../../ui/button';
import { ErrorNotice } from '../../ui/notice';
import { Sheet } from '../../ui/sheet';

const STATIONS = Object.entries(STATION_IDS) as [LadderStation, string][];
const STAGES: Partial<Record<NextTest['reading']['kind'], Stage>> = {
  pressure: 'pressure',
  hold: 'pressure',
  volume: 'pressure',
  scan: 'pressure',
  check: 'first-checks',
  battery: 'first-checks',
  capture: 'current',
};

type Way = { readonly station: ReadingKind } | { readonly stage: Stage } | 'answer';

/** How a proposed test is entered here; undefined for one that has no place yet. */
function wayTo({ reading: { kind, at } }: NextTest): Way | undefined {
  if (kind === 'current') return { station: 'current' };
  if (kind === 'voltage') {
    const station = STATIONS.find(([, id]) => id === at)?.[0];
    return station && { station };
  }
  if (isBenchKind(kind)) return 'answer';
  const stage = STAGES[kind];
  return stage && { stage };
}

/** The one thing to do next: what, how long, why, and where it is entered. */
export function NextTestCard({
  item,
  diagnosis,
  onStation,
  onStage,
}: {
  item: CaseDetail;
  diagnosis: Diagnosis;
  onStation: (kind: ReadingKind) => void;
  onStage: (stage: Stage) => void;
}) {
  const [answering, setAnswering] = useState<NextTest>();
  const [next, ...others] = diagnosis.nextTests.filter((test) => test.bits > 0.01 && wayTo(test));
  if (!next) return null;
  const take = (test: NextTest) => {
    const way = wayTo(test);
    if (way === 'answer') setAnswering(test);
    else if (way && 'station' in way) onStation(way.station);
    else if (way) onStage(way.stage);
  };
  return (
    <section aria-label="Next test">
      <button
        type="button"
        onClick={() => take(next)}
        className="block w-full rounded-2xl bg-rust p-4 text-left text-on-rust hover:brightness-110"
      >
        <span className="flex justify-between text-[0.87rem]">
          <span>Do next</span>
          <span>{next.minutes} min</span>
        </span>
        <span className="mt-1 block font-title text-lg leading-snug font-bold">{next.title}</span>
        <span className="mt-1 block">{next.why}</span>
      </button>
      {others.slice(0, 2).map((test) => (
        <button
          key={test.id}
          type="button"
          onClick={() => take(test)}
          className="mt-1 flex min-h-11 w-full items-center justify-between gap-2 rounded-xl border border-line px-3 py-1 text-left text-[0.93rem] leading-tight hover:border-ink"
        >
          <span>{test.title}</span>
          <span className="label whitespace-nowrap">{test.minutes} min</span>
        </button>
      ))}
      {answering && <AnswerSheet caseId={item.id} test={answering} onClose={() => setAnswering(undefined)} />}
    </section>
  );
}

/** One press is the answer; what can hurt someone stands above it. */
function AnswerSheet({ caseId, test, onClose }: { caseId: string; test: NextTest; onClose: () => void }) {
  const [addEntry, { error, isLoading }] = useAddEntryMutation();
  const { kind, at, state } = test.reading;
  if (!isBenchKind(kind)) return null;
  const say = async (value: string) => {
    const result = await addEntry({ caseId, kind, at, value, keyState: state, faultPresent: true });
    if (!('error' in result)) onClose();
  };
  return (
    <Sheet title={test.title} hint={test.why} open onClose={onClose}>
      <div className="space-y-4">
        {test.cautions.length > 0 && (
          <ul className="space-y-1 rounded-2xl border-2 border-rust p-3 font-semibold">
            {test.cautions.map((caution) => (
              <li key={caution}>{caution}</li>
            ))}
            <li className="label font-normal">Local codes and a qualified person’s judgement come first.</li>
          </ul>
        )}
        <div className="grid grid-cols-2 gap-3">
          {BENCH_ANSWERS[kind].map((answer) => (
            <Button
              key={answer}
              look="ink"
              className="min-h-20 text-2xl capitalize"
              onClick={() => void say(answer)}
              disabled={isLoading}
            >
              {answer}
            </Button>
          ))}
        </div>
        <ErrorNotice text={errorText(error)} />
      </div>
    </Sheet>
  );
}
