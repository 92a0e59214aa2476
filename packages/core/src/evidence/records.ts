import type { Pattern } from '../measure/current/types.js';

export interface VolumeRecord {
  readonly volumeM3: number;
  readonly durationS: number;
}

/** What a pump did at one command, as far as it was read; duties in per cent, the rest SI. */
export interface SweepStep {
  readonly commandPercent: number;
  readonly outputPercent?: number;
  readonly currentA?: number;
  readonly pressurePa?: number;
  /** At the module's supply. */
  readonly supplyV?: number;
}

export interface SweepRecord {
  readonly steps: readonly SweepStep[];
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
