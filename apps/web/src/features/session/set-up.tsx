import { useForm } from 'react-hook-form';
import { Navigate } from 'react-router';
import { errorText, useSetUpMutation, useSetUpNeededQuery, type SetUp as Fields } from '../../app/api';
import { Button } from '../../ui/button';
import { ErrorNotice } from '../../ui/notice';
import { Field } from '../../ui/field';
import { useEnter } from './use-enter';

/** The very first start: the shop and its owner, by the code that stands where Jarro was started. */
export function SetUp() {
  const { data, error: away } = useSetUpNeededQuery();
  const { register, handleSubmit } = useForm<Fields>();
  const [setUp, { error, isLoading }] = useSetUpMutation();
  const { enter } = useEnter();
  if (data && !data.needed) return <Navigate to="/" replace />;
  const submit = handleSubmit(async (fields) => {
    const result = await setUp({ ...fields, code: fields.code.trim().toUpperCase() });
    if ('error' in result) return;
    await enter({ email: fields.email, password: fields.password }, '/');
  });
  return (
    <main className="mx-auto my-6 max-w-xl p-4">
      <header className="rounded-t-2xl bg-enamel px-6 pt-6 pb-5 text-on-enamel">
        <p className="font-title text-2xl font-extrabold tracking-tight">jarro</p>
        <h1 className="mt-1 text-4xl">Make this Jarro yours</h1>
        <p className="mt-2 opacity-85">
          Its first start printed a code in the window where it was started. Whoever can read that window becomes the
          owner: a lead, who then adds everyone else.
        </p>
      </header>
      <ErrorNotice text={errorText(away)} />
      <form
        onSubmit={(event) => void submit(event)}
        className="card grid gap-4 rounded-t-none border-t-0 p-6 sm:grid-cols-2"
      >
        <div className="sm:col-span-2">
          <Field
            label="Code"
            placeholder="ABCD-EFGH-JKLM"
            autoFocus
            required
            autoComplete="off"
            {...register('code')}
          />
        </div>
        <Field label="Name of the shop" required maxLength={120} {...register('shop')} />
        <Field label="Town" required maxLength={120} {...register('town')} />
        <Field label="Your name" required maxLength={120} autoComplete="name" {...register('name')} />
        <Field label="Your e-mail" type="email" required autoComplete="username" {...register('email')} />
        <div className="sm:col-span-2">
          <Field
            label="Password"
            type="password"
            required
            minLength={10}
            autoComplete="new-password"
            hint="Ten characters or more; four unrelated words do well."
            {...register('password')}
          />
        </div>
        <div className="space-y-3 sm:col-span-2">
          <ErrorNotice text={errorText(error)} />
          <Button type="submit" look="rust" className="w-full text-lg" disabled={isLoading}>
            Become the owner
          </Button>
        </div>
      </form>
    </main>
  );
}
