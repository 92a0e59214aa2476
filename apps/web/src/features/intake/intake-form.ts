import { type Intake, KEY_STATE_NAMES, type KeyState, pressureText, type Vehicle } from '@jarro/core';
import type { PressureUnitName } from '@jarro/api-types';
import { readNumber } from '../../app/units';

/** Key states for which makers give pressure windows. */
export const WINDOW_STATES = ['prime', 'cranking', 'idle', 'loaded'] as const satisfies readonly KeyState[];
export type WindowState = (typeof WINDOW_STATES)[number];

/** What stands in a field as text and isn't part of the intake yet. */
export interface Typed {
  readonly code: string;
  readonly windows: Readonly<Record<WindowState, { readonly low: string; readonly high: string }>>;
  readonly sensor: { readonly volts: string; readonly pressure: string; readonly fullScale: string };
}

/** An intake as it is written: whole, and what is half typed beside it. */
export interface IntakeForm {
  readonly intake: Intake;
  readonly typed: Typed;
}

export function formOf(intake: Intake, unit: PressureUnitName): IntakeForm {
  const windowText = (state: WindowState) => {
    const window = intake.makersWindows[state];
    return window
      ? { low: pressureText(window.minPa, unit), high: pressureText(window.maxPa, unit) }
      : { low: '', high: '' };
  };
  return {
    intake,
    typed: {
      code: '',
      windows: Object.fromEntries(WINDOW_STATES.map((state) => [state, windowText(state)])) as Typed['windows'],
      sensor: { volts: '', pressure: '', fullScale: '' },
    },
  };
}

/** The intake that is saved: an emptied field is absent. */
export function intakeOf({ intake: { vehicle, afterMinutes, ...others } }: IntakeForm): Intake {
  return {
    ...others,
    ...(vehicle && { vehicle: withYear(vehicle) }),
    ...(afterMinutes !== undefined && { afterMinutes }),
  };
}

function withYear({ year, ...vehicle }: Vehicle): Vehicle {
  return { ...vehicle, ...(year !== undefined && { year }) };
}

/** A number field's text; nothing where it is empty. */
export const numberOrNothing = (text: unknown) => (text === '' || text === undefined ? undefined : Number(text));

/** What is wrong with what is half typed; the form is saved once there is nothing. */
export const UNFINISHED = {
  code: (typed: string) =>
    !typed.trim() || `The code “${typed.trim()}” is typed but not added: press Enter behind it, or empty the field.`,
  window: (state: WindowState, { low, high }: Typed['windows'][WindowState], unit: PressureUnitName) =>
    isWhole(low, high) ||
    `${low}${high}`.trim() === '' ||
    `${KEY_STATE_NAMES[state]}: give its lowest and highest as numbers in ${unit}, or empty both.`,
  sensor: ({ volts, pressure }: Typed['sensor']) =>
    !(volts.trim() || pressure.trim()) ||
    'A point of the rail sensor’s table is typed but not added: add it, or empty both.',
} as const;

/** Whether something stands typed that isn't part of the intake. */
export function isHalfTyped({ code, windows, sensor }: Typed): boolean {
  const halves = Object.values(windows).some(({ low, high }) => !isWhole(low, high) && `${low}${high}`.trim() !== '');
  return [code, sensor.volts, sensor.pressure].some((text) => text.trim() !== '') || halves;
}

function isWhole(low: string, high: string): boolean {
  return readNumber(low) !== undefined && readNumber(high) !== undefined;
}
