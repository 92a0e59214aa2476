import {
  DUTY_LINE_NAMES,
  EVIDENCE,
  findMeasure,
  MEASURES,
  wordsAt,
  type EntryKind,
  type KeyState,
  type Reference,
  type Station,
} from '@jarro/core';

/** What can be read or done at a station, most used first. */
const AT_STATIONS = [
  'voltage',
  'current',
  'heard',
  'direct-feed',
  'actuator',
  'pattern',
  'swap',
  'bridge',
  'duty',
  'module-bypass',
  'new-fuse',
  'test-light',
  'resistance',
  'disturb',
  'visual',
] as const satisfies readonly EntryKind[];
export type StationKindOfReading = (typeof AT_STATIONS)[number];

/** A reading about to be taken: where, of what, and what is known of how. */
export interface StationReading {
  readonly station: string;
  readonly kind: StationKindOfReading;
  readonly state?: KeyState;
  readonly reference?: Reference;
  /** Of a duty: which of the module's lines. */
  readonly line?: DutyLine;
}

export type DutyLine = keyof typeof DUTY_LINE_NAMES;

export function isDutyLine(at: string): at is DutyLine {
  return Object.hasOwn(DUTY_LINE_NAMES, at);
}

/** The word on the key that offers a kind. */
export function keyOf(kind: EntryKind): string {
  return EVIDENCE[kind].key;
}

export function isStationKind(kind: string): kind is StationKindOfReading {
  return (AT_STATIONS as readonly string[]).includes(kind);
}

/** Places beside the path, by the station at which somebody stands who reads them. */
const BESIDE: Partial<Record<Station['kind'], readonly string[]>> = {
  battery: ['unit_supply'],
  fuse: ['neighbour_fuse'],
  relay: ['coil_feed', 'coil_ground'],
  'junction-box': ['coil_feed', 'coil_ground'],
  module: ['module_ground'],
  pump: ['hose'],
};

/** What else is read at a station, with its name. */
export function placesBeside({ kind, secondPump }: Station): readonly { readonly id: string; readonly name: string }[] {
  const places = [...(BESIDE[kind] ?? []), ...(secondPump ? ['lift_pump'] : [])];
  return places.map((id) => ({ id, name: nameOf(id) }));
}

const PLACE_NAMES: Readonly<Record<string, string>> = { lift_pump: 'Lift pump' };

function nameOf(place: string): string {
  return PLACE_NAMES[place] ?? MEASURES.find(({ at }) => at === place)?.title ?? place;
}

/** A station of the path, or a place beside it that something is read at. */
export function stationOrPlace(stations: readonly Station[], id: string): Station | undefined {
  const station = stations.find((one) => one.id === id);
  if (station) return station;
  const isPlace = AT_STATIONS.some((kind) => EVIDENCE[kind].places?.some(({ at }) => at === id));
  return isPlace ? { id, kind: 'connector', name: nameOf(id), accessMinutes: 0, backProbe: true } : undefined;
}

/** What is offered at a station, or at a place beside it, most used first. */
export function kindsAt({ id, kind }: Station): readonly StationKindOfReading[] {
  const named = AT_STATIONS.filter((one) => EVIDENCE[one].places?.some(({ at }) => at === id));
  if (named.length > 0) return named;
  if (kind === 'battery') return ['voltage'];
  return AT_STATIONS.filter((one) => {
    const { stations } = EVIDENCE[one];
    return one === 'duty' ? kind === 'module' : stations && (!stations.at || stations.at.includes(kind));
  });
}

/** Unit of what is typed; absent where the answer is one of a few words. */
export function unitOf(kind: StationKindOfReading, at: string): string | undefined {
  const value = findMeasure(kind, at)?.value;
  return value?.type === 'number' ? value.unit : undefined;
}

/** Answers that are pressed rather than typed. */
export function answersTo(kind: StationKindOfReading, at: string): readonly string[] {
  return wordsAt(kind, at);
}

/** Off circuit, or with the power away. */
export const DEAD_KINDS: ReadonlySet<StationKindOfReading> = new Set(['resistance', 'visual']);

export function wordOf(answer: string): string {
  return answer.replaceAll('-', ' ');
}
