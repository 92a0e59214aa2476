import type { Diagnosis, NextTest, Stage } from '@jarro/core';
import { isStationKind, type StationReading } from '../path/station-kinds';

const STAGES: Partial<Record<NextTest['reading']['kind'], Stage>> = {
  pressure: 'pressure',
  hold: 'pressure',
  volume: 'pressure',
  scan: 'pressure',
  timing: 'pressure',
  check: 'first-checks',
  battery: 'first-checks',
  capture: 'current',
};

/** The one thing to do next: what, how long, why, and where it is entered. */
export function NextTestCard({
  diagnosis,
  moduleId,
  onReading,
  onStage,
}: {
  diagnosis: Diagnosis;
  /** Station at which a duty is read. */
  moduleId: string | undefined;
  onReading: (reading: StationReading) => void;
  onStage: (stage: Stage) => void;
}) {
  const [next, ...others] = diagnosis.nextTests.filter((test) => test.bits > 0.01);
  if (!next) return null;
  const take = ({ reading: { kind, at, state, reference } }: NextTest) => {
    if (isStationKind(kind)) {
      const station = kind === 'duty' ? (moduleId ?? at) : at;
      onReading({ station, kind, state, ...(reference && { reference }) });
    } else onStage(STAGES[kind] ?? 'power-path');
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
    </section>
  );
}
