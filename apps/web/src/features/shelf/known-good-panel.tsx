import {
  broughtTo,
  caseBench,
  holdAgainst,
  KEY_STATE_NAMES,
  knownGoodOf,
  ratedByShelf,
  readBeside,
  turnEnvelope,
  type HeldAgainst,
  type KnownGood,
  type PumpRating,
} from '@jarro/core';
import { useMemo, useState } from 'react';
import { grouped } from '@jarro/core';
import { useShelfQuery } from '../../app/api';
import type { CaseDetail, ShelfItem } from '@jarro/api-types';
import { TurnOverlay } from '../../charts/turn-overlay';
import { DataTable } from '../../ui/data-table';
import { Within } from '../../ui/within';
import { useTheBench } from '../case/bench';
import { evidenceOf, type LinkedCapture } from '../case/evidence';
import { ofTheKind } from './of-the-kind';

/** A capture held against the shop's known-goods of its kind: one turn on the other, and the numbers with what they may differ by. */
export function KnownGoodPanel({ item, capture }: { item: CaseDetail; capture: LinkedCapture }) {
  const { data: shelf } = useShelfQuery();
  const { rules, profile } = useTheBench();
  const [chosen, setChosen] = useState<string>();
  const one = useMemo(() => numbersOf(item, capture, rules), [item, capture, rules]);
  const goods = useMemo(
    () =>
      ofTheKind(shelf ?? [], item).filter(
        (good) => good.captureId !== capture.id && good.numbers.keyState === one?.keyState,
      ),
    [shelf, item, capture, one],
  );
  if (!one || goods.length === 0) return null;
  const known = item.system !== null && !item.system.shipped;
  const pump = known ? profile.pump : undefined;
  const turns = goods.flatMap((good) => turnUnder(one, good, pump) ?? []);
  const single = goods.find(({ id }) => id === chosen) ?? (turns.length > 1 ? undefined : goods[0]);
  const held = holdAgainst(
    one,
    goods.map(({ numbers }) => numbers),
    pump,
  );
  const turnA = capture.analysis?.turnA;
  const shown = single && turnUnder(one, single, pump);
  const before = single ? shown && { before: shown } : envelopeOf(turns.map(({ turnA: one }) => one));
  return (
    <section aria-label="Beside the known-good" className="space-y-2 border-t border-line pt-3">
      <div className="flex flex-wrap items-center gap-3">
        <h3 className="mr-auto text-xl">Beside the known-good</h3>
        {goods.length > 1 && (
          <select
            aria-label="Known-good shown"
            className="input w-auto max-w-72"
            value={single?.id ?? ''}
            onChange={(event) => setChosen(event.target.value)}
          >
            {turns.length > 1 && <option value="">All {turns.length} together</option>}
            {goods.map(({ id, label }) => (
              <option key={id} value={id}>
                {label}
              </option>
            ))}
          </select>
        )}
      </div>
      <div className="grid items-center gap-4 md:grid-cols-[minmax(0,1fr)_minmax(0,1fr)]">
        {turnA && before ? (
          <TurnOverlay {...before} after={{ name: 'this capture', turnA }} />
        ) : (
          <p className="text-soft">One of the two shows no turn, so only their numbers are compared.</p>
        )}
        <Held held={held} />
      </div>
      <p className="label">
        {goods.length === 1 ? 'One known-good' : `${goods.length} known-goods`} of {goods[0].systemName || 'this kind'},{' '}
        {KEY_STATE_NAMES[one.keyState].toLowerCase()}
        {single
          ? `; shown is that of case ${single.caseNumber}.`
          : '; shown are the middle of them and what they lie between.'}
        {ratedByShelf(profile, item.goods) !== profile && ' The weights rate this pump by them.'}
      </p>
    </section>
  );
}

/** A known-good's turn as it would be under this pump's volts and pressure. */
function turnUnder(one: KnownGood, { label, turnA, numbers }: ShelfItem, pump: PumpRating | undefined) {
  const share = broughtTo(one, numbers, pump);
  return turnA ? { name: label, turnA: turnA.map((amperes) => share * amperes) } : undefined;
}

/** Several on one angle: their middle, and a band between the lowest and the highest. */
function envelopeOf(turns: readonly (readonly number[])[]) {
  const band = turnEnvelope(turns);
  return { before: { name: `middle of ${turns.length} known-goods`, turnA: [...band.median] }, band };
}

function Held({ held }: { held: readonly HeldAgainst[] }) {
  return (
    <DataTable
      rows={held}
      keyOf={({ name }) => name}
      columns={[
        {
          title: '',
          cell: ({ name, note }) => (
            <>
              {name}
              {note && <span className="label block">{note}</span>}
            </>
          ),
        },
        { title: 'here', right: true, className: 'text-lg font-bold', cell: ({ value, unit }) => textOf(value, unit) },
        {
          title: 'known-good',
          right: true,
          cell: ({ median, tolerance, unit }) => (
            <>
              {textOf(median, unit)} <span className="label">± {textOf(tolerance, unit)}</span>
            </>
          ),
        },
        {
          title: '',
          cell: ({ within }) => <Within within={within} yes="alike" no="differs" />,
        },
      ]}
    />
  );
}

function textOf(value: number, unit: HeldAgainst['unit']): string {
  return unit === 'rpm' ? `${grouped(value)} rpm` : `${value.toFixed(unit === 'A' ? 2 : 0)} ${unit}`;
}

/** This capture's numbers with the volts and the pressure that were read beside it. */
function numbersOf(
  item: CaseDetail,
  capture: LinkedCapture,
  rules: Parameters<typeof caseBench>[1],
): KnownGood | undefined {
  const ramp = capture.analysis?.ramp;
  if (!ramp) return undefined;
  const keyState = capture.link.keyState ?? 'prime';
  const evidence = evidenceOf(item);
  return knownGoodOf(ramp, keyState, readBeside(evidence, caseBench(evidence, rules).ladders, keyState));
}
