import type { Pattern } from '../measure/current/types.js';

/** Fuel that ran into a measuring jar. */
export interface VolumeRecord {
  readonly volumeM3: number;
  readonly durationS: number;
}

/** A vehicle that was watched for a fault that comes and goes: how long, and how often it came. */
export interface SoakRecord {
  readonly minutes: number;
  readonly drops: number;
}

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
