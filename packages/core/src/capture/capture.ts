import type { SiUnit } from '../units/units.js';

/** What a channel was clipped to. The names are part of the command line contract. */
export const ROLES = [
  'pump_current',
  'pump_feed_voltage',
  'pump_ground_voltage',
  'battery_voltage',
  'relay_output_voltage',
  'module_supply_voltage',
  'module_output_voltage',
  'command_signal',
  'feedback_signal',
  'rail_pressure',
  'rail_sensor_voltage',
  'injector_signal',
  'other',
] as const;

export type Role = (typeof ROLES)[number];

/** What each role is measured in. */
export const ROLE_UNIT: Readonly<Record<Role, SiUnit>> = {
  pump_current: 'A',
  pump_feed_voltage: 'V',
  pump_ground_voltage: 'V',
  battery_voltage: 'V',
  relay_output_voltage: 'V',
  module_supply_voltage: 'V',
  module_output_voltage: 'V',
  command_signal: 'V',
  feedback_signal: 'V',
  rail_pressure: 'Pa',
  rail_sensor_voltage: 'V',
  injector_signal: 'V',
  other: '1',
};

/** Whether a word names a role. */
export function isRole(text: string): text is Role {
  return (ROLES as readonly string[]).includes(text);
}

/** One recorded signal. Samples are in `unit`, evenly spaced at the capture's rate. */
export interface Channel {
  readonly name: string;
  /** The header as the file writes it, where that is more than the name. */
  readonly header?: string;
  /** What the file said the numbers are; '1' when it said nothing. */
  readonly unit: SiUnit;
  /** What the reader multiplied the file's numbers by to reach `unit` (1e-3 for a column in mV). */
  readonly fileFactor: number;
  readonly samples: Float32Array;
}

/** Channels recorded together on one clock. All sample arrays have the same length. */
export interface Capture {
  readonly sampleRateHz: number;
  /** Time of sample 0 on the file's own clock, seconds. */
  readonly startS: number;
  readonly channels: readonly Channel[];
  /** What the reader had to assume or mend, in plain words. */
  readonly notes: readonly string[];
}

/** How one channel's raw numbers become the quantity they stand for. */
export interface ChannelSetup {
  readonly role: Role;
  /** Multiplies the file's number into A, V or Pa. Absent: the file's own unit decides. */
  readonly factor?: number;
  /** The instrument's reading at zero, in the file's own unit; subtracted before scaling. */
  readonly zero?: number;
  readonly invert?: boolean;
}

/** How long a capture lasts, s; 0 without channels. */
export function durationS(capture: Capture): number {
  const samples = capture.channels[0]?.samples.length ?? 0;
  return samples / capture.sampleRateHz;
}
