import type { HoldRecord } from '../measure/pressure/hold-record.js';
import type { KeyState } from '../terms/key-states.js';
import type { HowTaken } from './how-taken.js';
import type { SweepRecord } from '../measure/pulses/sweep-record.js';
import type { CaptureResult, SoakRecord, VolumeRecord } from './records.js';

/** Everything that can be read at a vehicle and weighed. */
export const READING_KINDS = [
  'voltage',
  'test-light',
  'resistance',
  'source',
  'current',
  'pressure',
  'scan',
  'duty',
  'battery',
  'timing',
  'hold',
  'volume',
  'injectors',
  'check',
  'heard',
  'disturb',
  'swap',
  'bridge',
  'direct-feed',
  'module-bypass',
  'visual',
  'new-fuse',
  'capture',
  'pattern',
  'actuator',
  'fell-first',
  'sweep',
  'soak',
  'code',
] as const;
export type ReadingKind = (typeof READING_KINDS)[number];

export type ReadingValue = number | string | HoldRecord | VolumeRecord | SweepRecord | SoakRecord | CaptureResult;

/** One reading as the reasoning weighs it. Numbers in SI (V, A, ohm, Pa, s), duty and trims in per cent. */
export interface Reading extends HowTaken {
  readonly id: string;
  readonly kind: ReadingKind;
  /** A station of the path, or what was read: `rail`, a scan parameter, a check. */
  readonly at: string;
  readonly value: ReadingValue;
  readonly keyState: KeyState;
  readonly faultPresent: boolean;
  /** Read in a record in which the fault came and went: while it was away, and still with it seen. */
  readonly isCaught?: boolean;
}

/** Whether two readings asked the same thing, whatever they showed. */
export function sameQuestion(a: Reading, b: Reading): boolean {
  return (
    a.kind === b.kind &&
    a.at === b.at &&
    a.keyState === b.keyState &&
    a.reference === b.reference &&
    a.unloaded === b.unloaded &&
    a.helped === b.helped &&
    a.boosted === b.boosted &&
    a.commandPercent === b.commandPercent &&
    a.faultPresent === b.faultPresent
  );
}
