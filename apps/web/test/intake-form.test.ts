import fc from 'fast-check';
import { EMPTY_INTAKE, type Intake } from '@jarro/core';
import {
  formOf,
  intakeOf,
  isHalfTyped,
  numberOrNothing,
  UNFINISHED,
  WINDOW_STATES,
  type Typed,
} from '../src/features/intake/intake-form';

// An intake is written in a form that holds half-typed texts beside it: nothing of them may be saved, and none be lost.

const WRITTEN: Intake = {
  ...EMPTY_INTAKE,
  vehicle: { model: 'Test Vehicle', engine: '1.0', plate: 'T1', year: 2014 },
  symptoms: ['stalls'],
  afterMinutes: 10,
  makersWindows: { prime: { minPa: 250e3, maxPa: 300e3 }, idle: { minPa: 200e3, maxPa: 260e3 } },
};
const typed = (of: Partial<Typed> = {}): Typed => ({ ...formOf(EMPTY_INTAKE, 'kPa').typed, ...of });
const withWindow = (low: string, high: string) => typed({ windows: { ...typed().windows, loaded: { low, high } } });

it('saves what it was filled from, and leaves out what was emptied', () => {
  for (const unit of ['kPa', 'bar', 'psi'] as const) expect(intakeOf(formOf(WRITTEN, unit))).toEqual(WRITTEN);
  const { afterMinutes: _, ...without } = WRITTEN;
  const form = formOf(WRITTEN, 'kPa');
  expect(intakeOf({ ...form, intake: { ...form.intake, afterMinutes: undefined } })).toEqual(without);
  const { year: _year, ...vehicle } = WRITTEN.vehicle!;
  const yearless = { ...form.intake, vehicle: { ...vehicle, year: undefined as never } };
  expect(intakeOf({ ...form, intake: yearless }).vehicle).toEqual(vehicle);
});

it('shows a kept window in the unit of whoever writes, and an empty one as empty', () => {
  const { windows } = formOf(WRITTEN, 'bar').typed;
  expect(windows.prime).toEqual({ low: '2.50', high: '3.00' });
  expect(windows.loaded).toEqual({ low: '', high: '' });
  expect(Object.keys(windows)).toEqual([...WINDOW_STATES]);
});

it('knows what is half typed, and says by name what to do about it', () => {
  expect(isHalfTyped(typed())).toBe(false);
  expect(isHalfTyped(typed({ code: 'P02' }))).toBe(true);
  expect(UNFINISHED.code('P02')).toMatch(/“P02” is typed but not added/);
  expect(isHalfTyped(typed({ sensor: { volts: '2', pressure: '', fullScale: '' } }))).toBe(true);
  expect(UNFINISHED.sensor({ volts: '2', pressure: '', fullScale: '' })).toMatch(/typed but not added/);
  // A full scale alone makes a table when its button is pressed; it is no half of a point.
  expect(isHalfTyped(typed({ sensor: { volts: '', pressure: '', fullScale: '700' } }))).toBe(false);
  expect(UNFINISHED.window('loaded', { low: '250', high: '' }, 'kPa')).toMatch(/^Loaded: .* in kPa/);
});

it('takes a window for whole when both ends are numbers, with a comma or a point', () => {
  for (const [low, high, half] of [
    ['250', '300', false],
    ['2,5', '3.0', false],
    ['250', '', true],
    ['', '300', true],
    ['about 250', '300', true],
    ['', '', false],
    [' ', ' ', false],
  ] as const) {
    expect([low, high, isHalfTyped(withWindow(low, high))]).toEqual([low, high, half]);
    expect(UNFINISHED.window('loaded', { low, high }, 'kPa') === true).toBe(!half);
  }
});

it('never both saves and complains: what is complained of is what is half typed', () => {
  fc.assert(
    fc.property(fc.string({ maxLength: 6 }), fc.string({ maxLength: 6 }), (low, high) => {
      const says = UNFINISHED.window('loaded', { low, high }, 'kPa');
      expect(says === true).toBe(!isHalfTyped(withWindow(low, high)));
    }),
  );
});

it('reads a number field’s text, and nothing where nothing stands', () => {
  expect([numberOrNothing('12'), numberOrNothing(''), numberOrNothing(undefined)]).toEqual([12, undefined, undefined]);
});
