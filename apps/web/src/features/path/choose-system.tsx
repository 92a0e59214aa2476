import { PATH_TITLES, PATHS, type PathKind } from '@jarro/core';
import { Link } from 'react-router';
import { errorText, useGiveSystemMutation, useSystemsQuery } from '../../app/api';
import { ErrorNotice } from '../../ui/notice';
import { useTheBench } from '../case/bench';
import { useMay } from '../session/use-may';

/** Which path this vehicle has: one of the shop's own, with its pump's draw and speed, or a shipped stand-in. */
export function ChooseSystem() {
  const { item } = useTheBench();
  const { data: systems = [] } = useSystemsQuery();
  const [give, { error, isLoading }] = useGiveSystemMutation();
  const editable = useMay()('measure') && item.stage === 'open';
  const { system } = item;
  const own = systems.find(({ id }) => id === system?.line);
  const newer = own && system?.version !== undefined && own.version > system.version ? own.version : undefined;
  const choose = (value: string) => {
    if ((PATHS as readonly string[]).includes(value)) void give({ caseId: item.id, template: value as PathKind });
    const chosen = systems.find(({ id }) => id === value);
    if (chosen) void give({ caseId: item.id, line: chosen.id, version: chosen.version });
  };
  const value = system ? (system.line ?? PATHS.find((path) => PATH_TITLES[path] === system.name) ?? '') : '';
  return (
    <section aria-label="System of this vehicle" className="space-y-1">
      <div className="flex flex-wrap items-end gap-3">
        <label className="block min-w-64 flex-1">
          <span className="label">This vehicle’s path</span>
          <select
            className="input mt-1"
            value={value}
            disabled={!editable || isLoading}
            onChange={(event) => choose(event.target.value)}
          >
            <option value="">As the intake says: a shipped stand-in</option>
            <optgroup label="The shop’s own">
              {systems
                .filter(({ id, retired }) => !retired || id === system?.line)
                .map(({ id, profile, version }) => (
                  <option key={id} value={id}>
                    {profile.name}, version {id === system?.line ? system.version : version}
                  </option>
                ))}
            </optgroup>
            <optgroup label="Shipped">
              {PATHS.map((path) => (
                <option key={path} value={path}>
                  {PATH_TITLES[path]}
                </option>
              ))}
            </optgroup>
          </select>
        </label>
        <Link to="/systems" className="grid min-h-11 place-items-center text-steel underline-offset-4 hover:underline">
          Compose one
        </Link>
      </div>
      {newer !== undefined && editable && own && (
        <p className="text-[0.93rem]">
          Version {newer} was kept since; this case stays with version {system?.version}.{' '}
          <button
            type="button"
            className="min-h-11 text-steel underline"
            onClick={() => void give({ caseId: item.id, line: own.id, version: newer })}
          >
            Take version {newer}
          </button>
        </p>
      )}
      {(!system || system.shipped) && (
        <p className="label">
          A stand-in knows nothing of this vehicle’s pump: its amperes count for little and its speed for nothing.
        </p>
      )}
      <ErrorNotice text={errorText(error)} />
    </section>
  );
}
