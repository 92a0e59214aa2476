import { PIN_ROLES, soundOhm } from '@jarro/core';
import { Trash2 } from 'lucide-react';
import { Fragment } from 'react';
import { useFormContext, useWatch } from 'react-hook-form';
import { Button } from '../../ui/button';
import { useComposed, useStations } from './composer';
import { NumberField, TextField, Tick } from './fields';
import type { ProfileForm } from './profile-form';
import { STATION_WORDS } from './station-words';

/** Everything about the station at a place of the path. */
export function StationFields({ index }: { index: number }) {
  const { control, register } = useFormContext<ProfileForm>();
  const { remove } = useStations();
  const { problems } = useComposed();
  const { id, kind, bypass, sharedA } = useWatch({ control, name: `stations.${index}` });
  const at = `stations.${index}` as const;
  const problem = (field: string) => problems.find((one) => one.field === `stations[${index}].${field}`)?.message;
  const soundText = soundOhm({ id, kind, name: '', accessMinutes: 0, backProbe: true }).toFixed(3);
  return (
    <section aria-label="Station" className="card space-y-3 self-start p-4">
      <div className="flex items-center justify-between">
        <h2 className="text-lg">{STATION_WORDS[kind].name}</h2>
        {kind !== 'battery' && (
          <Button onClick={() => remove(index)}>
            <Trash2 aria-hidden className="size-4" /> Take out
          </Button>
        )}
      </div>
      {problem('kind') && <p className="text-rust">{problem('kind')}</p>}
      <TextField label="Called" problem={problem('name')} {...register(`${at}.name`)} />
      <div className="grid grid-cols-2 gap-3">
        <TextField label="Pin or cavity" {...register(`${at}.pin`)} />
        <TextField label="Wire colour" {...register(`${at}.colour`)} />
      </div>
      <TextField label="Where it is" {...register(`${at}.location`)} />
      <div className="grid grid-cols-2 gap-3">
        <NumberField
          label="To get a probe there"
          unit="min"
          problem={problem('accessMinutes')}
          {...register(`${at}.accessMinutes`)}
        />
        <NumberField
          label={`Sound, if not ${soundText}`}
          unit="Ω"
          problem={problem('ohm')}
          {...register(`${at}.ohm`)}
        />
      </div>
      <Tick label="Can be back-probed" {...register(`${at}.backProbe`)} />
      {kind === 'wire' && (
        <div className="grid grid-cols-2 gap-3">
          <NumberField label="Length" unit="m" problem={problem('wire')} {...register(`${at}.wire.lengthM`)} />
          <NumberField label="Size" unit="mm²" {...register(`${at}.wire.areaMm2`)} />
        </div>
      )}
      {(kind === 'relay' || kind === 'cutoff-switch') && (
        <div className="grid grid-cols-2 gap-3">
          <TextField
            label="Second way round it"
            placeholder="Oil-pressure switch"
            problem={problem('bypass')}
            {...register(`${at}.bypass.name`)}
          />
          {bypass.name && <NumberField label="closed" unit="Ω" {...register(`${at}.bypass.ohm`)} />}
        </div>
      )}
      <NumberField
        label="Other loads behind it, a second pump too"
        unit="A"
        problem={problem('sharedA')}
        {...register(`${at}.sharedA`)}
      />
      {sharedA.trim() !== '' && (
        <Tick label="That load is a second pump, in the tank before this one" {...register(`${at}.secondPump`)} />
      )}
      <Pins index={index} />
    </section>
  );
}

/** Terminals that are no stations: a relay's coil side, a module's five or six pins. */
function Pins({ index }: { index: number }) {
  const { control, register } = useFormContext<ProfileForm>();
  const { kind } = useWatch({ control, name: `stations.${index}` });
  const roles = PIN_ROLES[kind];
  if (!roles) return null;
  return (
    <fieldset>
      <legend className="label mb-1">Terminals: pin and wire colour</legend>
      <div className="grid grid-cols-[1fr_4.5rem_1fr] items-center gap-x-2 gap-y-1">
        {roles.map((role, i) => (
          <Fragment key={role}>
            <span className="text-[0.93rem]">{role}</span>
            <input
              aria-label={`Pin of ${role}`}
              className="input"
              maxLength={20}
              {...register(`stations.${index}.pins.${i}.pin`)}
            />
            <input
              aria-label={`Wire colour of ${role}`}
              className="input"
              maxLength={40}
              {...register(`stations.${index}.pins.${i}.colour`)}
            />
          </Fragment>
        ))}
      </div>
    </fieldset>
  );
}
