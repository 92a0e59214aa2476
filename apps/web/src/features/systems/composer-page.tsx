import { emptyProfile, PATHS, templateProfile, type PathKind, type SystemProfile } from '@jarro/core';
import { Copy, FileDown } from 'lucide-react';
import { useState } from 'react';
import { useFormContext } from 'react-hook-form';
import { Link, useLocation, useNavigate, useParams, useSearchParams } from 'react-router';
import {
  errorText,
  useAddSystemMutation,
  useChangeSystemMutation,
  useRetireSystemMutation,
  useSystemHistoryQuery,
} from '../../app/api';
import type { SystemHistory } from '@jarro/api-types';
import { when } from '../../app/words';
import { Button } from '../../ui/button';
import { ErrorNotice } from '../../ui/notice';
import { useMay } from '../session/use-may';
import { ComposerForm, useComposed } from './composer';
import { PathList } from './path-list';
import type { ProfileForm } from './profile-form';
import { StationFields } from './station-fields';
import { SystemFields } from './system-fields';

/** A system put together: a new one, or the next version of one that the shop has. */
export function ComposerPage() {
  const { id = 'new' } = useParams();
  const [search] = useSearchParams();
  const location = useLocation();
  if (id !== 'new') return <Kept key={id} id={id} />;
  const from = search.get('from');
  const copied = (location.state as { profile?: SystemProfile } | null)?.profile;
  const keptAs = copied ? `new/${copied.name}` : `new/${from ?? 'empty'}`;
  return <NewSystem key={keptAs} keptAs={keptAs} copied={copied} from={from} />;
}

function NewSystem({ keptAs, copied, from }: { keptAs: string; copied?: SystemProfile; from: string | null }) {
  // Made once: what a form began with is what its changes are told by.
  const [initial] = useState(() => copied ?? (isPath(from) ? templateProfile(from) : emptyProfile()));
  return (
    <ComposerForm initial={initial} keptAs={keptAs}>
      <Composer />
    </ComposerForm>
  );
}

function isPath(text: string | null): text is PathKind {
  return (PATHS as readonly (string | null)[]).includes(text);
}

function Kept({ id }: { id: string }) {
  const { data: history, error } = useSystemHistoryQuery(id);
  const [shown, setShown] = useState<number>();
  if (!history) return <ErrorNotice text={errorText(error)} />;
  const [newest] = history.versions;
  const version = history.versions.find((candidate) => candidate.version === shown) ?? newest;
  return (
    <ComposerForm
      key={`${version.version}/${newest.version}`}
      initial={version.profile}
      keptAs={`${history.id}/${version.version}`}
    >
      <Composer history={history} version={version.version} onVersion={setShown} />
    </ComposerForm>
  );
}

function Composer({
  history,
  version,
  onVersion,
}: {
  history?: SystemHistory;
  version?: number;
  onVersion?: (version: number) => void;
}) {
  const { profile, chosen, dirty, drop, forget, problems } = useComposed();
  const { register } = useFormContext<ProfileForm>();
  const [add, adding] = useAddSystemMutation();
  const [change, changing] = useChangeSystemMutation();
  const navigate = useNavigate();
  const may = useMay()('compose');
  const newest = history?.versions[0].version;
  const worthKeeping = !history || dirty || version !== newest;
  const keep = async () => {
    if (history && newest !== undefined) {
      const result = await change({ id: history.id, basis: newest, profile });
      if (!result.data) return;
      forget();
      onVersion?.(result.data.version);
      return;
    }
    const result = await add({ profile });
    if (!result.data) return;
    forget();
    void navigate(`/systems/${result.data.id}`, { replace: true });
  };
  return (
    <main className="mx-auto max-w-[1280px] space-y-3 p-4">
      <header className="flex flex-wrap items-end gap-3">
        <label className="min-w-72 flex-1">
          <span className="label">
            <Link to="/systems" className="hover:underline">
              Systems
            </Link>{' '}
            / name of this one
          </span>
          <input
            className="input mt-1 font-title text-2xl font-bold"
            maxLength={120}
            placeholder="Vehicle, engine, years"
            {...register('name')}
          />
        </label>
        {history && version !== undefined && (
          <Versions history={history} version={version} onVersion={(next) => onVersion?.(next)} />
        )}
        <Tools profile={profile} history={history} />
        {may && (
          <Button
            look="rust"
            className="text-lg"
            onClick={() => void keep()}
            disabled={problems.length > 0 || !worthKeeping || adding.isLoading || changing.isLoading}
          >
            {newest === undefined ? 'Keep this system' : `Keep as version ${newest + 1}`}
          </Button>
        )}
      </header>
      <ErrorNotice text={errorText(adding.error ?? changing.error)} />
      {problems.length > 0 && (
        <p role="status" className="rounded-xl border border-ochre px-3 py-2">
          Not ready to keep: {problems[0].message}
          {problems.length > 1 && ` And ${problems.length - 1} more.`}
        </p>
      )}
      {/* Its place is kept, so that nothing moves under the finger that types first. */}
      <p className="label flex min-h-11 items-center gap-3">
        {dirty && may && (
          <>
            Not kept yet; it stays on this device until it is.
            <Button look="bare" onClick={drop}>
              Drop my changes
            </Button>
          </>
        )}
      </p>
      <div className="grid grid-cols-[minmax(0,1fr)] gap-3 md:grid-cols-[11.5rem_minmax(0,1fr)_minmax(0,1fr)]">
        <PathList />
        {chosen >= 0 ? (
          <StationFields key={`${profile.stations[chosen].id}@${chosen}`} index={chosen} />
        ) : (
          <p className="card self-start p-4 text-soft">Choose a station to say more about it.</p>
        )}
      </div>
      <SystemFields />
    </main>
  );
}

function Versions({
  history: { versions },
  version,
  onVersion,
}: {
  history: SystemHistory;
  version: number;
  onVersion: (version: number) => void;
}) {
  return (
    <label>
      <span className="label">Version</span>
      <select className="input mt-1" value={version} onChange={(event) => onVersion(Number(event.target.value))}>
        {versions.map(({ version: number, madeBy, madeAt }) => (
          <option key={number} value={number}>
            {number}, {madeBy}, {when(madeAt)}
          </option>
        ))}
      </select>
    </label>
  );
}

function Tools({ profile, history }: { profile: SystemProfile; history: SystemHistory | undefined }) {
  const navigate = useNavigate();
  const [retire, { error, isLoading }] = useRetireSystemMutation();
  const may = useMay()('compose');
  const duplicate = () =>
    void navigate('/systems/new', { state: { profile: { ...profile, name: `${profile.name}, copy` } } });
  return (
    <>
      <Button onClick={() => save(profile)}>
        <FileDown aria-hidden className="size-5" /> File
      </Button>
      {history && may && (
        <>
          <Button onClick={duplicate}>
            <Copy aria-hidden className="size-5" /> Duplicate
          </Button>
          <Button onClick={() => void retire({ id: history.id, retired: !history.retired })} disabled={isLoading}>
            {history.retired ? 'Bring back' : 'Retire'}
          </Button>
        </>
      )}
      <ErrorNotice text={errorText(error)} />
    </>
  );
}

/** Hands the system over as a file. */
function save(profile: SystemProfile): void {
  const url = URL.createObjectURL(new Blob([`${JSON.stringify(profile, null, 2)}\n`], { type: 'application/json' }));
  const link = document.createElement('a');
  link.href = url;
  link.download = `${profile.name.toLowerCase().replace(/[^a-z0-9]+/g, '-') || 'system'}.json`;
  link.click();
  URL.revokeObjectURL(url);
}
