import { useForm } from 'react-hook-form';
import {
  errorText,
  useChangePasswordMutation,
  useChooseUnitMutation,
  useMeQuery,
  useSetCodeMutation,
} from '../../app/api';
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
      <CodeForm hasCode={me.user.hasCode} />
      <PasswordForm />
    </main>
  );
}

/** Four digits that bring one to a tablet that several share. */
function CodeForm({ hasCode }: { hasCode: boolean }) {
  const { register, handleSubmit, reset } = useForm<{ password: string; pin: string }>();
  const [setCode, { error, isLoading, isSuccess }] = useSetCodeMutation();
  const submit = handleSubmit(async ({ password, pin }) => {
    const result = await setCode({ password, ...(pin !== '' && { pin }) });
    if (!('error' in result)) reset();
  });
  return (
    <form onSubmit={(event) => void submit(event)} className="card space-y-3 p-5">
      <h2 className="text-xl">Code for a shared tablet</h2>
      <p className="text-soft">
        {hasCode
          ? 'You have a code: on a signed-in tablet of the shop your name and four digits make it yours. Five wrong ones in a row, and it needs your password.'
          : 'With a code, your name and four digits make a signed-in tablet of the shop yours, so that what you measure is kept as taken by you.'}
      </p>
      <Field label="Password" type="password" required autoComplete="current-password" {...register('password')} />
      <Field
        label={hasCode ? 'New code, or empty for none' : 'Code'}
        type="password"
        inputMode="numeric"
        pattern="[0-9]{4}"
        maxLength={4}
        required={!hasCode}
        autoComplete="off"
        hint="Four digits."
        {...register('pin')}
      />
      <SubmitLine error={error} isLoading={isLoading} done={isSuccess ? 'Kept.' : ''}>
        Keep the code
      </SubmitLine>
    </form>
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
      <SubmitLine
        error={error}
        isLoading={isLoading}
        done={isSuccess ? 'Changed. Your other browsers were signed out.' : ''}
      >
        Change the password
      </SubmitLine>
    </form>
  );
}

/** What went wrong, the key that sends the form, and what came of it. */
function SubmitLine({
  error,
  isLoading,
  done,
  children,
}: {
  error: unknown;
  isLoading: boolean;
  done: string;
  children: string;
}) {
  return (
    <>
      <ErrorNotice text={errorText(error)} />
      <div className="flex items-center gap-3">
        <Button type="submit" look="ink" disabled={isLoading}>
          {children}
        </Button>
        <span role="status" className="text-mineral">
          {done}
        </span>
      </div>
    </>
  );
}
