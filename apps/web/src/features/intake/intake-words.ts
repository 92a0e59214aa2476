import isEqual from 'fast-deep-equal';
import {
  BATTERY_SUPPORT,
  CIRCUMSTANCES,
  FREQUENCIES,
  type Intake,
  KEY_STATE_NAMES,
  type KeyState,
  pressureText,
  SYMPTOMS,
  SYSTEMS,
  TAMPERING,
  type Vehicle,
} from '@jarro/core';
import type { PressureUnitName } from '@jarro/api-types';

export type IntakeField = keyof Intake;

const list = (texts: readonly string[]) => texts.join(', ');

type Words = (intake: Intake, unit: PressureUnitName) => string;

/** How each field of an intake is named and read out. */
const FIELDS: Readonly<Record<IntakeField, readonly [name: string, words: Words]>> = {
  vehicle: ['Vehicle', ({ vehicle }) => (vehicle ? vehicleText(vehicle) : '')],
  system: ['Fuel system', ({ system }) => SYSTEMS[system].title],
  features: [
    'What is fitted',
    ({ features: { railSensor, returnLine, module } }) =>
      `rail sensor ${railSensor}, return line ${returnLine}, driver module ${module}`,
  ],
  symptoms: ['What it does', ({ symptoms }) => list(symptoms.map((s) => SYMPTOMS[s]))],
  circumstances: ['When', ({ circumstances }) => list(circumstances.map((c) => CIRCUMSTANCES[c]))],
  frequency: ['How often', ({ frequency }) => (frequency ? FREQUENCIES[frequency] : '')],
  since: ['Since', ({ since }) => since],
  afterMinutes: ['After how many minutes', ({ afterMinutes }) => afterMinutes?.toString() ?? ''],
  priorRepairs: ['Repairs before this', ({ priorRepairs }) => priorRepairs],
  condemnedBy: ['Who condemned what', ({ condemnedBy }) => condemnedBy],
  tampering: ['Signs of tampering', ({ tampering }) => list(tampering.map((t) => TAMPERING[t]))],
  batterySupport: ['Helping the battery', ({ batterySupport }) => BATTERY_SUPPORT[batterySupport]],
  codes: ['Codes', ({ codes }) => list(codes)],
  makersWindows: [
    'Maker’s windows',
    ({ makersWindows }, unit) =>
      list(
        Object.entries(makersWindows).map(
          ([state, { minPa, maxPa }]) =>
            `${KEY_STATE_NAMES[state as KeyState].toLowerCase()} ${pressureText(minPa, unit)} to ${pressureText(maxPa, unit)} ${unit}`,
        ),
      ),
  ],
  sensorTable: [
    'Rail sensor table',
    ({ sensorTable }, unit) =>
      list(sensorTable.map(([volts, pascal]) => `${volts} V = ${pressureText(pascal, unit)} ${unit}`)),
  ],
  notes: ['Notes', ({ notes }) => notes],
};

export function vehicleText({ model, year, engine, plate }: Vehicle): string {
  return [model, year, engine, plate].filter(Boolean).join(' · ');
}

export const INTAKE_FIELDS = Object.keys(FIELDS) as IntakeField[];

export function fieldName(field: IntakeField): string {
  return FIELDS[field][0];
}

/** A field's value in words; a dash for nothing. */
export function fieldText(intake: Intake, field: IntakeField, unit: PressureUnitName): string {
  return FIELDS[field][1](intake, unit) || '–';
}

export function fieldsThatDiffer(a: Intake, b: Intake): IntakeField[] {
  return INTAKE_FIELDS.filter((field) => !isEqual(a[field], b[field]));
}
