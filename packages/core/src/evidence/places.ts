import { MEASURES } from './catalogue.js';
import type { EntryKind } from './entry.js';
import { FIRST_CHECKS } from './first-checks.js';
import type { SystemProfile } from '../vehicle/profile.js';
import type { ReadingKind } from './reading.js';

const measuresOf = (kind: EntryKind) => [
  ...new Set(MEASURES.filter((measure) => measure.kind === kind).map(({ at }) => at)),
];

/** Places that aren't stations of the path, by kind of reading. */
const PLACES: Readonly<Partial<Record<ReadingKind, readonly string[]>>> = {
  pressure: measuresOf('pressure'),
  scan: measuresOf('scan'),
  duty: ['output', 'command', 'feedback'],
  battery: measuresOf('battery'),
  timing: measuresOf('timing'),
  hold: ['rail'],
  volume: ['rail'],
  check: [...FIRST_CHECKS.map(({ at }) => at), 'hose_fuel', 'gauge_bled'],
};
/** Kinds that need no place: there is but one. */
const OWN_STATION: Readonly<Partial<Record<ReadingKind, readonly string[]>>> = {
  current: ['pump'],
  capture: ['pump'],
  heard: ['pump'],
  'direct-feed': ['pump'],
  'module-bypass': ['module'],
  swap: ['relay', 'junction-box'],
  bridge: ['relay', 'junction-box'],
};

/** Places beside the stations that can be looked at. */
const SEEN_BESIDE: readonly unknown[] = ['hose'];

/** Where a reading was taken, or what is wrong with what was said of it. */
export type Place = { readonly at: string } | { readonly field: 'at' | 'kind'; readonly message: string };

/** Finds the place of a reading on a path. @param at absent where there is but one place for the kind */
export function findPlace(kind: ReadingKind, at: unknown, system: SystemProfile): Place {
  if (MEASURES.some((measure) => measure.kind === kind && measure.at === at)) return { at: at as string };
  const places = PLACES[kind];
  if (places) {
    if (places.includes(at as string)) return { at: at as string };
    if (at === undefined && places.length === 1) return { at: places[0] };
    return { field: 'at', message: `Say one of: ${places.join(', ')}.` };
  }
  const { stations } = system;
  const own = OWN_STATION[kind];
  if (at === undefined && own) {
    const station = stations.find((candidate) => own.includes(candidate.kind));
    return station ? { at: station.id } : { field: 'kind', message: `There is no ${own[0]} in this path.` };
  }
  if (kind === 'visual' && SEEN_BESIDE.includes(at)) return { at: at as string };
  if (stations.some(({ id }) => id === at)) return { at: at as string };
  return { field: 'at', message: `Name a station of this path: ${stations.map(({ id }) => id).join(', ')}.` };
}
