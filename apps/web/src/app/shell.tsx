import { LogOut, Menu, MoonStar } from 'lucide-react';
import { DropdownMenu } from 'radix-ui';
import { useState } from 'react';
import { useDispatch } from 'react-redux';
import { Link, Navigate, Outlet, useLocation } from 'react-router';
import { PersonSheet } from '../features/session/person-sheet';
import { SumsButton } from '../features/sums/sums-drawer';
import { Button } from '../ui/button';
import { ErrorNotice } from '../ui/notice';
import { errorText, useMeQuery, useSignOutMutation } from './api';
import { allForgotten } from './kept-slice';
import { OutboxBar } from './outbox';
import { toggleTheme } from './theme';

/** The enamel bar above every page, and the way to the sign-in for whoever isn't signed in. */
export function Shell() {
  const { data: me, error, isLoading, refetch } = useMeQuery();
  const [signOut] = useSignOutMutation();
  const { pathname } = useLocation();
  const [changing, setChanging] = useState(false);
  const dispatch = useDispatch();
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
  const places = [
    { to: '/systems', name: 'Systems' },
    { to: '/shelf', name: 'Known-goods' },
    { to: '/learned', name: 'Learned' },
    { to: '/rules', name: 'House rules' },
    ...(me.user.role === 'lead' ? [{ to: '/shop', name: 'The shop' }] : []),
  ];
  // Nothing half done stays behind on a shared device; what waits to be sent does.
  const leave = () => void signOut().then(() => dispatch(allForgotten()));
  return (
    <>
      <header className="no-print flex min-h-[50px] items-center gap-x-4 bg-enamel px-4 py-1 text-on-enamel">
        <Link to="/" className="font-title text-2xl font-extrabold tracking-tight">
          jarro
        </Link>
        <span className="hidden text-[0.93rem] opacity-80 lg:block">
          {me.shop.name}, {me.shop.town}
        </span>
        <div className="ml-auto flex items-center gap-1">
          <SumsButton />
          <div className="hidden items-center gap-1 md:flex">
            {places.map(({ to, name }) => (
              <BarLink key={to} to={to}>
                {name}
              </BarLink>
            ))}
            <button
              type="button"
              aria-haspopup="dialog"
              title="Change the person, or your own sign-in"
              onClick={() => setChanging(true)}
              className="min-h-11 rounded-xl px-3 text-[0.93rem] hover:bg-white/10"
            >
              {me.user.name} <span className="opacity-70">{me.user.role}</span>
            </button>
            <IconButton label="Light or dark" onClick={toggleTheme}>
              <MoonStar aria-hidden className="size-5" />
            </IconButton>
            <IconButton label="Sign out" onClick={leave}>
              <LogOut aria-hidden className="size-5" />
            </IconButton>
          </div>
          <NarrowMenu
            places={places}
            actions={[
              { name: `${me.user.name}, ${me.user.role}`, act: () => setChanging(true) },
              { name: 'Light or dark', act: toggleTheme },
              { name: 'Sign out', act: leave },
            ]}
          />
        </div>
      </header>
      <OutboxBar />
      {changing && <PersonSheet onClose={() => setChanging(false)} />}
      <Outlet />
    </>
  );
}

const MENU_LINE =
  'flex min-h-12 w-full cursor-pointer items-center rounded-xl px-3 text-lg outline-none data-[highlighted]:bg-paper';

/** What a phone's bar has no room for. */
function NarrowMenu({
  places,
  actions,
}: {
  places: readonly { readonly to: string; readonly name: string }[];
  actions: readonly { readonly name: string; readonly act: () => void }[];
}) {
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger
        aria-label="More"
        className="grid size-11 place-items-center rounded-xl hover:bg-white/10 md:hidden"
      >
        <Menu aria-hidden className="size-6" />
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content align="end" className="card z-40 min-w-56 p-1.5 text-ink shadow-2xl">
          {places.map(({ to, name }) => (
            <DropdownMenu.Item key={to} asChild>
              <Link to={to} className={MENU_LINE}>
                {name}
              </Link>
            </DropdownMenu.Item>
          ))}
          {actions.map(({ name, act }) => (
            <DropdownMenu.Item key={name} onSelect={act} className={MENU_LINE}>
              {name}
            </DropdownMenu.Item>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
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
