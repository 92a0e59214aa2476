import type { HoldRecord, HowTaken, KeyState, VolumeRecord } from '../evidence/entry.js';
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
