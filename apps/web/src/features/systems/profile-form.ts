import { type KeyState, PIN_ROLES, pressureText, type Regulator, type Station, type SystemProfile } from '@jarro/core';
import type { PressureUnitName } from '@jarro/api-types';

/** Key states for which a system says what to expect; windows of others are kept as they are. */
export const EXPECTED_STATES = ['prime', 'cranking', 'idle', 'loaded'] as const satisfies readonly KeyState[];
export type ExpectedState = (typeof EXPECTED_STATES)[number];

/** Two ends of a window or two cells of a row, as text. */
export interface Ends {
  readonly from: string;
  readonly to: string;
}

/** A terminal beside the path, as text. */
export interface PinForm {
  readonly role: string;
  readonly pin: string;
  readonly colour: string;
}

/** A station as it is written: numbers as text, so that what is half typed stays; an empty text is absent. */
export interface StationForm extends Pick<Station, 'id' | 'kind' | 'name' | 'backProbe'> {
  readonly pin: string;
  readonly colour: string;
  readonly location: string;
  readonly accessMinutes: string;
  readonly ohm: string;
  readonly wire: { readonly lengthM: string; readonly areaMm2: string };
  readonly bypass: { readonly name: string; readonly ohm: string };
  readonly sharedA: string;
  readonly secondPump: boolean;
  readonly pins: readonly PinForm[];
}

/** A system as it is written; pressures in the unit of whoever writes. */
export interface ProfileForm extends Pick<SystemProfile, 'name' | 'control' | 'crankOnly'> {
  readonly regulator: Regulator | '';
  readonly stations: readonly StationForm[];
  readonly primeS: string;
  readonly bars: string;
  readonly ripplePercent: string;
  readonly pump: Readonly<Record<'volts' | 'amperes' | 'rpm' | 'pressure' | 'windingOhm', string>>;
  readonly windows: Readonly<Record<ExpectedState, Readonly<Record<WindowKind, Ends>>>>;
  readonly commandTable: readonly Ends[];
  readonly sensorTable: readonly Ends[];
  readonly feedbackTable: readonly (Ends & { readonly meaning: string })[];
}

export const WINDOW_KINDS = ['draw', 'pressure', 'speed'] as const;
export type WindowKind = (typeof WINDOW_KINDS)[number];

/** A row to type into. */
export const EMPTY_ROW: Ends = { from: '', to: '' };
export const EMPTY_MEANING = { ...EMPTY_ROW, meaning: '' };

/** Twelve digits keep a number as it is and hide the last bits of its binary form. */
const textOf = (value: number | undefined) => (value === undefined ? '' : String(Number(value.toPrecision(12))));

export function stationForm(station: Station): StationForm {
  const { id, kind, name, backProbe, pin = '', colour = '', location = '', wire, bypass, pins = [] } = station;
  const roles = PIN_ROLES[kind] ?? [];
  const pinOf = (role: string) => ({ role, pin: '', colour: '', ...pins.find((one) => one.role === role) });
  return {
    ...{ id, kind, name, backProbe, pin, colour, location },
    accessMinutes: textOf(station.accessMinutes),
    ohm: textOf(station.ohm),
    wire: { lengthM: textOf(wire?.lengthM), areaMm2: textOf(wire?.areaMm2) },
    bypass: { name: bypass?.name ?? '', ohm: textOf(bypass?.ohm) },
    sharedA: textOf(station.sharedA),
    secondPump: station.secondPump === true,
    pins: [...roles.map(pinOf), ...pins.filter(({ role }) => !roles.includes(role)).map(({ role }) => pinOf(role))],
  };
}

export function formOf(profile: SystemProfile, unit: PressureUnitName): ProfileForm {
  const { name, control, crankOnly, regulator = '', stations, pump } = profile;
  const { currentWindows, pressureWindows, speedWindows = {}, commandTable = [], sensorTable = [] } = profile;
  const { feedbackTable = [] } = profile;
  const pressure = (pascal: number | undefined) => (pascal === undefined ? '' : pressureText(pascal, unit));
  const windowsOf = (state: ExpectedState) => ({
    draw: { from: textOf(currentWindows[state]?.minA), to: textOf(currentWindows[state]?.maxA) },
    pressure: { from: pressure(pressureWindows[state]?.minPa), to: pressure(pressureWindows[state]?.maxPa) },
    speed: { from: textOf(speedWindows[state]?.minRpm), to: textOf(speedWindows[state]?.maxRpm) },
  });
  return {
    ...{ name, control, crankOnly, regulator },
    stations: stations.map(stationForm),
    primeS: textOf(profile.primeS),
    bars: textOf(profile.bars),
    ripplePercent: textOf(profile.ripplePercent),
    pump: {
      volts: textOf(pump.volts),
      amperes: textOf(pump.amperes),
      rpm: textOf(pump.rpm),
      pressure: pressure(pump.pressurePa),
      windingOhm: textOf(pump.windingOhm),
    },
    windows: Object.fromEntries(EXPECTED_STATES.map((state) => [state, windowsOf(state)])) as ProfileForm['windows'],
    commandTable: [...commandTable.map(([from, to]) => ({ from: textOf(from), to: textOf(to) })), EMPTY_ROW],
    sensorTable: [...sensorTable.map(([from, to]) => ({ from: textOf(from), to: pressure(to) })), EMPTY_ROW],
    feedbackTable: [
      ...feedbackTable.map(({ fromPercent, toPercent, meaning }) => ({
        from: textOf(fromPercent),
        to: textOf(toPercent),
        meaning,
      })),
      EMPTY_MEANING,
    ],
  };
}

/** Whether nothing stands in either. */
export const isBlank = ({ from, to }: Ends) => `${from}${to}`.trim() === '';
