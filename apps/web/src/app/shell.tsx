import { LogOut, MoonStar } from 'lucide-react';
import { Link, Navigate, Outlet, useLocation } from 'react-router';
import { SumsButton } from '../features/sums/sums-drawer';
import { Button } from '../ui/button';
import { ErrorNotice } from '../ui/notice';
import { errorText, useMeQuery, useSignOutMutation } from './api';
import { forgetKept } from './kept';
import { toggleTheme } from './theme';

/** The enamel bar above every page, and the way to the sign-in for whoever isn't signed in. */
export function Shell() {
  const { data: me, error, isLoading, refetch } = useMeQuery();
  const [signOut] = useSignOutMutation();
  const { pathname } = useLocation();
  if (isLoading) return null;
  const signedOut = error && 'status' in error && error.status === 401;
  if (signedOut) return <Navigate to="/sign-in" state={{ from: pathname }} replace />;
  if (!me) {
    return (
      <main className="mx-auto max-w-lg space-y-4 p-8">
        <ErrorNotice text={errorText(error)} />
        <Button onClick={() => void refetch()}>Try again</Button>
      </main>
    );
  }
  return (
    <>
      <header className="no-print flex min-h-[50px] items-center gap-x-4 bg-enamel flex-wrap px-4 py-1 text-on-enamel">
        <Link to="/" className="font-title text-2xl font-extrabold tracking-tight">
          jarro
        </Link>
        <span className="hidden text-[0.93rem] opacity-80 lg:block">
          {me.shop.name}, {me.shop.town}
        </span>
        <div className="ml-auto flex items-center gap-1">
          <SumsButton />
          <BarLink to="/systems">Systems</BarLink>
          <BarLink to="/rules">House rules</BarLink>
          {me.user.role === 'lead' && <BarLink to="/shop">The shop</BarLink>}
          <Link
            to="/account"
            className="grid min-h-11 place-items-center rounded-xl px-3 text-[0.93rem] hover:bg-white/10"
          >
            <span>
              {me.user.name} <span className="opacity-70">{me.user.role}</span>
            </span>
          </Link>
          <IconButton label="Light or dark" onClick={toggleTheme}>
            <MoonStar aria-hidden className="size-5" />
          </IconButton>
          <IconButton label="Sign out" onClick={() => void signOut().then(forgetKept)}>
            <LogOut aria-hidden className="size-5" />
          </IconButton>
        </div>
      </header>
      <Outlet />
    </>
  );
}

function BarLink({ to, children }: { to: string; children: string }) {
  return (
    <Link to={to} className="grid min-h-11 place-items-center rounded-xl px-3 hover:bg-white/10">
      {children}
    </Link>
  );
}

function IconButton({ label, onClick, children }: { label: string; onClick: () => void; children: React.ReactNode }) {
  return (
    <button
      type="button"
      aria-label={label}
      title={label}
      onClick={onClick}
      className="grid size-11 place-items-center rounded-xl hover:bg-white/10"
    >
      {children}
    </button>
  );
}
