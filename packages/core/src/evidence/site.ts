import type { KeyState } from '../terms/key-states.js';
import type { Reference } from '../terms/references.js';
import type { Station, SystemProfile } from '../vehicle/profile.js';

/** Where on a vehicle something is asked: all that its words, its minutes and its dangers depend on. */
export interface Site {
  readonly at: string;
  readonly keyState: KeyState;
  readonly reference: Reference | undefined;
  readonly profile: SystemProfile;
  /** The station, and its place along the path; absent beside the path. */
  readonly station?: Station;
  readonly place: number;
  readonly pumpAt: number;
  readonly moduleAt: number;
  /** What people call it. */
  readonly name: string;
  /** Minutes to get there. */
  readonly access: number;
  /** The key state in words. */
  readonly state: string;
}

const STATE_NAMES: Readonly<Record<KeyState, string>> = {
  off: 'key off',
  prime: 'key on, prime',
  cranking: 'cranking',
  idle: 'idling',
  loaded: 'under load',
  'after-off': 'after shut-down',
};

/** Names of places that aren't stations, inside a sentence. */
const PLACE_NAMES: Readonly<Record<string, string>> = {
  rail: 'the rail',
  before_filter: 'the filter’s inlet',
  after_filter: 'the filter’s outlet',
  dead_head: 'the rail, return pinched',
  module_ground: 'the module’s ground pin',
  coil_feed: 'the relay’s coil feed',
  coil_ground: 'the relay’s coil ground',
  unit_supply: 'the control unit’s own supply',
  neighbour_fuse: 'a neighbour of the pump’s fuse',
  lift_pump: 'the lift pump',
  lift_line: 'the line between the two pumps',
  hose: 'the hose in the tank',
};

export function siteOf(
  profile: SystemProfile,
  { at, keyState, reference }: { readonly at: string; readonly keyState: KeyState; readonly reference?: Reference },
): Site {
  const { stations } = profile;
  const find = (...kinds: readonly Station['kind'][]) => stations.findIndex(({ kind }) => kinds.includes(kind));
  const place = stations.findIndex(({ id }) => id === at);
  const pumpAt = find('pump');
  const station = place >= 0 ? stations[place] : undefined;
  return {
    at,
    keyState,
    reference,
    profile,
    ...(station && { station }),
    place,
    pumpAt,
    moduleAt: find('module'),
    name: station ? `${station.name}${place > pumpAt ? ', pump side' : ''}` : (PLACE_NAMES[at] ?? at),
    access: station?.accessMinutes ?? 0,
    state: STATE_NAMES[keyState],
  };
}

/** Minutes to the pump's own connector. */
export function minutesToPump({ profile, pumpAt }: Site): number {
  return profile.stations[pumpAt].accessMinutes;
}

/** Minutes to where a clamp fits round the pump's feed most easily. */
export function minutesToClamp(site: Site): number {
  const before = site.profile.stations.slice(1, site.pumpAt).map(({ accessMinutes }) => accessMinutes);
  return Math.min(...before, minutesToPump(site));
}

/** Minutes to the module, none without one. */
export function minutesToModule(site: Site): number {
  return minutesToKind(site, 'module');
}

/** Minutes to the first station of some kinds, none without one. */
export function minutesToKind({ profile }: Site, ...kinds: readonly Station['kind'][]): number {
  return profile.stations.find(({ kind }) => kinds.includes(kind))?.accessMinutes ?? 0;
}

/** A measurement itself, once one is there (common practice, no published source). */
export const READ_MINUTES = 1;
