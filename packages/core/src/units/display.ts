import { fromPascal, toPascal } from './units.js';

/** The units in which a shop reads pressures. */
export type PressureUnitName = 'psi' | 'bar' | 'kPa';

const DECIMALS: Readonly<Record<PressureUnitName, number>> = { kPa: 0, bar: 2, psi: 1 };

/** A pressure as it is shown, without its unit. @param pascal Pa */
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

/** @param unit of the measure, in SI @param at what is measured: some things have a unit of their own */
export function shownAs(unit: string, at: string, pressure: PressureUnitName): Shown {
  if (at === 'manifold_vacuum' && pressure === 'psi') return INCHES;
  if (unit === 'Pa') {
    return { unit: pressure, toSi: (value) => toPascal(value, pressure), text: (si) => pressureText(si, pressure) };
  }
  if (at === 'injector_on_time') return { unit: 'ms', toSi: (ms) => ms / 1000, text: (s) => (s * 1000).toFixed(2) };
  const decimals = unit === 'V' || unit === 'A' || unit === 'Ω' ? 2 : unit === 's' ? 1 : 0;
  return { unit, toSi: (value) => value, text: (si) => si.toFixed(decimals) };
}

/**
 * A trace's unit as the shop reads it: pascals become its own pressure unit, in a product or a quotient too.
 * @param unit SI, as 'V', 'A', 'Pa', 'Pa/A', 'Pa·V'
 * @returns the unit's name, and what a number in SI is multiplied by
 */
export function inShopUnit(
  unit: string,
  pressure: PressureUnitName,
): { readonly unit: string; readonly factor: number } {
  const [above, below = ''] = unit.split('/');
  const power = pascalsIn(above) - pascalsIn(below);
  return { unit: unit.replace(/\bPa\b/g, pressure), factor: fromPascal(1, pressure) ** power };
}

function pascalsIn(product: string): number {
  return product.split('·').filter((name) => name === 'Pa').length;
}
