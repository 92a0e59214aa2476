import { FAMILY_NAMES, heldPointers, type Pointer, type Stage } from '@jarro/core';
import type { StationReading } from '../path/station-kinds';
import { GateCard } from '../scale/gate-card';
import { NextTestCard } from '../scale/next-test';
import { RepeatFirst } from '../scale/repeat-first';
import { Suspects } from '../scale/suspects';
import { AfterVerdict } from '../recheck/after-verdict';
import { useTheBench, type Bench } from './bench';
import { isRechecked } from './evidence';
import { progressOf } from './progress';

export const SCALE_ID = 'scale';

/** The weights on every suspect, the one thing to do next, and what stands between the evidence and condemning the pump. */
export function Scale({
  onReading,
  onStage,
}: {
  onReading: (reading: StationReading) => void;
  onStage: (stage: Stage) => void;
}) {
  const bench = useTheBench();
  const { item, profile, ladders, weighed } = bench;
  const stage = item.stage === 'open' ? nextStage(bench) : undefined;
  const diagnosis = weighed && 'diagnosis' in weighed ? weighed.diagnosis : undefined;
  return (
    <aside id={SCALE_ID} aria-label="The scale" className="card flex flex-col gap-3 self-start p-4">
      <h2 className="text-xl">The scale</h2>
      {stage && (
        <button
          type="button"
          onClick={() => onStage(stage.stage)}
          className="rounded-2xl bg-rust p-4 text-left text-on-rust hover:brightness-110"
        >
          <span className="text-[0.87rem]">Do next</span>
          <span className="mt-1 block font-title text-lg leading-snug font-bold">{stage.title}</span>
          <span className="mt-1 block">{stage.why}</span>
        </button>
      )}
      {item.stage !== 'open' && <AfterVerdict onReading={onReading} onStage={onStage} />}
      {weighed && 'failed' in weighed && (
        <p className="text-rust">The weights can’t be worked out. Reload the page; nothing is lost.</p>
      )}
      {diagnosis && !isRechecked(item) && <RepeatFirst item={item} contradictions={diagnosis.contradictions} />}
      {diagnosis && item.stage === 'open' && !stage && (
        <NextTestCard
          caseId={item.id}
          diagnosis={diagnosis}
          moduleId={profile.stations.find(({ kind }) => kind === 'module')?.id}
          onReading={onReading}
          onStage={onStage}
        />
      )}
      {diagnosis && item.evidence.length > 0 && !isRechecked(item) && <Suspects item={item} diagnosis={diagnosis} />}
      <PointsTo
        pointers={diagnosis ? heldPointers(item.pointers, diagnosis.families) : item.pointers}
        doubts={ladders[ladders.length - 1].ledger.doubts}
      />
      {diagnosis && !isRechecked(item) && (
        <GateCard
          diagnosis={diagnosis}
          stationName={(id) => profile.stations.find((station) => station.id === id)?.name}
        />
      )}
      <p className="label">Jarro advises; a qualified person decides.</p>
    </aside>
  );
}

const ENOUGH_CHECKS = 4;

/** Before the path is touched the order of work says what comes next; once it is, the gate's missing proofs do. */
function nextStage({ item, ladders }: Bench): { stage: Stage; title: string; why: string } | undefined {
  const progress = progressOf(item, ladders);
  if (progress['power-path'].count + progress.current.count > 0) return undefined;
  if (item.intake.sequence === 0) {
    return {
      stage: 'intake',
      title: 'Write down the complaint',
      why: 'What, when, since when, and who says it’s the pump.',
    };
  }
  if (progress['first-checks'].count < ENOUGH_CHECKS && progress.pressure.count === 0) {
    return { stage: 'first-checks', title: 'Do the first checks', why: 'Each takes seconds.' };
  }
  if (progress.pressure.count === 0) {
    return { stage: 'pressure', title: 'Take the pressure', why: 'Gauge on, air out, prime first.' };
  }
  return undefined;
}

const MOST_POINTERS = 4;

/** What the answers so far point to, strongest reason to look elsewhere first. */
function PointsTo({ pointers, doubts }: { pointers: readonly Pointer[]; doubts: readonly string[] }) {
  const telling = pointers.filter(({ towards, away }) => towards.length + away.length > 0);
  if (telling.length + doubts.length === 0) return null;
  return (
    <section aria-label="What this points to">
      <h3 className="mb-1">What this points to</h3>
      <ul className="space-y-1.5">
        {doubts.map((doubt) => (
          <li key={doubt} className="border-l-4 border-ochre pl-2 text-[0.93rem]">
            {doubt}
          </li>
        ))}
        {telling.slice(0, MOST_POINTERS).map(({ text, towards, away, rule, source }) => (
          <li
            key={text}
            title={rule === text ? source : `${rule} (${source})`}
            className={`border-l-4 pl-2 text-[0.93rem] ${towards.length ? 'border-rust' : 'border-mineral'}`}
          >
            {text}
            <span className="label block">
              {towards.length === 0 && away.length > 0
                ? `Speaks against ${names(away)}`
                : towards.length <= 3 && `Points to ${names(towards)}`}
            </span>
          </li>
        ))}
      </ul>
      {telling.length > MOST_POINTERS && <p className="label mt-1">and {telling.length - MOST_POINTERS} more</p>}
    </section>
  );
}

const names = (families: Pointer['towards']) => families.map((family) => FAMILY_NAMES[family]).join(', ');
