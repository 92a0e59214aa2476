import type { Proof } from '@jarro/core';
import { Check, Square } from 'lucide-react';
import type { CaseDetail, ReadingKind } from '../../app/types';
import type { CaseTab } from './case-page';

/** What stands between the evidence and condemning the pump, and the one thing to do next. */
export function Scale({
  item,
  onStation,
  onTab,
}: {
  item: CaseDetail;
  onStation: (kind: ReadingKind) => void;
  onTab: (tab: CaseTab) => void;
}) {
  const next = item.gate.proofs.find((proof) => !proof.met);
  const act = (proof: Proof) => {
    const station = STATION_OF[proof.id];
    if (station) onStation(station);
    else onTab('current');
  };
  return (
    <aside aria-label="The scale" className="card flex flex-col gap-3 self-start p-4">
      <h2 className="text-xl">The scale</h2>
      {item.stage === 'open' && next && (
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
