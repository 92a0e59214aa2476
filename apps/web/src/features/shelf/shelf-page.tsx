import { grouped, KEY_STATE_NAMES, pressureText, type KnownGood } from '@jarro/core';
import { Search } from 'lucide-react';
import { useState } from 'react';
import { Link } from 'react-router';
import { errorText, useRetireKnownGoodMutation, useShelfQuery } from '../../app/api';
import { usePressureUnit } from '../../app/units';
import { when } from '../../app/words';
import type { PressureUnitName, ShelfItem } from '@jarro/api-types';
import { Button } from '../../ui/button';
import { ErrorNotice } from '../../ui/notice';
import { useMay } from '../session/use-may';

/** The shop's known-goods: what sound pumps of each kind draw, how fast they turn, and which case proved it. */
export function ShelfPage() {
  const { data: shelf, error } = useShelfQuery();
  const [search, setSearch] = useState('');
  const words = search.toLowerCase().split(/\s+/).filter(Boolean);
  const shown = shelf?.filter((good) => words.every((word) => textOf(good).includes(word)));
  return (
    <main className="mx-auto max-w-[1280px] space-y-4 p-4">
      <header className="flex flex-wrap items-end justify-between gap-3">
        <div>
          <h1 className="text-3xl">Known-goods</h1>
          <p className="text-soft">
            What sound pumps do, kept from closed cases. Captures are held against those of their kind.
          </p>
        </div>
        <label className="relative w-full max-w-sm">
          <span className="sr-only">Find a known-good</span>
          <Search aria-hidden className="pointer-events-none absolute top-3 left-3 size-5 text-soft" />
          <input
            type="search"
            className="input pl-10"
            placeholder="Vehicle, system, key state"
            value={search}
            onChange={(event) => setSearch(event.target.value)}
          />
        </label>
      </header>
      <ErrorNotice text={errorText(error)} />
      {shown?.length === 0 && (
        <p className="card p-5 text-soft">
          {shelf?.length === 0
            ? 'Nothing stands here yet. When a case is closed, its last capture can be kept as a known-good.'
            : 'No known-good fits what you look for.'}
        </p>
      )}
      <ul className="grid gap-3 md:grid-cols-2">
        {shown?.map((good) => (
          <KnownGoodCard key={good.id} good={good} />
        ))}
      </ul>
    </main>
  );
}

function textOf({ label, systemName, numbers }: ShelfItem): string {
  return `${label} ${systemName} ${KEY_STATE_NAMES[numbers.keyState]}`.toLowerCase();
}

function KnownGoodCard({ good }: { good: ShelfItem }) {
  const { id, label, systemName, numbers, caseId, caseNumber, addedBy, addedAt, retired } = good;
  const unit = usePressureUnit();
  const may = useMay();
  const [retire, { error, isLoading }] = useRetireKnownGoodMutation();
  return (
    <li className={`card space-y-1 p-4 ${retired ? 'opacity-70' : ''}`}>
      <div className="flex items-baseline justify-between gap-3">
        <h2 className="text-xl">{label}</h2>
        <span className="label whitespace-nowrap">{KEY_STATE_NAMES[numbers.keyState]}</span>
      </div>
      <p className="text-2xl font-bold">
        {numbers.meanA.toFixed(2)} A{numbers.rpm !== undefined && ` · ${grouped(numbers.rpm)} rpm`}
      </p>
      <p>{underWhat(numbers, unit)}</p>
      <div className="flex flex-wrap items-center justify-between gap-2 border-t border-line pt-2">
        <p className="label">
          {systemName && `${systemName} · `}
          <Link className="underline" to={`/cases/${caseId}/recheck`}>
            case {caseNumber}
          </Link>{' '}
          · {addedBy}, {when(addedAt)}
        </p>
        {may('measure') && (
          <Button look="bare" disabled={isLoading} onClick={() => void retire({ id, retired: !retired })}>
            {retired ? 'Use it again' : 'Take it off the shelf'}
          </Button>
        )}
      </div>
      <ErrorNotice text={errorText(error)} />
    </li>
  );
}

function underWhat({ ripplePercent, pumpV, pressurePa, temperatureC }: KnownGood, unit: PressureUnitName): string {
  return [
    `ripple ${ripplePercent.toFixed(0)} %`,
    pumpV !== undefined && `${pumpV.toFixed(2)} V at the pump`,
    pressurePa !== undefined && `${pressureText(pressurePa, unit)} ${unit}`,
    temperatureC !== undefined && `${temperatureC} °C`,
  ]
    .filter(Boolean)
    .join(', ');
}
