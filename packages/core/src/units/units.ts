/**
 * Exact conversions between the units technicians read and the SI units used inside.
 * Factors: NIST SP 811 (2008), appendix B; those marked exact there are exact here.
 */

/** A unit a number may arrive in, with the factor that turns it into its SI unit. */
export interface UnitDefinition {
  readonly symbol: string;
  readonly si: SiUnit;
  readonly factor: number;
}

/** The units that everything is kept in; 1 stands for a plain ratio. */
export type SiUnit = 'V' | 'A' | 'ohm' | 's' | 'Pa' | 'W' | '1';

const POUND_FORCE_N = 4.4482216152605; // exact: 0.45359237 kg times 9.80665 m/s2
const INCH_M = 0.0254; // exact

/** Pascals in one unit of pressure. */
export const PASCAL_PER = {
  Pa: 1,
  kPa: 1e3,
  MPa: 1e6,
  bar: 1e5,
  psi: POUND_FORCE_N / (INCH_M * INCH_M),
  /** Conventional inch of mercury, NIST SP 811 table B.8. */
  inHg: 3386.389,
} as const;

/** Units that a pressure may be shown or typed in. */
export type PressureUnit = keyof typeof PASCAL_PER;

/** Pa of a pressure in a unit that is shown. */
export function toPascal(value: number, unit: PressureUnit): number {
  return value * PASCAL_PER[unit];
}

/** A pressure in Pa, in a unit that is shown. */
export function fromPascal(pascal: number, unit: PressureUnit): number {
  return pascal / PASCAL_PER[unit];
}

/** Revolutions per minute from one revolution's time in seconds (60 / T). */
export function rpmFromPeriod(periodS: number): number {
  return 60 / periodS;
}

/** One revolution's time in seconds from revolutions per minute (60 / n). */
export function periodFromRpm(rpm: number): number {
  return 60 / rpm;
}

/** Every unit that a file may name, and how much of the SI unit one of it is. */
export const UNITS: readonly UnitDefinition[] = [
  { symbol: 'V', si: 'V', factor: 1 },
  { symbol: 'mV', si: 'V', factor: 1e-3 },
  { symbol: 'uV', si: 'V', factor: 1e-6 },
  { symbol: 'kV', si: 'V', factor: 1e3 },
  { symbol: 'A', si: 'A', factor: 1 },
  { symbol: 'mA', si: 'A', factor: 1e-3 },
  { symbol: 'uA', si: 'A', factor: 1e-6 },
  { symbol: 's', si: 's', factor: 1 },
  { symbol: 'sec', si: 's', factor: 1 },
  { symbol: 'ms', si: 's', factor: 1e-3 },
  { symbol: 'us', si: 's', factor: 1e-6 },
  { symbol: 'ns', si: 's', factor: 1e-9 },
  { symbol: 'min', si: 's', factor: 60 },
  { symbol: 'Pa', si: 'Pa', factor: 1 },
  { symbol: 'kPa', si: 'Pa', factor: PASCAL_PER.kPa },
  { symbol: 'MPa', si: 'Pa', factor: PASCAL_PER.MPa },
  { symbol: 'bar', si: 'Pa', factor: PASCAL_PER.bar },
  { symbol: 'psi', si: 'Pa', factor: PASCAL_PER.psi },
  { symbol: 'ohm', si: 'ohm', factor: 1 },
];

const ALIASES: Readonly<Record<string, string>> = {
  volt: 'V',
  volts: 'V',
  amp: 'A',
  amps: 'A',
  ampere: 'A',
  amperes: 'A',
  second: 's',
  seconds: 's',
  secs: 's',
  millisecond: 'ms',
  milliseconds: 'ms',
  msec: 'ms',
  microseconds: 'us',
  usec: 'us',
  millivolts: 'mV',
  milliamps: 'mA',
};

/**
 * Finds a unit by the text found beside a column. Greek and micro signs count as u.
 * Exact case is tried first so that mPa is never taken for MPa; only spellings that cannot be
 * confused are then matched without case.
 * @returns undefined when the text is no unit known here
 */
export function findUnit(text: string): UnitDefinition | undefined {
  const plain = text
    .trim()
    .replace(/^[[(]\s*|\s*[\])]$/g, '')
    .replace(/[µμ]/g, 'u')
    .replace(/Ω/g, 'ohm');
  const exact = UNITS.find((unit) => unit.symbol === plain);
  if (exact) return exact;
  const lower = plain.toLowerCase();
  const symbol = ALIASES[lower];
  if (symbol) return UNITS.find((unit) => unit.symbol === symbol);
  const sameLetters = UNITS.filter((unit) => unit.symbol.toLowerCase() === lower);
  return sameLetters.length === 1 ? sameLetters[0] : undefined;
}
