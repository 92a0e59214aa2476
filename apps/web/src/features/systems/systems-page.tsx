import { PATHS, PATH_TITLES, readProfile, templateProfile } from '@jarro/core';
import { FileUp, Plus } from 'lucide-react';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { errorText, useAddSystemMutation, useSystemsQuery } from '../../app/api';
import type { SystemItem } from '@jarro/api-types';
import { when } from '../../app/words';
import { ErrorNotice } from '../../ui/notice';
import { useMay } from '../session/use-may';
import { STATION_WORDS } from './station-words';

/** The shop's own systems, and the shipped paths to start one from. */
export function SystemsPage() {
  const { data: systems, error } = useSystemsQuery();
  const may = useMay();
  const own = systems?.filter(({ retired }) => !retired) ?? [];
  const retired = systems?.filter((system) => system.retired) ?? [];
  return (
    <main className="mx-auto max-w-[1180px] space-y-5 p-4">
      <header className="flex flex-wrap items-end justify-between gap-3">
        <div>
          <h1 className="text-3xl">Systems</h1>
          <p className="text-soft">
            A supply path with all that is expected of it, yours for every vehicle of its kind. A case keeps the version
            that it was given.
          </p>
        </div>
        {may('compose') && <ImportButton />}
      </header>
      <ErrorNotice text={errorText(error)} />
      <section aria-label="The shop’s own" className="space-y-2">
        <h2 className="text-xl">The shop’s own</h2>
        {systems && own.length === 0 && (
          <p className="text-soft">
            None yet. Start from the shipped path that comes nearest, and write down what you know.
          </p>
        )}
        <ul className="grid gap-2 md:grid-cols-2">
          {own.map((system) => (
            <SystemCard key={system.id} system={system} />
          ))}
        </ul>
      </section>
      {may('compose') && (
        <section aria-label="Start from" className="space-y-2">
          <h2 className="text-xl">Start from</h2>
          <ul className="grid gap-2 md:grid-cols-3">
            <li>
              <StartLink to="/systems/new" title="Empty" hint="Battery, pump, connector, ground" />
            </li>
            {PATHS.map((path) => (
              <li key={path}>
                <StartLink
                  to={`/systems/new?from=${path}`}
                  title={PATH_TITLES[path]}
                  hint={`${templateProfile(path).stations.length} stations`}
                />
              </li>
            ))}
          </ul>
        </section>
      )}
      {retired.length > 0 && (
        <section aria-label="Retired" className="space-y-2">
          <h2 className="text-xl">Retired</h2>
          <ul className="grid gap-2 opacity-75 md:grid-cols-2">
            {retired.map((system) => (
              <SystemCard key={system.id} system={system} />
            ))}
          </ul>
        </section>
      )}
    </main>
  );
}

function SystemCard({ system: { id, profile, version, madeBy, madeAt } }: { system: SystemItem }) {
  return (
    <li>
      <Link to={`/systems/${id}`} className="card block p-4 hover:border-ink">
        <span className="flex items-baseline justify-between gap-2">
          <span className="font-title text-lg font-bold">{profile.name}</span>
          <span className="label">version {version}</span>
        </span>
        <span className="mt-1 flex flex-wrap gap-1 text-steel">
          {profile.stations.map((station) => {
            const { icon: Icon, name } = STATION_WORDS[station.kind];
            return <Icon key={station.id} aria-label={name} className="size-4" />;
          })}
        </span>
        <span className="label mt-1 block">
          {profile.pump.amperes} A, {profile.pump.rpm} rpm · {madeBy}, {when(madeAt)}
        </span>
      </Link>
    </li>
  );
}

function StartLink({ to, title, hint }: { to: string; title: string; hint: string }) {
  return (
    <Link to={to} className="card flex min-h-16 items-center gap-3 p-3 hover:border-ink">
      <Plus aria-hidden className="size-5 shrink-0 text-steel" />
      <span>
        <span className="block leading-tight font-semibold">{title}</span>
        <span className="label">{hint}</span>
      </span>
    </Link>
  );
}

const MOST_BYTES = 200_000;
const MOST_NAMED = 4;

/** A `jarro.system/1` from a file; nothing of a wrong one is kept. */
function ImportButton() {
  const [add, { error }] = useAddSystemMutation();
  const [problem, setProblem] = useState<string>();
  const navigate = useNavigate();
  const take = async (file: File) => {
    setProblem(undefined);
    const read = await readFile(file);
    if ('problem' in read) return setProblem(read.problem);
    const result = await add({ profile: read.profile });
    if ('data' in result && result.data) void navigate(`/systems/${result.data.id}`);
  };
  return (
    <div className="max-w-md space-y-2">
      <label className="inline-flex min-h-11 cursor-pointer items-center gap-2 rounded-xl border border-line bg-card px-4 font-semibold focus-within:outline-3 focus-within:outline-steel hover:border-ink">
        <FileUp aria-hidden className="size-5" /> Take one from a file
        <input
          type="file"
          accept=".json,application/json"
          className="sr-only"
          onChange={(event) => {
            const file = event.target.files?.[0];
            event.target.value = '';
            if (file) void take(file);
          }}
        />
      </label>
      <ErrorNotice text={problem ?? errorText(error)} />
    </div>
  );
}

async function readFile(file: File) {
  if (file.size > MOST_BYTES)
    return { problem: `${file.name} is too large for a system. Choose a jarro.system/1 file.` };
  let content: unknown;
  try {
    content = JSON.parse(await file.text());
  } catch {
    return { problem: `${file.name} is not JSON. Choose a file that Jarro exported.` };
  }
  const read = readProfile(content);
  if ('profile' in read) return read;
  const named = read.problems
    .slice(0, MOST_NAMED)
    .map(({ field, message }) => (field ? `${field}: ${message}` : message));
  const more = read.problems.length - named.length;
  return { problem: `${file.name} can’t be taken. ${named.join(' ')}${more > 0 ? ` And ${more} more.` : ''}` };
}
