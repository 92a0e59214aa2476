/** A number that is typed in, in the unit that people read. */
export interface SumField {
  readonly id: string;
  readonly label: string;
  readonly unit: string;
  /** Filled in beforehand, to be typed over. */
  readonly usual?: number;
  /** Units or kinds to choose from; the first is the usual one. */
  readonly choices?: readonly string[];
}

/** One result of a sum, as it is shown. */
export interface SumResult {
  readonly label: string;
  readonly text: string;
}

/** What was typed: a number by field id, absent where the field is empty; what was chosen by field id. */
export interface SumInput {
  readonly numbers: Readonly<Record<string, number | undefined>>;
  readonly chosen: Readonly<Record<string, string>>;
}

/** A piece of arithmetic that technicians do by hand, with its formula and where that comes from. */
export interface Sum {
  readonly id: string;
  readonly title: string;
  readonly fields: readonly SumField[];
  readonly formula: string;
  readonly source: string;
  /**
   * @returns nothing as long as too little is filled in; the first line is the answer
   * @throws InputError for numbers that can't be
   */
  work(input: SumInput): readonly SumResult[];
}

/** A number with as many digits as a meter gives, without an exponent. */
export function rounded(value: number, digits = 4): string {
  if (value === 0) return '0';
  const decimals = Math.max(0, digits - 1 - Math.floor(Math.log10(Math.abs(value))));
  return value.toFixed(Math.min(8, decimals));
}

export function line(label: string, value: number, unit: string, digits?: number): SumResult {
  return { label, text: `${rounded(value, digits)} ${unit}`.trim() };
}
