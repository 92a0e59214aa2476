import { NOT_POSSIBLE, type Diagnosis, type NextTest, type Stage } from '@jarro/core';
import { placeOfTest } from './place-of-test';
import { errorText, useAddEntryMutation } from '../../app/api';
import { ErrorNotice } from '../../ui/notice';
import type { StationReading } from '../path/station-kinds';

/** The one thing to do next: what, how long, why, and where it is entered; or what remains when nothing tells any more. */
export function NextTestCard({
  caseId,
  diagnosis,
  moduleId,
  onReading,
  onStage,
}: {
  caseId: string;
  diagnosis: Diagnosis;
  /** Station at which a duty is read. */
  moduleId: string | undefined;
  onReading: (reading: StationReading) => void;
  onStage: (stage: Stage) => void;
}) {
  const [addEntry, { error, isLoading }] = useAddEntryMutation();
  const [next, ...others] = diagnosis.nextTests;
  if (!next) return <Remains texts={diagnosis.remains} />;
  const { kind, at, state, reference } = next.reading;
  const skip = () => {
    void addEntry({
      caseId,
      // No scope here: nobody reads a pattern off one either.
      kind: kind === 'capture' ? 'pattern' : kind,
      at,
      value: NOT_POSSIBLE,
      keyState: state,
      faultPresent: true,
      ...(reference && { reference }),
    });
  };
  const take = ({ reading }: NextTest) => {
    const place = placeOfTest(reading, moduleId);
    if ('stage' in place) onStage(place.stage);
    else onReading(place);
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
      {error && <ErrorNotice text={errorText(error)} />}
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
      <button
        type="button"
        disabled={isLoading}
        onClick={skip}
        aria-label={`Can’t be done here: ${next.title}`}
        className="mt-1 min-h-11 w-full rounded-xl px-3 text-left text-[0.93rem] text-soft underline hover:text-ink"
      >
        Can’t be done here
      </button>
    </section>
  );
}

/** Nothing that could still be asked would change anything. */
function Remains({ texts }: { texts: readonly string[] }) {
  return (
    <section aria-label="Next test" className="rounded-2xl border border-line bg-card p-4">
      <h3>Nothing more to ask</h3>
      <ul className="mt-1 space-y-1">
        {texts.map((text) => (
          <li key={text}>{text}</li>
        ))}
      </ul>
    </section>
  );
}
