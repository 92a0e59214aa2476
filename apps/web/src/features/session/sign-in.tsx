import { useForm } from 'react-hook-form';
import { Navigate, useLocation } from 'react-router';
import { errorText, useSetUpNeededQuery } from '../../app/api';
import { Button } from '../../ui/button';
import { ErrorNotice } from '../../ui/notice';
import { useEnter } from './use-enter';

/** The door: one card on the paper, with the idea of the whole tool drawn above it. */
export function SignIn() {
  const { register, handleSubmit } = useForm<{ email: string; password: string }>();
  const { enter, error, isLoading } = useEnter();
  const from = (useLocation().state as { from?: string } | null)?.from ?? '/';
  const { data: setUp } = useSetUpNeededQuery();
  if (setUp?.needed) return <Navigate to="/set-up" replace />;
  const submit = handleSubmit((fields) => enter(fields, from));
  return (
    <main className="grid min-h-screen place-items-center p-4">
      <div className="card w-full max-w-md overflow-hidden">
        <div className="bg-enamel px-8 pt-8 pb-5 text-on-enamel">
          <h1 className="text-5xl font-extrabold tracking-tight">jarro</h1>
          <p className="mt-2 text-lg">Prove it before you condemn it.</p>
          <Staircase />
        </div>
        <form onSubmit={(event) => void submit(event)} className="space-y-4 p-8">
          <label className="block">
            <span className="label">E-mail</span>
            <input
              className="input mt-1"
              type="email"
              autoComplete="username"
              autoFocus
              required
              {...register('email')}
            />
          </label>
          <label className="block">
            <span className="label">Password</span>
            <input
              className="input mt-1"
              type="password"
              autoComplete="current-password"
              required
              {...register('password')}
            />
          </label>
          <ErrorNotice text={errorText(error)} />
          <Button type="submit" look="rust" className="w-full text-lg" disabled={isLoading}>
            Sign in
          </Button>
        </form>
      </div>
    </main>
  );
}

function Staircase() {
  return (
    <svg viewBox="0 0 360 54" className="mt-4 w-full" aria-hidden>
      <path d="M2 10H90V14H170V40H250V44H358" fill="none" stroke="currentColor" strokeWidth="3" />
      <rect x="162" y="13" width="16" height="28" fill="var(--rust)" opacity="0.75" />
      <circle cx="170" cy="40" r="4" fill="currentColor" />
    </svg>
  );
}
