import { InputError } from '../errors.js';
import type { SiUnit } from '../units/units.js';
import { ROLE_UNIT, type Capture, type Channel, type ChannelSetup, type Role } from './capture.js';
import { ArraySource, ScaledSource, type SampleSource } from './source.js';

/** One channel of a record as its file or its instrument gives it. */
export interface RecordedChannel extends Omit<Channel, 'samples'> {
  readonly source: SampleSource;
}

/** Channels recorded together on one clock, of known length or still growing. */
export interface SignalRecord {
  readonly sampleRateHz: number;
  /** Time of sample 0 on the record's own clock, s. */
  readonly startS: number;
  readonly channels: readonly RecordedChannel[];
  /** What the reader had to assume or mend, in plain words. */
  readonly notes: readonly string[];
}

/** A channel as the quantity that it was clipped to. */
export interface Signal {
  readonly name: string;
  readonly role: Role;
  /** The role's own unit, or the file's where that contradicts the role and no scale was stated. */
  readonly unit: SiUnit;
  /** Whether a zero was stated, so that nothing needs to be estimated. */
  readonly zeroStated: boolean;
  /** Neither file nor person said what the numbers are; they are taken in the role's unit. */
  readonly unitAssumed: boolean;
  readonly source: SampleSource;
}

/** A capture in memory as a record, which is read chunk by chunk like one that is not. */
export function asRecord(capture: Capture): SignalRecord {
  const channels = capture.channels.map(({ samples, ...channel }) => ({
    ...channel,
    source: new ArraySource(samples),
  }));
  return { ...capture, channels };
}

/**
 * Applies probe factor, stated zero and polarity. A stated factor and zero speak of the file's own number, so the reader's
 * unit conversion is undone first. Without a factor a unit that contradicts the role stays what it is: volts are no amperes.
 * @throws InputError when the factor is zero or not a number; while reading, when it takes samples beyond what can be kept
 */
export function signalOf(channel: RecordedChannel, { role, factor, zero, invert }: ChannelSetup): Signal {
  const { name, fileFactor } = channel;
  if (factor !== undefined && !(Number.isFinite(factor) && factor !== 0)) {
    throw new InputError(
      `The scale of "${name}" must be a number other than zero; give amps, volts or pascals per unit in the file.`,
    );
  }
  const scale = factor === undefined ? 1 : factor / fileFactor;
  const gain = invert ? -scale : scale;
  const level = (zero ?? 0) * fileFactor;
  const refuse = () =>
    new InputError(
      `The scale or zero of "${name}" makes numbers too large to be a signal; give amps, volts or pascals per unit in the file.`,
    );
  const plain = gain === 1 && level === 0;
  const contradicts = factor === undefined && channel.unit !== '1' && channel.unit !== ROLE_UNIT[role];
  return {
    name,
    role,
    unit: role === 'other' || contradicts ? channel.unit : ROLE_UNIT[role],
    zeroStated: zero !== undefined,
    unitAssumed: role !== 'other' && factor === undefined && channel.unit === '1',
    source: plain ? channel.source : new ScaledSource(channel.source, level, gain, refuse),
  };
}

/** What was stated for a channel, by its name or by its header as the file writes it. */
export function statedFor<T>(
  channel: Pick<Channel, 'name' | 'header'>,
  stated: Readonly<Record<string, T>>,
): T | undefined {
  const { name, header } = channel;
  if (Object.hasOwn(stated, name)) return stated[name];
  return header !== undefined && Object.hasOwn(stated, header) ? stated[header] : undefined;
}

/** Whether a signal is in the unit that its role is measured in. */
export function fitsRole({ role, unit }: Pick<Signal, 'role' | 'unit'>): boolean {
  return role === 'other' || unit === ROLE_UNIT[role];
}
