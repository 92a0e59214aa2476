import { BENCH_ANSWERS, isBenchKind, type EntryKind, type KeyState, type Reference, type Station } from '@jarro/core';

/** What can be read or done at a station, in the words that are pressed. */
export const AT_STATION = {
  voltage: 'Volts',
  'test-light': 'Lamp',
  resistance: 'Ohms',
  current: 'Amps',
  duty: 'Duty',
  heard: 'Heard',
  disturb: 'Moved',
  swap: 'Swapped',
  bridge: 'Bridged',
  'direct-feed': 'Fed directly',
  'module-bypass': 'Bypassed',
  'new-fuse': 'New fuse',
  visual: 'Looked at',
} as const satisfies Partial<Record<EntryKind, string>>;
export type StationKindOfReading = keyof typeof AT_STATION;

/** A reading about to be taken: where, of what, and what is known of how. */
export interface StationReading {
  readonly station: string;
  readonly kind: StationKindOfReading;
  readonly state?: KeyState;
  readonly reference?: Reference;
  /** Of a duty: which of the module's lines. */
  readonly line?: DutyLine;
}

/** Lines of a driver module that carry a duty. */
export const DUTY_LINES = { output: 'Given out', command: 'Asked, at its pin', feedback: 'Answered' } as const;
export type DutyLine = keyof typeof DUTY_LINES;

export function isDutyLine(at: string): at is DutyLine {
  return Object.hasOwn(DUTY_LINES, at);
}

/** Places beside the stations that a test may send somebody to. */
const BESIDE: Readonly<Record<string, string>> = {
  module_ground: 'Driver module, ground pin',
  coil_feed: 'Relay coil, feed',
  coil_ground: 'Relay coil, ground',
  hose: 'Hose in the tank',
};

/** A station of the path, or a place beside it. */
export function stationOrPlace(stations: readonly Station[], id: string): Station | undefined {
  const name = BESIDE[id];
  const beside =
    name === undefined ? undefined : ({ id, kind: 'connector', name, accessMinutes: 0, backProbe: true } as const);
  return stations.find((station) => station.id === id) ?? beside;
}

export function isStationKind(kind: string): kind is StationKindOfReading {
  return kind in AT_STATION;
}

const OWN: Partial<Record<Station['kind'], readonly StationKindOfReading[]>> = {
  pump: ['current', 'heard', 'direct-feed'],
  relay: ['swap', 'bridge'],
  'junction-box': ['bridge'],
  module: ['duty', 'module-bypass'],
  fuse: ['new-fuse'],
  'fusible-link': ['new-fuse'],
};

/** What is offered at a station, most used first. */
export function kindsAt({ kind }: Station): readonly StationKindOfReading[] {
  const common: StationKindOfReading[] = [
    'voltage',
    ...(OWN[kind] ?? []),
    'test-light',
    'resistance',
    'disturb',
    'visual',
  ];
  return kind === 'battery' ? ['voltage'] : common;
}

/** Units of what is typed; absent where the answer is one of a few words. */
export const UNIT_OF: Partial<Record<StationKindOfReading, string>> = {
  voltage: 'V',
  resistance: 'Ω',
  current: 'A',
  duty: '%',
};

/** Answers that are pressed rather than typed. */
export function answersTo(kind: StationKindOfReading): readonly string[] {
  if (kind === 'resistance') return ['wandering', 'open'];
  return isBenchKind(kind) ? BENCH_ANSWERS[kind] : [];
}

/** Off circuit, or with the power away. */
export const DEAD_KINDS: ReadonlySet<StationKindOfReading> = new Set(['resistance', 'visual']);

export function wordOf(answer: string): string {
  return answer.replace('-', ' ');
}
