import { useForm } from 'react-hook-form';
import { errorText, useChangePasswordMutation, useChooseUnitMutation, useMeQuery } from '../../app/api';
import type { PressureUnitName } from '@jarro/api-types';
import { Button } from '../../ui/button';
import { Choice } from '../../ui/choice';
import { ErrorNotice } from '../../ui/notice';
import { Field } from '../../ui/field';

const ROLE_WORDS = {
  technician: 'You measure, keep evidence and give verdicts that the gate allows.',
  lead: 'You do all that a technician does, may override the gate with a reason, and keep people and house limits.',
  adviser: 'You open cases, write down what the customer says, and read everything.',
} as const;

/** One's own sign-in: units and password. */
export function AccountPage() {
  const { data: me } = useMeQuery();
  const [chooseUnit, unitResult] = useChooseUnitMutation();
  if (!me) return null;
  const units: { value: PressureUnitName | 'shop'; label: string }[] = [
    { value: 'shop', label: `As the shop (${me.shop.pressureUnit})` },
    { value: 'psi', label: 'psi' },
    { value: 'bar', label: 'bar' },
    { value: 'kPa', label: 'kPa' },
  ];
  return (
    <main className="mx-auto max-w-2xl space-y-5 p-6">
      <h1 className="text-3xl">{me.user.name}</h1>
      <p className="text-soft">
        {me.user.email} · {me.user.role}. {ROLE_WORDS[me.user.role]}
      </p>
      <section className="card space-y-3 p-5">
        <Choice
          label="Pressures in"
          options={units}
          value={me.user.pressureUnit ?? 'shop'}
          onChange={(unit) => void chooseUnit(unit === 'shop' ? {} : { pressureUnit: unit })}
        />
        <ErrorNotice text={errorText(unitResult.error)} />
      </section>
      <PasswordForm />
    </main>
  );
}

function PasswordForm() {
  const { register, handleSubmit, reset } = useForm<{ present: string; next: string }>();
  const [change, { error, isLoading, isSuccess }] = useChangePasswordMutation();
  const submit = handleSubmit(async (fields) => {
    const result = await change(fields);
    if (!('error' in result)) reset();
  });
  return (
    <form onSubmit={(event) => void submit(event)} className="card space-y-3 p-5">
      <h2 className="text-xl">Password</h2>
      <Field
        label="Present password"
        type="password"
        required
        autoComplete="current-password"
        {...register('present')}
      />
      <Field
        label="New password"
        type="password"
        required
        minLength={10}
        autoComplete="new-password"
        hint="Ten characters or more; four unrelated words do well."
        {...register('next')}
      />
      <ErrorNotice text={errorText(error)} />
      <div className="flex items-center gap-3">
        <Button type="submit" look="ink" disabled={isLoading}>
          Change the password
        </Button>
        <span role="status" className="text-mineral">
          {isSuccess && 'Changed. Your other browsers were signed out.'}
        </span>
      </div>
    </form>
  );
}
