import { type KeyState, pressureText, type Station, type SystemProfile, toPascal } from '@jarro/core';
import type { PressureUnitName } from '@jarro/api-types';
import { readNumber } from '../../app/units';
import {
  EXPECTED_STATES,
  isBlank,
  type Ends,
  type ProfileForm,
  type StationForm,
  type WindowKind,
} from './profile-form';

/** What a second way round has until somebody says better, ohm: a pressure switch's contact. */
const USUAL_BYPASS_OHM = 0.03;

/** A number that must be there; what is none shows as not a number. */
const required = (text: string) => readNumber(text) ?? NaN;

/** A field of a profile, or none where nothing stands. */
function given<K extends string, T>(field: K, text: string, value: (text: string) => T): Partial<Record<K, T>> {
  return text.trim() === '' ? {} : ({ [field]: value(text.trim()) } as Record<K, T>);
}

/** A flag or a list, or none where it is not set. */
function where<K extends string, T>(field: K, value: T | undefined): Partial<Record<K, T>> {
  return value === undefined ? {} : ({ [field]: value } as Record<K, T>);
}

const same = (text: string) => text;

function stationOf(form: StationForm): Station {
  const { id, kind, name, backProbe, pin, colour, location, wire, bypass, sharedA } = form;
  const pins = form.pins
    .filter((one) => `${one.pin}${one.colour}`.trim() !== '')
    .map((one) => ({ role: one.role, pin: one.pin.trim(), ...given('colour', one.colour, same) }));
  const shared = given('sharedA', sharedA, required);
  return {
    ...{ id, kind, name, backProbe },
    ...given('pin', pin, same),
    ...given('colour', colour, same),
    ...given('location', location, same),
    accessMinutes: required(form.accessMinutes),
    ...given('ohm', form.ohm, required),
    ...where(
      'wire',
      `${wire.lengthM}${wire.areaMm2}`.trim() === ''
        ? undefined
        : { lengthM: required(wire.lengthM), areaMm2: required(wire.areaMm2) },
    ),
    ...given('bypass', bypass.name, (called) => ({
      name: called,
      ohm: bypass.ohm.trim() === '' ? USUAL_BYPASS_OHM : required(bypass.ohm),
    })),
    ...shared,
    ...where('secondPump', form.secondPump && shared.sharedA !== undefined ? true : undefined),
    ...where('pins', pins.length > 0 ? pins : undefined),
  };
}

/**
 * The system that is kept.
 *
 * @param base what the form was filled from: it holds what the form doesn't show, and pressures that weren't touched,
 *   which would change by what their text rounds off
 */
export function profileOf(form: ProfileForm, base: SystemProfile, unit: PressureUnitName): SystemProfile {
  const { name, control, crankOnly, regulator, pump } = form;
  const pascal: Read = (text, was) =>
    was !== undefined && pressureText(was, unit) === text.trim() ? was : toPascal(required(text), unit);
  const meanings = form.feedbackTable
    .filter((row) => !isBlank(row) || row.meaning.trim() !== '')
    .map(({ from, to, meaning }) => ({
      fromPercent: required(from),
      toPercent: required(to),
      meaning: meaning.trim(),
    }));
  const speeds = windowsOf(form, 'speed', base.speedWindows, ['minRpm', 'maxRpm'], required);
  return {
    ...{ format: base.format, id: base.id, name, control, crankOnly },
    ...where('regulator', regulator || undefined),
    stations: form.stations.map(stationOf),
    pump: {
      volts: required(pump.volts),
      amperes: required(pump.amperes),
      rpm: required(pump.rpm),
      pressurePa: pascal(pump.pressure, base.pump.pressurePa),
      windingOhm: required(pump.windingOhm),
    },
    primeS: required(form.primeS),
    ...given('bars', form.bars, required),
    ...given('ripplePercent', form.ripplePercent, required),
    currentWindows: windowsOf(form, 'draw', base.currentWindows, ['minA', 'maxA'], required),
    pressureWindows: windowsOf(form, 'pressure', base.pressureWindows, ['minPa', 'maxPa'], pascal),
    ...where('speedWindows', Object.keys(speeds).length > 0 ? speeds : undefined),
    ...where('commandTable', rowsOf(form.commandTable, base.commandTable, required)),
    ...where('sensorTable', rowsOf(form.sensorTable, base.sensorTable, pascal)),
    ...where('feedbackTable', meanings.length > 0 ? meanings : undefined),
  };
}

/** Reads a number's text; what it was before is taken where the text still says so. */
type Read = (text: string, was?: number) => number;

/** Windows with both ends typed, and those of states that the form doesn't show. */
function windowsOf<L extends string, M extends string>(
  { windows }: ProfileForm,
  kind: WindowKind,
  before: Partial<Record<KeyState, Readonly<Record<L | M, number>>>> = {},
  [least, most]: readonly [L, M],
  read: Read,
): Partial<Record<KeyState, Record<L | M, number>>> {
  const isShown = (state: string) => (EXPECTED_STATES as readonly string[]).includes(state);
  const written = EXPECTED_STATES.filter((state) => !isBlank(windows[state][kind])).map((state) => {
    const { from, to } = windows[state][kind];
    const was = before[state];
    return [state, { [least]: read(from, was?.[least]), [most]: read(to, was?.[most]) }] as const;
  });
  return Object.fromEntries([...Object.entries(before).filter(([state]) => !isShown(state)), ...written]);
}

function rowsOf(table: readonly Ends[], before: readonly (readonly [number, number])[] = [], read: Read) {
  const rows = table.flatMap((row, i) =>
    isBlank(row) ? [] : [[required(row.from), read(row.to, before.at(i)?.[1])] as const],
  );
  return rows.length > 0 ? rows : undefined;
}
