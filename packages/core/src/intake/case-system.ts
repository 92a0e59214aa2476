import type { Intake } from './intake.js';
import type { SensorTable } from '../vehicle/rail-sensor.js';
import type { SystemProfile } from '../vehicle/profile.js';

/** The system that a case was given: a shop's own version or a shipped path, with a copy of all of it. */
export interface CaseSystem {
  /** A shipped path is nobody's vehicle: its pump's draw and speed aren't known. */
  readonly shipped: boolean;
  readonly name: string;
  /** Of the shop's own; absent for a shipped path. */
  readonly line?: string;
  readonly version?: number;
  readonly profile: SystemProfile;
}

/** The rail sensor's table: the one entered for this vehicle, else its system's; undefined when neither says. */
export function knownSensorTable({ sensorTable }: Intake, system: CaseSystem | undefined): SensorTable | undefined {
  return sensorTable.length > 1 ? sensorTable : system?.profile.sensorTable;
}
