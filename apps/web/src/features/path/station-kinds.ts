import { BENCH_ANSWERS, isBenchKind, type EntryKind, type KeyState, type Reference, type Station } from '@jarro/core';

/** What can be read or done at a station, in the words that are pressed. */
export const AT_STATION = {
  voltage: 'Volts',
  'test-light': 'Lamp',
  resistance: 'Ohms',
  current: 'Amps',
  duty: 'Duty out',
  heard: 'Heard',
  disturb: 'Moved',
  swap: 'Swapped',
  bridge: 'Bridged',
  'direct-feed': 'Fed directly',
  'module-bypass': 'Bypassed',
  visual: 'Looked at',
} as const satisfies Partial<Record<EntryKind, string>>;
export type StationKindOfReading = keyof typeof AT_STATION;

/** A reading about to be taken: where, of what, and what is known of how. */
export interface StationReading {
  readonly station: string;
  readonly kind: StationKindOfReading;
  readonly state?: KeyState;
  readonly reference?: Reference;
}

export function isStationKind(kind: string): kind is StationKindOfReading {
  return kind in AT_STATION;
}

const OWN: Partial<Record<Station['kind'], readonly StationKindOfReading[]>> = {
  pump: ['current', 'heard', 'direct-feed'],
  relay: ['swap', 'bridge'],
  'junction-box': ['bridge'],
  module: ['duty', 'module-bypass'],
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
