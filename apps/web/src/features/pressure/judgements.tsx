import { Check, TriangleAlert } from 'lucide-react';
import type { CaseDetail } from '@jarro/api-types';

/** What the readings amount to beyond their windows, each in a line. */
export function Judgements({ item }: { item: CaseDetail }) {
  const { rise, snap, regulator, filter, hold, volume, duty, highSide, trims } = item.sheet;
  const lines = [
    rise && { ok: rise.ok, text: rise.text },
    snap && { ok: snap.ok, text: snap.text },
    regulator && { ok: regulator.works, text: regulator.text },
    filter && { ok: filter.ok, text: filter.text },
    hold &&
      hold.judgement.standing !== 'too-short' && {
        ok: hold.judgement.standing === 'holds',
        text: hold.side ?? hold.judgement.text,
      },
    volume && { ok: volume.ok, text: volume.text },
    duty && { ok: duty.ok, text: duty.text },
    highSide && { ok: highSide.ok, text: highSide.text },
    trims && { ok: trims.ok, text: trims.text },
  ].filter((line) => line !== undefined && line !== false);
  if (lines.length === 0) return null;
  return (
    <ul className="space-y-1">
      {lines.map(({ ok, text }) => (
        <li key={text} className={`flex gap-2 ${ok ? 'text-mineral' : 'font-semibold text-rust'}`}>
          {ok ? (
            <Check aria-label="good" className="mt-0.5 size-5 shrink-0" />
          ) : (
            <TriangleAlert aria-label="look here" className="mt-0.5 size-5 shrink-0" />
          )}
          {text}
        </li>
      ))}
    </ul>
  );
}
