import { fromPascal, toPascal, type MeasureUnit } from '@jarro/core';
import { useMeQuery } from './api';
import type { PressureUnitName } from '@jarro/api-types';

/** The pressure unit of whoever is signed in: their own, else the shop's. */
export function usePressureUnit(): PressureUnitName {
  const { data: me } = useMeQuery();
  return me?.user.pressureUnit ?? me?.shop.pressureUnit ?? 'kPa';
}

const DECIMALS: Readonly<Record<PressureUnitName, number>> = { kPa: 0, bar: 2, psi: 1 };

export function pressureText(pascal: number, unit: PressureUnitName): string {
  return fromPascal(pascal, unit).toFixed(DECIMALS[unit]);
}

/** How a measure is typed and shown: its unit's name, and the way there and back. */
export interface Shown {
  readonly unit: string;
  readonly toSi: (value: number) => number;
  readonly text: (si: number) => string;
}

/** Vacuum is read on a vacuum gauge, whatever the shop's pressure unit. */
const INCHES: Shown = {
  unit: 'inHg',
  toSi: (value) => toPascal(value, 'inHg'),
  text: (si) => fromPascal(si, 'inHg').toFixed(1),
};

export function shownAs(unit: MeasureUnit, at: string, pressure: PressureUnitName): Shown {
  if (at === 'manifold_vacuum' && pressure === 'psi') return INCHES;
  if (unit === 'Pa') {
    return { unit: pressure, toSi: (value) => toPascal(value, pressure), text: (si) => pressureText(si, pressure) };
  }
  if (at === 'injector_on_time') return { unit: 'ms', toSi: (ms) => ms / 1000, text: (s) => (s * 1000).toFixed(2) };
  const decimals = unit === 'V' || unit === 'A' || unit === 'Ω' ? 2 : unit === 's' ? 1 : 0;
  return { unit, toSi: (value) => value, text: (si) => si.toFixed(decimals) };
}

/** A number as people type it; undefined when it is none. */
export function readNumber(text: string): number | undefined {
  const value = Number(text.trim().replace(',', '.').replace('−', '-'));
  return text.trim() && Number.isFinite(value) ? value : undefined;
}
