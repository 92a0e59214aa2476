import { FAMILY_NAMES, type Pointer, type Proof, type Stage } from '@jarro/core';
import { Check, Square } from 'lucide-react';
import { progressOf } from './progress';
import type { CaseDetail, ReadingKind } from '../../app/types';

/** What stands between the evidence and condemning the pump, and the one thing to do next. */
export function Scale({
  item,
  onStation,
  onStage,
}: {
  item: CaseDetail;
  onStation: (kind: ReadingKind) => void;
  onStage: (stage: Stage) => void;
}) {
  const next = item.gate.proofs.find((proof) => !proof.met);
  const stage = item.stage === 'open' ? nextStage(item) : undefined;
  const act = (proof: Proof) => {
    const station = STATION_OF[proof.id];
    if (station) onStation(station);
    else onStage('current');
  };
  return (
    <aside aria-label="The scale" className="card flex flex-col gap-3 self-start p-4">
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
      {item.stage === 'open' && !stage && next && (
        <button
          type="button"
          onClick={() => act(next)}
          className="rounded-2xl bg-rust p-4 text-left text-on-rust hover:brightness-110"
        >
          <span className="text-[0.87rem]">Do next</span>
          <span className="mt-1 block font-title text-lg leading-snug font-bold">{titleOf(next)}</span>
          <span className="mt-1 block">{next.text}</span>
        </button>
      )}
      <PointsTo pointers={item.pointers} />
      <div className={`rounded-2xl border border-dashed p-3 ${item.gate.allowed ? 'border-mineral' : 'border-ochre'}`}>
        <h3 className="mb-1">
          {item.gate.allowed ? 'Gate: the pump may be condemned' : 'Gate: pump may not be condemned'}
        </h3>
        <ul className="space-y-1.5">
          {item.gate.proofs.map((proof) => (
            <li key={proof.text} className="flex gap-2 text-[0.93rem]">
              {proof.met ? (
                <Check aria-label="proven" className="mt-0.5 size-4 shrink-0 text-mineral" />
              ) : (
                <Square aria-label="missing" className="mt-0.5 size-4 shrink-0 text-ochre" />
              )}
              <span>{proof.text}</span>
            </li>
          ))}
        </ul>
      </div>
      <p className="label">Jarro advises; a qualified person decides.</p>
    </aside>
  );
}

const ENOUGH_CHECKS = 4;

/** Before the path is touched the order of work says what comes next; once it is, the gate's missing proofs do. */
function nextStage(item: CaseDetail): { stage: Stage; title: string; why: string } | undefined {
  const progress = progressOf(item);
  if (progress['power-path'].count + progress.current.count > 0) return undefined;
  if (item.intake.sequence === 0) {
    return {
      stage: 'intake',
      title: 'Write down the complaint',
      why: 'What, when, since when, and who says it’s the pump.',
    };
  }
  if (progress['first-checks'].count < ENOUGH_CHECKS && progress.pressure.count === 0) {
    return { stage: 'first-checks', title: 'Do the first checks', why: 'Seconds each.' };
  }
  if (progress.pressure.count === 0) {
    return { stage: 'pressure', title: 'Take the pressure', why: 'Gauge on, air out, prime first.' };
  }
  return undefined;
}

const MOST_POINTERS = 4;

/** What the answers so far point to, strongest reason to look elsewhere first. */
function PointsTo({ pointers }: { pointers: readonly Pointer[] }) {
  const telling = pointers.filter(({ towards, away }) => towards.length + away.length > 0);
  if (telling.length === 0) return null;
  return (
    <section aria-label="So far">
      <h3 className="mb-1">So far</h3>
      <ul className="space-y-1.5">
        {telling.slice(0, MOST_POINTERS).map(({ text, towards, away, rule, source }) => (
          <li
            key={text}
            title={rule === text ? source : `${rule} (${source})`}
            className={`border-l-4 pl-2 text-[0.93rem] ${towards.length ? 'border-rust' : 'border-mineral'}`}
          >
            {text}
            <span className="label block">
              {towards.length === 0 && away.length > 0
                ? `speaks against: ${names(away)}`
                : towards.length <= 3 && `look at: ${names(towards)}`}
            </span>
          </li>
        ))}
      </ul>
      {telling.length > MOST_POINTERS && <p className="label mt-1">and {telling.length - MOST_POINTERS} more</p>}
    </section>
  );
}

const names = (families: Pointer['towards']) => families.map((family) => FAMILY_NAMES[family]).join(', ');

const STATION_OF: Partial<Record<Proof['id'], ReadingKind>> = {
  'supply-loaded': 'pump_feed',
  'ground-loaded': 'pump_ground',
  battery: 'battery',
  doubt: 'pump_ground',
};

function titleOf({ id, text }: Proof): string {
  const failed = text.includes(' loses ');
  switch (id) {
    case 'doubt':
      return 'Clear up these readings first';
    case 'supply-loaded':
      return failed ? 'Find the lost volts' : 'Read the pump feed, loaded';
    case 'ground-loaded':
      return failed ? 'Follow the ground side' : 'Read the pump ground, loaded';
    case 'battery':
      return 'Start from the battery';
    case 'current-captured':
      return 'Capture the pump current';
    case 'pump-fault-shown':
      return 'No pump fault shown';
  }
}
