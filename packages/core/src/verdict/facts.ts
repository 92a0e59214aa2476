import { NOT_POSSIBLE } from '../evidence/entry.js';
import { isAsItIs } from '../evidence/how-taken.js';
import { LOADED_STATES, type KeyState } from '../terms/key-states.js';
import type { CaptureResult } from '../evidence/records.js';
import type { Reading, ReadingKind } from '../evidence/reading.js';
import { LEAST_LOAD_A } from '../limits/limits.js';
import type { Vehicle } from '../physics/vehicle.js';
import { tableOutput } from '../vehicle/command-table.js';

/** A number that was read, and by which reading. */
export interface Fact {
  readonly value: number;
  readonly id: string;
}

/** What was measured while the fault was there: nothing assumed, the newest of each question. */
export class Facts {
  /** Those that count: taken with the fault present and the circuit as it is, oldest first. */
  readonly readings: readonly Reading[];

  constructor(
    readonly vehicle: Vehicle,
    readings: readonly Reading[],
  ) {
    this.readings = readings.filter(
      (reading) => reading.faultPresent && reading.value !== NOT_POSSIBLE && isAsItIs(reading),
    );
  }

  /** Key states in which something was read under load, the newest first. */
  states(): KeyState[] {
    return [...new Set(this.readings.map(({ keyState }) => keyState).reverse())].filter((state) =>
      LOADED_STATES.has(state),
    );
  }

  newest(kind: ReadingKind, at?: string, state?: KeyState): Reading | undefined {
    return this.readings
      .filter(
        (r) => r.kind === kind && (at === undefined || r.at === at) && (state === undefined || r.keyState === state),
      )
      .at(-1);
  }

  private number(reading: Reading | undefined): Fact | undefined {
    return typeof reading?.value === 'number' ? { value: reading.value, id: reading.id } : undefined;
  }

  /** Loaded volts of a station from the battery's own post: no other place proves anything. */
  volts(at: string, state: KeyState): Fact | undefined {
    const read = this.readings
      .filter(
        (r) =>
          r.kind === 'voltage' &&
          r.at === at &&
          r.keyState === state &&
          !r.unloaded &&
          (r.reference ?? 'battery-') === 'battery-',
      )
      .at(-1);
    return this.number(read);
  }

  battery(state: KeyState): Fact | undefined {
    const own = this.volts(this.vehicle.profile.stations[0].id, state);
    return own ?? this.number(this.readings.filter((r) => r.kind === 'battery' && r.keyState === state).at(-1));
  }

  /** Through the pump. */
  current(state: KeyState): Fact | undefined {
    const read = this.readings.filter((r) => r.keyState === state && amperes(r) !== undefined).at(-1);
    return read && { value: amperes(read) ?? 0, id: read.id };
  }

  /** Current enough to load a joint, by a clamp or by a motor that was seen to turn. */
  flows(state: KeyState): boolean {
    const turns = this.readings.some(
      ({ kind, at, value, keyState }) =>
        keyState === state &&
        ((kind === 'capture' && ((value as CaptureResult).rpm ?? 0) > 0) ||
          ((kind === 'heard' || at === 'prime_heard') && (value === 'steady' || value === 'rough'))),
    );
    return turns || (this.current(state)?.value ?? 0) >= LEAST_LOAD_A;
  }

  /** Output duty that was measured, 0 to 1. */
  output(state: KeyState): Fact | undefined {
    const read = this.number(this.newest('duty', 'output', state));
    return read && { ...read, value: read.value / 100 };
  }

  /** Output duty that the measured command asks for, 0 to 1: at the module's pin, else by scan tool. */
  asked(state: KeyState): Fact | undefined {
    const read = this.number(this.newest('duty', 'command', state) ?? this.newest('scan', 'commanded_duty', state));
    return read && { ...read, value: tableOutput(this.vehicle.profile.commandTable, read.value) / 100 };
  }
}

function amperes({ kind, value }: Reading): number | undefined {
  if (kind === 'current') return typeof value === 'number' ? value : undefined;
  if (kind !== 'capture') return undefined;
  const { meanA, pattern } = value as CaptureResult;
  return pattern === 'no-current' ? 0 : meanA;
}
