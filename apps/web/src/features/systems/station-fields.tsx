import { PIN_ROLES, soundOhm, type Pin, type Station } from '@jarro/core';
import { Trash2 } from 'lucide-react';
import type { Dispatch } from 'react';
import { Button } from '../../ui/button';
import { NumberField, TextField } from './fields';
import type { Edit, ProblemOf } from './profile-state';
import { STATION_WORDS } from './station-words';

/** Everything about one station. */
export function StationFields({
  station,
  index,
  problemOf,
  dispatch,
}: {
  station: Station;
  index: number;
  problemOf: ProblemOf;
  dispatch: Dispatch<Edit>;
}) {
  const set = (changes: Partial<Station>) => dispatch({ type: 'change', station: station.id, changes });
  const problem = (field: string) => problemOf(`stations[${index}].${field}`);
  const { kind, wire, bypass } = station;
  return (
    <section aria-label="Station" className="card space-y-3 self-start p-4">
      <div className="flex items-center justify-between">
        <h2 className="text-lg">{STATION_WORDS[kind].name}</h2>
        {kind !== 'battery' && (
          <Button onClick={() => dispatch({ type: 'remove', station: station.id })}>
            <Trash2 aria-hidden className="size-4" /> Take out
          </Button>
        )}
      </div>
      {problem('kind') && <p className="text-rust">{problem('kind')}</p>}
      <TextField
        label="Called"
        value={station.name}
        problem={problem('name')}
        onChange={(name) => set({ name: name ?? '' })}
      />
      <div className="grid grid-cols-2 gap-3">
        <TextField label="Pin or cavity" value={station.pin} onChange={(pin) => set({ pin })} />
        <TextField label="Wire colour" value={station.colour} onChange={(colour) => set({ colour })} />
      </div>
      <TextField label="Where it is" value={station.location} onChange={(location) => set({ location })} />
      <div className="grid grid-cols-2 gap-3">
        <NumberField
          label="To get a probe there"
          unit="min"
          value={station.accessMinutes}
          problem={problem('accessMinutes')}
          onChange={(accessMinutes) => set({ accessMinutes: accessMinutes ?? NaN })}
        />
        <NumberField
          label={`Sound, if not ${soundOhm({ id: station.id, kind, name: '', accessMinutes: 0, backProbe: true }).toFixed(3)}`}
          unit="Ω"
          value={station.ohm}
          problem={problem('ohm')}
          onChange={(ohm) => set({ ohm })}
        />
      </div>
      <label className="flex min-h-11 items-center gap-3">
        <input
          type="checkbox"
          className="size-6 accent-[var(--enamel)]"
          checked={station.backProbe}
          onChange={(event) => set({ backProbe: event.target.checked })}
        />
        Can be back-probed
      </label>
      {kind === 'wire' && (
        <div className="grid grid-cols-2 gap-3">
          <NumberField
            label="Length"
            unit="m"
            value={wire?.lengthM}
            problem={problem('wire')}
            onChange={(lengthM) => set({ wire: { areaMm2: wire?.areaMm2 ?? 2.5, lengthM: lengthM ?? NaN } })}
          />
          <NumberField
            label="Size"
            unit="mm²"
            value={wire?.areaMm2}
            onChange={(areaMm2) => set({ wire: { lengthM: wire?.lengthM ?? 3, areaMm2: areaMm2 ?? NaN } })}
          />
        </div>
      )}
      {(kind === 'relay' || kind === 'cutoff-switch') && (
        <div className="grid grid-cols-2 gap-3">
          <TextField
            label="Second way round it"
            placeholder="Oil-pressure switch"
            value={bypass?.name}
            problem={problem('bypass')}
            onChange={(name) => set({ bypass: name && { name, ohm: bypass?.ohm ?? 0.03 } } as Partial<Station>)}
          />
          {bypass && (
            <NumberField
              label="closed"
              unit="Ω"
              value={bypass.ohm}
              onChange={(ohm) => set({ bypass: { name: bypass.name, ohm: ohm ?? 0.03 } })}
            />
          )}
        </div>
      )}
      <NumberField
        label="Other loads behind it, a second pump too"
        unit="A"
        value={station.sharedA}
        problem={problem('sharedA')}
        onChange={(sharedA) => set({ sharedA, secondPump: sharedA === undefined ? undefined : station.secondPump })}
      />
      {station.sharedA !== undefined && (
        <label className="flex min-h-11 items-center gap-3">
          <input
            type="checkbox"
            className="size-6 accent-[var(--enamel)]"
            checked={station.secondPump === true}
            onChange={(event) => set({ secondPump: event.target.checked || undefined })}
          />
          That load is a second pump, in the tank before this one
        </label>
      )}
      <Pins station={station} onChange={(pins) => set({ pins })} />
    </section>
  );
}

/** Terminals that are no stations: a relay's coil side, a module's five or six pins. */
function Pins({ station, onChange }: { station: Station; onChange: (pins: readonly Pin[] | undefined) => void }) {
  const roles = PIN_ROLES[station.kind];
  if (!roles) return null;
  const pinOf = (role: string) => station.pins?.find((pin) => pin.role === role);
  const set = (role: string, changes: Partial<Pin>) => {
    const next = { role, pin: '', ...pinOf(role), ...changes };
    const others = (station.pins ?? []).filter((pin) => pin.role !== role);
    const all = next.pin || next.colour ? [...others, next] : others;
    onChange(all.length > 0 ? all : undefined);
  };
  return (
    <fieldset>
      <legend className="label mb-1">Terminals: pin and wire colour</legend>
      <div className="grid grid-cols-[1fr_4.5rem_1fr] items-center gap-x-2 gap-y-1">
        {roles.map((role) => (
          <PinRow key={role} role={role} pin={pinOf(role)} onChange={(changes) => set(role, changes)} />
        ))}
      </div>
    </fieldset>
  );
}

function PinRow({
  role,
  pin,
  onChange,
}: {
  role: string;
  pin: Pin | undefined;
  onChange: (changes: Partial<Pin>) => void;
}) {
  return (
    <>
      <span className="text-[0.93rem]">{role}</span>
      <input
        aria-label={`Pin of ${role}`}
        className="input"
        maxLength={20}
        value={pin?.pin ?? ''}
        onChange={(event) => onChange({ pin: event.target.value })}
      />
      <input
        aria-label={`Wire colour of ${role}`}
        className="input"
        maxLength={40}
        value={pin?.colour ?? ''}
        onChange={(event) => onChange({ colour: event.target.value })}
      />
    </>
  );
}
