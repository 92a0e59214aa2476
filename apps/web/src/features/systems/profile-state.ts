import {
  checkProfile,
  insertStation,
  moveStation,
  newStation,
  type FieldProblem,
  type Station,
  type StationKind,
  type SystemProfile,
} from '@jarro/core';
import { useMemo, useReducer } from 'react';

export interface Draft {
  readonly profile: SystemProfile;
  /** Id of the station whose fields are open. */
  readonly chosen: string | undefined;
}

export type Edit =
  | { readonly type: 'replace'; readonly profile: SystemProfile }
  | { readonly type: 'set'; readonly changes: Partial<SystemProfile> }
  | { readonly type: 'choose'; readonly station: string }
  /** Without a place: behind the one that is chosen. */
  | { readonly type: 'insert'; readonly kind: StationKind; readonly at?: number }
  | { readonly type: 'move'; readonly from: number; readonly to: number }
  | { readonly type: 'remove'; readonly station: string }
  | { readonly type: 'change'; readonly station: string; readonly changes: Partial<Station> };

function edit(draft: Draft, action: Edit): Draft {
  const { profile, chosen } = draft;
  const { stations } = profile;
  const withStations = (next: readonly Station[]) => ({ ...profile, stations: next });
  switch (action.type) {
    case 'replace':
      return { profile: action.profile, chosen: action.profile.stations[0]?.id };
    case 'set':
      return { ...draft, profile: without({ ...profile, ...action.changes }) };
    case 'choose':
      return { ...draft, chosen: action.station };
    case 'insert': {
      const station = newStation(action.kind, stations);
      const at = action.at ?? stations.findIndex(({ id }) => id === chosen) + 1;
      return { profile: withStations(insertStation(stations, station, at)), chosen: station.id };
    }
    case 'move':
      return { ...draft, profile: withStations(moveStation(stations, action.from, action.to)) };
    case 'remove':
      return { profile: withStations(stations.filter(({ id }) => id !== action.station)), chosen: undefined };
    case 'change': {
      const next = stations.map((station) =>
        station.id === action.station ? without({ ...station, ...action.changes }) : station,
      );
      return { ...draft, profile: withStations(next) };
    }
  }
}

/** A field that was emptied is absent, not undefined: so it is written, and so it is compared. */
function without<T extends object>(value: T): T {
  return Object.fromEntries(Object.entries(value).filter(([, field]) => field !== undefined)) as T;
}

export type ProblemOf = (field: string) => string | undefined;

/** A profile being composed, with what is wrong with it at every moment. */
export function useDraft(initial: SystemProfile) {
  const [draft, dispatch] = useReducer(edit, { profile: initial, chosen: initial.stations[0]?.id });
  const problems: readonly FieldProblem[] = useMemo(() => checkProfile(draft.profile), [draft.profile]);
  const problemOf: ProblemOf = (field) => problems.find((problem) => problem.field === field)?.message;
  return { ...draft, dispatch, problems, problemOf };
}
