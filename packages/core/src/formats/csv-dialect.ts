import Papa from 'papaparse';
import { InputError } from '../errors.js';
import { findUnit, type UnitDefinition } from '../units/units.js';
import { LONGEST_NAME, splitUnit, TIME_NAME } from './header.js';

/** How one text file writes its numbers, found from its first lines. */
export interface CsvDialect {
  readonly delimiter: ',' | ';' | '\t';
  readonly decimal: '.' | ',';
  /** Lines above the first row of numbers. */
  readonly headerLines: number;
  readonly columns: readonly CsvColumn[];
  /** Index of the time column; absent when the file has none. */
  readonly timeColumn?: number;
  /** A rate stated in the lines above the numbers, Hz. */
  readonly statedRateHz?: number;
  /** The text ends amid the rows: what was taken for them is no table within a long header. */
  readonly endsInRows: boolean;
}

export interface CsvColumn {
  readonly name: string;
  /** As the file writes it. */
  readonly header: string;
  readonly unit?: UnitDefinition;
  /** A column without a single number in the sample (a trailing delimiter, an unused channel). */
  readonly empty: boolean;
}

const DELIMITERS = [';', '\t', ','] as const;
const COMMENT = /^\s*(#|%|\/\/|'|")?\s*$|^\s*(#|%|\/\/)/;
const NUMBER_POINT = /^[+-]?(\d+\.?\d*|\.\d+)(e[+-]?\d+)?$/i;
const NUMBER_COMMA = /^[+-]?(\d+,?\d*|,\d+)(e[+-]?\d+)?$/i;
/** No number, name or setting is longer; what is costs the patterns above the square of its length. */
const LONGEST_NUMBER = 64;
const LONGEST_SETTING = 1000;

/**
 * Finds delimiter, decimal mark, header and time column from the first lines of a file.
 * @param text the file's beginning, whole lines only
 * @throws InputError when no row of numbers is found
 */
export function sniffDialect(text: string): CsvDialect {
  const lines = text.split(/\r\n|\n|\r/);
  const best = bestReading(lines);
  if (!best) {
    throw new InputError(
      lines.some((line) => line.trim())
        ? 'No row of numbers was found in this file. Export the capture from the scope as CSV text, with its samples below the header.'
        : 'This file is empty. Export the capture again.',
    );
  }
  const { delimiter, decimal, firstRow, width } = best;
  const rows = lines.slice(firstRow).filter((line) => line.trim());
  const sample = rows.slice(0, 200).map((line) => splitCells(line, delimiter));
  const above = lines.slice(0, firstRow);
  const { names, units } = readHeader(above, delimiter, width);
  const columns = Array.from({ length: width }, (_, i): CsvColumn => {
    const fromName: ReturnType<typeof splitUnit> = units[i]
      ? { name: (names[i] ?? '').trim().slice(0, LONGEST_NAME) }
      : splitUnit(names[i] ?? '');
    const unit = units[i] ?? fromName.unit;
    return {
      name: fromName.name || `column ${i + 1}`,
      header: (names[i] ?? '').trim().slice(0, LONGEST_NAME),
      ...(unit && { unit }),
      empty: sample.every((row) => !row[i]?.trim()),
    };
  });
  const timeColumn = findTimeColumn(columns, sample, decimal);
  const statedRateHz = findStatedRate(above);
  return {
    delimiter,
    decimal,
    headerLines: firstRow,
    columns,
    endsInRows: sampleEnds(rows, delimiter, width),
    ...(timeColumn !== undefined && { timeColumn }),
    ...(statedRateHz !== undefined && { statedRateHz }),
  };
}

function sampleEnds(rows: readonly string[], delimiter: string, width: number): boolean {
  const last = splitCells(rows[rows.length - 1] ?? '', delimiter);
  return last.length === width && last.every((cell) => !/[a-z]{3}/i.test(cell));
}

interface Reading {
  delimiter: CsvDialect['delimiter'];
  decimal: CsvDialect['decimal'];
  firstRow: number;
  width: number;
}

/** The reading under which most cells of the file's numeric tail are numbers; ties go to more columns. */
function bestReading(lines: readonly string[]): Reading | undefined {
  let best: (Reading & { cells: number }) | undefined;
  for (const delimiter of DELIMITERS) {
    for (const decimal of ['.', ','] as const) {
      if (delimiter === decimal) continue;
      const run = numericRun(lines, delimiter, decimal);
      if (run && (!best || run.cells > best.cells)) best = { delimiter, decimal, ...run };
    }
  }
  return best;
}

/** The first stretch of lines that hold numbers in a constant number of columns. */
function numericRun(lines: readonly string[], delimiter: string, decimal: '.' | ',') {
  const pattern = decimal === '.' ? NUMBER_POINT : NUMBER_COMMA;
  let best: { firstRow: number; width: number; cells: number } | undefined;
  let start = -1;
  let width = 0;
  let cells = 0;
  const close = () => {
    if (start >= 0 && (!best || cells > best.cells)) best = { firstRow: start, width, cells };
    start = -1;
    cells = 0;
  };
  const count = (parts: readonly string[]) => {
    const filled = parts.map((cell) => cell.trim()).filter(Boolean);
    const numbers = filled.filter((cell) => cell.length <= LONGEST_NUMBER && pattern.test(cell)).length;
    return { numbers, others: filled.length - numbers };
  };
  lines.forEach((line, row) => {
    if (!line.trim()) return;
    const parts = splitCells(line, delimiter);
    const { numbers, others } = count(parts);
    // A bad cell among the numbers is no header: the row stays in the run, and reading it names the cell.
    if (start >= 0 && numbers > 0 && others > 0 && parts.length === width) return;
    if (numbers === 0 || others > 0) return close();
    if (start >= 0 && parts.length !== width) close();
    if (start < 0) {
      start = row;
      width = parts.length;
    }
    cells += numbers;
  });
  close();
  return best && { ...best, firstRow: withSpoiltRows(best) };

  /** A row right below a header, partly of numbers, is a spoilt row and no second header. */
  function withSpoiltRows({ firstRow, width: cells }: { firstRow: number; width: number }): number {
    const counted = lines.slice(0, firstRow).map((line) => {
      const parts = splitCells(line, delimiter);
      return parts.length === cells ? count(parts) : undefined;
    });
    const isHeader = counted.map((row) => row !== undefined && row.numbers === 0 && row.others > 0);
    const header = isHeader.lastIndexOf(true);
    const spoilt = header < 0 ? [] : counted.slice(header + 1);
    return spoilt.length > 0 && spoilt.every((row) => row !== undefined && row.numbers > 0) ? header + 1 : firstRow;
  }
}

function splitCells(line: string, delimiter: string): string[] {
  if (!line.includes('"')) return line.split(delimiter);
  return Papa.parse<string[]>(line, { delimiter, header: false }).data[0] ?? [];
}

/** Names and units are the last one or two lines above the numbers that have as many cells as the rows. */
function readHeader(above: readonly string[], delimiter: string, width: number) {
  const candidates = above
    .filter((line) => line.trim())
    .map((line) => splitCells(line.replace(/^\s*(#|%|\/\/)\s*/, ''), delimiter).map((cell) => cell.trim()))
    .filter((cells) => cells.length === width || (width > 1 && cells.length === width - 1));
  const last = candidates.at(-1);
  const none = { names: [] as string[], units: [] as (UnitDefinition | undefined)[] };
  if (!last) return none;
  const asUnits = last.map((cell) => findUnit(cell));
  const filled = last.filter(Boolean).length;
  const isUnitsRow = candidates.length > 1 && asUnits.filter(Boolean).length >= Math.max(1, filled / 2);
  if (isUnitsRow) return { names: candidates.at(-2) ?? [], units: asUnits };
  return { names: last, units: [] };
}

/** A column named or united as time, else a first column that only ever rises in near-equal steps. */
function findTimeColumn(columns: readonly CsvColumn[], sample: readonly string[][], decimal: string) {
  const named = columns.findIndex((column) => TIME_NAME.test(column.name) || column.unit?.si === 's');
  if (named >= 0) return named;
  if (columns.length < 2 || sample.length < 3) return undefined;
  const first = sample.map((row) => Number((row[0] ?? '').trim().replace(decimal, '.')));
  const steps = first.slice(1).map((value, i) => value - first[i]);
  const sorted = [...steps].sort((a, b) => a - b);
  const median = sorted[sorted.length >> 1];
  const even = steps.every((step) => Math.abs(step - median) <= 0.5 * median);
  return median > 0 && even ? 0 : undefined;
}

function findStatedRate(above: readonly string[]): number | undefined {
  for (const line of above.map((whole) => whole.slice(0, LONGEST_SETTING))) {
    if (!COMMENT.test(line) && !/[a-z]/i.test(line)) continue;
    const number = /([-+]?\d+(?:[.,]\d+)?(?:e[-+]?\d+)?)\s*([a-zµμ/]*)\s*$/i.exec(line.replace(/["\s;,]+$/, ''));
    if (!number) continue;
    const value = Number(number[1].replace(',', '.'));
    if (!(value > 0)) continue;
    if (/sampl\w*[ _-]?(rate|freq)|\brate\b/i.test(line)) return value * ratePrefix(number[2]);
    if (/(sampl\w*|time)[ _-]?(interval|increment|period|step)|\bdt\b/i.test(line)) {
      return 1 / (value * (findUnit(number[2])?.factor ?? 1));
    }
  }
  return undefined;
}

function ratePrefix(unit: string): number {
  if (/^m(hz|s)/i.test(unit) && unit.startsWith('M')) return 1e6;
  return /^k/i.test(unit) ? 1e3 : 1;
}
