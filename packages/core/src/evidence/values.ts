import { InputError } from '../errors.js';
import { toPascal, type PressureUnit } from '../units/units.js';

/** Units in which a measured number is kept. */
export type MeasureUnit = 'V' | 'A' | 'Ω' | 'Pa' | 's' | '%' | 'rpm';

/** What a reading's value can be: a number, one of a few words, a number or a word, or a small record. */
export type ValueSchema = NumberValue | WordsValue | RecordValue;

/** A reading that is a number, within what can be. */
export interface NumberValue {
  readonly type: 'number';
  readonly unit: MeasureUnit;
  /** SI; a number outside is a slip. */
  readonly least: number;
  readonly most: number;
  /** What to say when it is outside. */
  readonly beyond: string;
  /** What may be said in place of a number. */
  readonly words?: readonly string[];
  /** How far a case file may go beyond what is typed: earlier files hold such numbers, and stay readable. */
  readonly inFiles?: readonly [least: number, most: number];
}

export interface WordsValue {
  readonly type: 'words';
  readonly words: readonly string[];
}

export interface RecordValue {
  readonly type: 'record';
  /** What it holds, in a line. */
  readonly holds: string;
  /** Takes what was sent and gives it back complete. @throws InputError with what is wrong and what to do */
  readonly read: (value: unknown) => object;
  /** What may be said in place of a record. */
  readonly words?: readonly string[];
  /** JSON Schema, draft-07. */
  readonly schema: object;
}

export function wordsOf(...words: readonly string[]): WordsValue {
  return { type: 'words', words };
}

const pascals = (unit: PressureUnit) => toPascal(1, unit);

/** Units that a case file may use, and what makes SI of each; the first is meant when none is named. */
export const FILE_UNITS: Readonly<Record<MeasureUnit, Readonly<Record<string, number>>>> = {
  V: { V: 1, mV: 1e-3 },
  A: { A: 1, mA: 1e-3 },
  Ω: { ohm: 1, kohm: 1e3, Mohm: 1e6 },
  Pa: { Pa: 1, kPa: 1e3, bar: pascals('bar'), psi: pascals('psi'), MPa: 1e6 },
  s: { s: 1, ms: 1e-3 },
  '%': { '%': 1 },
  rpm: { rpm: 1 },
};

/**
 * Takes a value as it is typed, in SI.
 * @param title what it is a value of, for the message
 * @throws InputError with what is wrong and what to do
 */
export function readTyped(schema: ValueSchema, value: unknown, title: string): number | string | object {
  switch (schema.type) {
    case 'words':
      if (isOneOf(schema.words, value)) return value;
      throw new InputError(`Answer with one of: ${schema.words.join(', ')}.`);
    case 'record':
      return isOneOf(schema.words ?? [], value) ? value : schema.read(value);
    case 'number':
      if (isOneOf(schema.words ?? [], value)) return value;
      if (typeof value !== 'number' || !Number.isFinite(value)) throw new InputError(`${title}: enter a number.`);
      if (value < schema.least || value > schema.most) throw new InputError(`${title}: ${schema.beyond}`);
      return value;
  }
}

/**
 * Takes a value as a case file holds it, in whichever unit it names.
 * @param kind for the message
 * @throws FieldError naming the field that is wrong
 */
export function readFiled(schema: ValueSchema, value: unknown, unit: unknown, kind: string): number | string | object {
  switch (schema.type) {
    case 'words':
      if (isOneOf(schema.words, value)) return value;
      throw new FieldError('value', `Say one of: ${schema.words.join(', ')}.`);
    case 'record':
      return isOneOf(schema.words ?? [], value) ? value : schema.read(value);
    case 'number':
      return isOneOf(schema.words ?? [], value) ? value : readNumber(schema, value, unit, kind);
  }
}

/** A value that can't be, by the field of the reading that says so. */
export class FieldError extends InputError {
  constructor(
    readonly field: 'value' | 'unit',
    message: string,
  ) {
    super(message);
  }
}

function readNumber({ unit: own, least, most, inFiles }: NumberValue, value: unknown, unit: unknown, kind: string) {
  const units = FILE_UNITS[own];
  const names = Object.keys(units);
  const factor = unit === undefined ? 1 : typeof unit === 'string' && Object.hasOwn(units, unit) ? units[unit] : NaN;
  if (Number.isNaN(factor)) {
    throw new FieldError('unit', `A ${kind} is in ${names.join(', ')}; without a unit in ${names[0]}.`);
  }
  if (typeof value !== 'number' || !Number.isFinite(value)) throw new FieldError('value', 'Give a number.');
  const si = value * factor;
  const [lowest, highest] = inFiles ?? [least, most];
  if (si < lowest || si > highest) {
    const said = typeof unit === 'string' ? unit : names[0];
    throw new FieldError('value', `${value} ${said} can’t be; check the decimal point and the unit.`);
  }
  return si;
}

/** JSON Schema of a value in a case file. A number's bounds depend on its unit and are told in words. */
export function schemaOf(schema: ValueSchema): object {
  switch (schema.type) {
    case 'words':
      return { enum: schema.words };
    case 'record':
      return orWords(schema.schema, schema.words);
    case 'number': {
      const [least, most] = schema.inFiles ?? [schema.least, schema.most];
      const number = { type: 'number', description: `${least} to ${most} ${Object.keys(FILE_UNITS[schema.unit])[0]}` };
      return orWords(number, schema.words);
    }
  }
}

function orWords(schema: object, words: readonly string[] | undefined): object {
  return words ? { anyOf: [schema, { enum: words }] } : schema;
}

/** What nobody reads is not sealed into a case either. @throws InputError naming what is too much */
export function refuseOthers(value: unknown, known: readonly string[]): void {
  const other = Object.keys(value ?? {}).find((key) => !known.includes(key));
  if (other !== undefined) throw new InputError(`This record holds ${known.join(' and ')}, and no "${other}".`);
}

function isOneOf(words: readonly string[], value: unknown): value is string {
  return typeof value === 'string' && words.includes(value);
}
