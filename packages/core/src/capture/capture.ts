import type { SiUnit } from '../units/units.js';
import { InputError } from '../errors.js';

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
  'other',
] as const;

export type Role = (typeof ROLES)[number];

const ROLE_UNIT: Readonly<Record<Role, SiUnit>> = {
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
  other: '1',
};

export function isRole(text: string): text is Role {
  return (ROLES as readonly string[]).includes(text);
}

/** One recorded signal. Samples are in `unit`, evenly spaced at the capture's rate. */
export interface Channel {
  readonly name: string;
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

/** A channel after probe scaling: samples are in the SI unit of its role. */
export interface ScaledChannel extends Channel {
  readonly role: Role;
  /** Whether a zero was stated, so that nothing needs to be estimated. */
  readonly zeroStated: boolean;
}

/**
 * Applies probe factor, stated zero and polarity. Returns the same samples when nothing changes.
 * A stated factor and zero speak of the file's own number, so the reader's unit conversion is undone first.
 * @throws InputError when the factor is zero or not a number, or takes samples beyond what can be kept
 */
export function scaleChannel(channel: Channel, setup: ChannelSetup): ScaledChannel {
  if (setup.factor !== undefined && !(Number.isFinite(setup.factor) && setup.factor !== 0)) {
    throw new InputError(
      `The scale of "${channel.name}" must be a number other than zero; give amps, volts or pascals per unit in the file.`,
    );
  }
  const scale = setup.factor === undefined ? 1 : setup.factor / channel.fileFactor;
  const gain = setup.invert ? -scale : scale;
  const zero = (setup.zero ?? 0) * channel.fileFactor;
  let samples = channel.samples;
  if (gain !== 1 || zero !== 0) {
    samples = new Float32Array(channel.samples.length);
    let beyond = 0;
    for (let i = 0; i < samples.length; i++) {
      samples[i] = (channel.samples[i] - zero) * gain;
      if (!Number.isFinite(samples[i])) beyond++;
    }
    if (beyond > 0) {
      throw new InputError(
        `The scale or zero of "${channel.name}" makes numbers too large to be a signal; give amps, volts or pascals per unit in the file.`,
      );
    }
  }
  const unit = setup.role === 'other' ? channel.unit : ROLE_UNIT[setup.role];
  return { ...channel, unit, samples, role: setup.role, zeroStated: setup.zero !== undefined };
}

export function durationS(capture: Capture): number {
  const samples = capture.channels[0]?.samples.length ?? 0;
  return samples / capture.sampleRateHz;
}
