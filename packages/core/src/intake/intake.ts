import { InputError } from '../errors.js';
import { KEY_STATES, type KeyState } from '../terms/key-states.js';
import type { PressureWindow, SystemFeatures, SystemKind } from '../vehicle/system-kinds.js';
import { readTroubleCode } from './codes.js';

const options = <T extends string>(labels: Readonly<Record<T, string>>) => labels;

/** What the vehicle does. */
export const SYMPTOMS = options({
  'no-start': 'Cranks, won’t start',
  'long-crank': 'Long crank',
  stalls: 'Stalls',
  'no-power': 'No power at speed',
  hesitates: 'Hesitates',
  'starts-dies': 'Starts and dies',
});
export type Symptom = keyof typeof SYMPTOMS;

/** When it does it. */
export const CIRCUMSTANCES = options({
  always: 'Always',
  hot: 'Hot',
  cold: 'Cold',
  wet: 'Wet',
  bumps: 'Over bumps',
  'after-minutes': 'After some minutes',
  'low-tank': 'Low tank',
  uphill: 'Uphill, loaded',
});
export type Circumstance = keyof typeof CIRCUMSTANCES;

/** How often it does it. */
export const FREQUENCIES = options({ always: 'Every time', often: 'Often', rarely: 'Now and then', once: 'Once' });
export type Frequency = keyof typeof FREQUENCIES;

/** What somebody before may have left behind. */
export const TAMPERING = options({
  'bypassed-relay': 'Relay bypassed',
  'wrong-fuse': 'Wrong fuse',
  'added-wiring': 'Added wiring',
  'wrong-relay': 'Wrong relay',
  'pierced-wires': 'Pierced wires',
});
export type Tampering = keyof typeof TAMPERING;

/** What holds the battery up while it is read. */
export const BATTERY_SUPPORT = options({ none: 'None', charger: 'Charger on', 'jump-pack': 'Jump pack on' });
export type BatterySupport = keyof typeof BATTERY_SUPPORT;

/** Which vehicle it is, as far as anyone wrote down. */
export interface Vehicle {
  readonly model: string;
  readonly engine: string;
  readonly plate: string;
  readonly year?: number;
}

/** What is known before anyone touches the wiring. Edited as a whole; every version stays on record. */
export interface Intake {
  /** Absent where nobody saved an intake since the case was opened. */
  readonly vehicle?: Vehicle;
  readonly system: SystemKind;
  readonly features: SystemFeatures;
  readonly symptoms: readonly Symptom[];
  readonly circumstances: readonly Circumstance[];
  readonly frequency?: Frequency;
  readonly since: string;
  readonly afterMinutes?: number;
  readonly priorRepairs: string;
  readonly condemnedBy: string;
  readonly tampering: readonly Tampering[];
  readonly batterySupport: BatterySupport;
  readonly codes: readonly string[];
  readonly makersWindows: Partial<Record<KeyState, PressureWindow>>;
  /** Rail sensor table, volts to Pa, rising; straight between points. */
  readonly sensorTable: readonly (readonly [number, number])[];
  readonly notes: string;
}

/** An intake in which nothing was said yet. */
export const EMPTY_INTAKE: Intake = {
  system: 'unknown',
  features: { railSensor: 'unknown', returnLine: 'unknown', module: 'unknown' },
  symptoms: [],
  circumstances: [],
  since: '',
  priorRepairs: '',
  condemnedBy: '',
  tampering: [],
  batterySupport: 'none',
  codes: [],
  makersWindows: {},
  sensorTable: [],
  notes: '',
};

/** The complaint as one sentence: "Stalls, hesitates; hot, after 10 minutes; now and then; since last spring." */
export function complaintSentence(intake: Intake): string {
  const what = intake.symptoms.map((s, i) => (i === 0 ? SYMPTOMS[s] : lowerFirst(SYMPTOMS[s]))).join(', ');
  const when = intake.circumstances
    .map((c) =>
      c === 'after-minutes' && intake.afterMinutes
        ? `after ${intake.afterMinutes} minutes`
        : CIRCUMSTANCES[c].toLowerCase(),
    )
    .join(', ');
  const often = intake.frequency && FREQUENCIES[intake.frequency].toLowerCase();
  const since = intake.since && `since ${intake.since}`;
  const parts = [what, when, often, since].filter(Boolean);
  return parts.length ? `${parts.join('; ')}.` : '';
}

function lowerFirst(text: string): string {
  return text.charAt(0).toLowerCase() + text.slice(1);
}

/**
 * Checks what no form can check field by field.
 * @throws InputError with what is wrong and what to do
 */
export function checkIntake({ vehicle, codes, makersWindows, sensorTable }: Intake): void {
  if (vehicle && !vehicle.model.trim()) throw new InputError('Name the vehicle.');
  for (const code of codes) {
    if (!readTroubleCode(code)) {
      throw new InputError(
        `"${code}" is no trouble code: one letter P, C, B or U, then a digit 0 to 3 and three more, as in P0087.`,
      );
    }
  }
  for (const [state, window] of Object.entries(makersWindows)) {
    if (!(KEY_STATES as readonly string[]).includes(state)) throw new InputError(`There is no key state "${state}".`);
    const { minPa, maxPa, ...others } = (window ?? {}) as Partial<PressureWindow>;
    const alone = Object.keys(others).length === 0;
    if (!(
      alone &&
      Number.isFinite(minPa) &&
      Number.isFinite(maxPa) &&
      Number(minPa) >= 0 &&
      Number(maxPa) > Number(minPa)
    )) {
      throw new InputError('A maker’s window goes from a lower to a higher pressure, both above zero.');
    }
  }
  sensorTable.forEach((point, i) => {
    const before = sensorTable[i - 1];
    const numbers = Array.isArray(point) && point.length === 2 && point.every(Number.isFinite);
    if (!numbers || (before && !(point[0] > before[0] && point[1] > before[1]))) {
      throw new InputError('The rail sensor’s table must rise from row to row, in volts and in pressure.');
    }
  });
}
