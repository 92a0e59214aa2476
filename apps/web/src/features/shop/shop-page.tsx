import { useState } from 'react';
import { useForm } from 'react-hook-form';
import {
  errorText,
  useAddPersonMutation,
  useAuditQuery,
  useChangePersonMutation,
  useChangeShopMutation,
  useMeQuery,
  usePeopleQuery,
} from '../../app/api';
import type { Person, PressureUnitName, ShopSettings, UserRole } from '@jarro/api-types';
import { when } from '../../app/words';
import { Button } from '../../ui/button';
import { Choice } from '../../ui/choice';
import { ErrorNotice } from '../../ui/notice';
import { Sheet } from '../../ui/sheet';
import { Field } from '../../ui/field';
import { Backups } from './backups';

const ROLES: readonly { value: UserRole; label: string }[] = [
  { value: 'technician', label: 'Technician' },
  { value: 'lead', label: 'Lead' },
  { value: 'adviser', label: 'Adviser' },
];
const UNITS: readonly { value: PressureUnitName; label: string }[] = [
  { value: 'psi', label: 'psi' },
  { value: 'bar', label: 'bar' },
  { value: 'kPa', label: 'kPa' },
];

/** A lead's page: house limits, people, and who did what. */
export function ShopPage() {
  const { data: me } = useMeQuery();
  if (!me) return null;
  if (me.user.role !== 'lead') return <p className="p-6">Only a lead keeps the shop’s settings.</p>;
  return (
    <main className="mx-auto max-w-[1280px] space-y-4 p-4">
      <h1 className="text-3xl">The shop</h1>
      <div className="grid gap-4 lg:grid-cols-[minmax(0,2fr)_minmax(0,3fr)]">
        <SettingsForm key={me.shop.version} shop={me.shop} />
        <div className="space-y-4">
          <People />
          <Backups />
        </div>
      </div>
      <Audit />
    </main>
  );
}

function SettingsForm({ shop }: { shop: ShopSettings }) {
  const { register, handleSubmit } = useForm<ShopSettings>({ defaultValues: shop });
  const [unit, setUnit] = useState(shop.pressureUnit);
  const [change, { error, isLoading }] = useChangeShopMutation();
  const submit = handleSubmit((fields) =>
    change({
      ...fields,
      rules: shop.rules,
      pressureUnit: unit,
      version: shop.version,
    }),
  );
  return (
    <form onSubmit={(event) => void submit(event)} className="card space-y-3 self-start p-5">
      <h2 className="text-xl">This shop</h2>
      <Field label="Name" required maxLength={120} {...register('name')} />
      <Field label="Town" required maxLength={120} {...register('town')} />
      <Choice label="Pressures in" options={UNITS} value={unit} onChange={setUnit} />
      <div className="flex gap-3">
        <Field
          label="An hour’s labour"
          type="number"
          min={0}
          max={1e6}
          step="any"
          required
          {...register('labourRate', { valueAsNumber: true })}
        />
        <Field label="Currency" maxLength={6} {...register('currency')} />
      </div>
      <ErrorNotice text={errorText(error)} />
      <Button type="submit" look="rust" disabled={isLoading}>
        Save the shop
      </Button>
    </form>
  );
}

function People() {
  const { data: people, error } = usePeopleQuery();
  const [adding, setAdding] = useState(false);
  const [changing, setChanging] = useState<Person>();
  return (
    <section aria-label="People" className="card p-5">
      <div className="mb-2 flex items-center justify-between">
        <h2 className="text-xl">People</h2>
        <Button look="ink" onClick={() => setAdding(true)}>
          Add a person
        </Button>
      </div>
      <ErrorNotice text={errorText(error)} />
      <ul>
        {people?.map((person) => (
          <li key={person.id} className="flex items-center gap-3 border-b border-line py-2">
            <div className="min-w-0 flex-1">
              <p className={`font-semibold ${person.active ? '' : 'text-soft'}`}>{person.name}</p>
              <p className="label truncate">{person.email}</p>
            </div>
            <span>{person.active ? person.role : 'left'}</span>
            <Button onClick={() => setChanging(person)} aria-label={`Change ${person.name}`}>
              Change
            </Button>
          </li>
        ))}
      </ul>
      {adding && <AddPerson onClose={() => setAdding(false)} />}
      {changing && <ChangePerson person={changing} onClose={() => setChanging(undefined)} />}
    </section>
  );
}

function AddPerson({ onClose }: { onClose: () => void }) {
  const { register, handleSubmit } = useForm<{ name: string; email: string; password: string }>();
  const [role, setRole] = useState<UserRole>('technician');
  const [add, { error, isLoading }] = useAddPersonMutation();
  const submit = handleSubmit(async (fields) => {
    const result = await add({ ...fields, role });
    if (!('error' in result)) onClose();
  });
  return (
    <Sheet
      title="Add a person"
      hint="Tell them the password; they change it after their first sign-in."
      open
      onClose={onClose}
    >
      <form onSubmit={(event) => void submit(event)} className="space-y-4">
        <Field label="Name" required autoFocus maxLength={120} {...register('name')} />
        <Field label="E-mail" type="email" required {...register('email')} />
        <Choice label="Role" options={ROLES} value={role} onChange={setRole} />
        <Field label="First password" required minLength={10} autoComplete="off" {...register('password')} />
        <ErrorNotice text={errorText(error)} />
        <Button type="submit" look="rust" className="w-full text-lg" disabled={isLoading}>
          Add
        </Button>
      </form>
    </Sheet>
  );
}

function ChangePerson({ person, onClose }: { person: Person; onClose: () => void }) {
  const [role, setRole] = useState(person.role);
  const [password, setPassword] = useState('');
  const [change, { error, isLoading }] = useChangePersonMutation();
  const send = async (changes: { role?: UserRole; active?: boolean; password?: string }) => {
    const result = await change({ id: person.id, ...changes });
    if (!('error' in result)) onClose();
  };
  return (
    <Sheet title={person.name} hint={person.email} open onClose={onClose}>
      <form
        className="space-y-4"
        onSubmit={(event) => {
          event.preventDefault();
          void send({ role, ...(password && { password }) });
        }}
      >
        <Choice label="Role" options={ROLES} value={role} onChange={setRole} />
        <Field
          label="New password, if they lost theirs"
          minLength={10}
          autoComplete="off"
          value={password}
          onChange={(event) => setPassword(event.target.value)}
        />
        <ErrorNotice text={errorText(error)} />
        <div className="flex gap-3">
          <Button type="submit" look="rust" disabled={isLoading}>
            Save
          </Button>
          <Button onClick={() => void send({ active: !person.active })} disabled={isLoading}>
            {person.active ? 'Has left the shop' : 'Is back'}
          </Button>
        </div>
        <p className="label">Whoever left can’t sign in; their name stays on their evidence.</p>
      </form>
    </Sheet>
  );
}

const ACTIONS: Readonly<Record<string, string>> = {
  'case.open': 'opened a case',
  'case.close': 'closed a case',
  'case.reopen': 'reopened a case',
  'capture.add': 'added a capture',
  'evidence.void': 'voided an entry',
  'verdict.decide': 'gave a verdict',
  'verdict.override': 'overrode the gate',
  'person.add': 'added',
  'person.change': 'changed',
  'person.password': 'set a new password for someone',
  'session.in': 'signed in from',
  'session.out': 'signed out from',
  'session.refused': 'was refused (wrong password) from',
  'system.keep': 'kept the system',
  'system.retire': 'retired a system:',
  'system.return': 'brought a system back:',
  'password.change': 'changed the password of',
  'backup.begin': 'began a backup',
  'shop.change': 'changed the shop’s settings:',
};

function Audit() {
  const [before, setBefore] = useState<number>();
  const { data: lines, error } = useAuditQuery(before);
  return (
    <section aria-label="Audit log" className="card p-5">
      <h2 className="text-xl">Who did what</h2>
      <ErrorNotice text={errorText(error)} />
      <ul>
        {lines?.map(({ id, action, target, at, by }) => (
          <li key={id} className="flex flex-wrap gap-x-3 border-b border-line py-1.5">
            <span className="label w-44">{when(at)}</span>
            <span className="font-semibold">{by}</span>
            <span>{ACTIONS[action] ?? action}</span>
            <span className="min-w-0 flex-1 truncate text-soft">{target}</span>
          </li>
        ))}
      </ul>
      <div className="mt-3 flex gap-2">
        {before !== undefined && <Button onClick={() => setBefore(undefined)}>Newest</Button>}
        {lines && lines.length === 100 && <Button onClick={() => setBefore(lines.at(-1)?.id)}>Older</Button>}
      </div>
    </section>
  );
}
