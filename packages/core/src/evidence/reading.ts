import type { HoldRecord } from '../measure/pressure/hold-record.js';
import type { HowTaken, VolumeRecord } from './entry.js';
import type { KeyState } from '../terms/key-states.js';
import type { Pattern } from '../measure/current/types.js';

/** Everything that can be read at a vehicle and weighed. */
export const READING_KINDS = [
  'voltage',
  'test-light',
  'resistance',
  'current',
  'pressure',
  'scan',
  'duty',
  'battery',
  'timing',
  'hold',
  'volume',
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
] as const;
export type ReadingKind = (typeof READING_KINDS)[number];

/** What the ramp analysis made of a capture of the pump current; absent what it couldn't tell. */
export interface CaptureResult {
  readonly meanA?: number;
  readonly rpm?: number;
  readonly ripplePercent?: number;
  readonly inrushPeakA?: number;
  readonly pattern?: Pattern;
  /** Bars that aren't sound. */
  readonly badBars?: number;
}

export type ReadingValue = number | string | HoldRecord | VolumeRecord | CaptureResult;

/** One reading as the reasoning weighs it. Numbers in SI (V, A, ohm, Pa, s), duty and trims in per cent. */
export interface Reading extends HowTaken {
  readonly id: string;
  readonly kind: ReadingKind;
  /** A station of the path, or what was read: `rail`, a scan parameter, a check. */
  readonly at: string;
  readonly value: ReadingValue;
  readonly keyState: KeyState;
  readonly faultPresent: boolean;
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
    a.faultPresent === b.faultPresent
  );
}
