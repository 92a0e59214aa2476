import type { Role } from '../capture/capture.js';
import type { Signal } from '../capture/signal-record.js';
import type { CannotTell } from '../errors.js';
import type { Finding } from '../limits/limits.js';
import type { SystemProfile } from '../vehicle/profile.js';

/** What a value rests on: the samples alone, something that was told, or what is usual. */
export type ValueBasis = 'measured' | 'given' | 'assumed';

/** One value that a record gave. */
export interface MeasuredValue {
  /** Where it stands in the answer, as `ramp.steady.meanA`. */
  readonly what: string;
  readonly value: number;
  readonly unit: 'A' | 'Pa' | 'Pa/min' | 'V' | 'Ω' | 's' | 'Hz' | 'rpm' | '%';
  /** 95 %. */
  readonly interval?: readonly [number, number];
  /** The stretch of the record that it came from, s on the record's clock. */
  readonly window?: readonly [number, number];
  readonly basis: ValueBasis;
}

/** Something that happened at a time of the record. */
export interface RecordEvent {
  readonly kind: string;
  readonly atS: number;
  readonly untilS?: number;
}

/** What one analyser makes of a record. */
export interface Measured<Part> {
  /** Its part of the answer. */
  readonly part: Part;
  readonly values: readonly MeasuredValue[];
  readonly events: readonly RecordEvent[];
  readonly findings: readonly Finding[];
  readonly cannotTell: readonly CannotTell[];
  /** Stretches that show something else than the usual course, s on the record's clock, for the analysers that follow. */
  readonly disturbed?: readonly TimeSpan[];
  /** Times in which the starter turned the engine. */
  readonly cranks?: readonly TimeSpan[];
  /** How often a driver switches what feeds the pump, Hz. */
  readonly drivenHz?: number;
}

/** From and until, s on the record's clock. */
export type TimeSpan = readonly [number, number];

/** The signals of one record that an analyser asked for, with what was told beside. */
export interface Material {
  readonly signals: Partial<Record<Role, Signal>>;
  readonly sampleRateHz: number;
  /** Time of sample 0, s. */
  readonly startS: number;
  /** Commutator bars, where known. */
  readonly bars?: number;
  /** How the vehicle's module reads its command and words its feedback, where its system is known. */
  readonly system?: DriveTables;
  /** Stretches in which an analyser before found something else than the usual course, s on the record's clock. */
  readonly disturbed: readonly TimeSpan[];
  /** Times in which the starter turned the engine, found before. */
  readonly cranks: readonly TimeSpan[];
  /** How often a driver switches what feeds the pump, Hz, where its own line was on the record. */
  readonly drivenHz?: number;
}

/** Tables of a driver module. */
export type DriveTables = Pick<SystemProfile, 'commandTable' | 'feedbackTable'>;

/** What of a path the measuring of its module's lines needs. */
export function driveTables({ commandTable, feedbackTable }: SystemProfile): DriveTables {
  return { ...(commandTable && { commandTable }), ...(feedbackTable && { feedbackTable }) };
}

/** Measures one kind of thing in a record. */
export interface Analyser<Name extends string, Part> {
  /** Name of its part of the answer. */
  readonly name: Name;
  /** Roles without which it can't start. */
  readonly needs: readonly Role[];
  /** Roles of which one is enough, where there are such. */
  readonly anyOf?: readonly Role[];
  /** What to say when no channel has them; nothing where their absence is nothing to speak of. */
  readonly without?: string;
  /** It looks at the signal as a whole, so it waits until the record is complete. */
  readonly wholeSignal: boolean;
  measure(material: Material): Measured<Part>;
}

/** The signal of a role that an analyser has named among its needs. */
export function signalFor({ signals }: Material, role: Role): Signal {
  const signal = signals[role];
  if (!signal) throw new Error(`An analyser asked for ${role} without naming it among its needs.`);
  return signal;
}
