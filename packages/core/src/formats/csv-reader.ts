import type { Capture, Channel } from '../capture/capture.js';
import { InputError } from '../errors.js';
import { LONGEST_LINE_BYTES, MOST_COLUMNS, MOST_SAMPLES, MOST_VALUE, refuseRate, refuseSize } from './bounds.js';
import { sniffDialect, type CsvDialect } from './csv-dialect.js';
import { GrowingColumn } from './growing-column.js';
import { scanNumber } from './number-scanner.js';
import { decodeText } from './text.js';
import { judgeTimebase, resampleEvenly } from './timebase.js';

/** What a person states of a file that doesn’t say it itself. */
export interface CsvOptions {
  /** Sample rate for files without a time column, Hz. */
  readonly rateHz?: number;
}

/** Enough to see past most blocks of settings; up to the second while no table has been found. */
const SNIFF_BYTES = 64 * 1024;
const LONGEST_HEADER_BYTES = 1 << 20;
const FEWEST_ROWS = 16;
const QUOTE = 34;
const SPACE = 32;
const CR = 13;
const LF = 10;

type SampleColumn = GrowingColumn<Float32Array>;

/**
 * Reads CSV text as scopes and loggers write it, chunk by chunk; memory is the numbers plus one chunk.
 * The header goes through a CSV package; the rows of plain numbers, which are all of the volume, are scanned in place.
 */
export class CsvReader {
  private pending: Uint8Array = new Uint8Array(0);
  private dialect?: CsvDialect;
  private stamps = new GrowingColumn((size) => new Float64Array(size));
  private columns: (SampleColumn | undefined)[] = [];
  private row = 0;
  private mostRows = 0;
  private sniffBytes = SNIFF_BYTES;
  private isCutOff = false;

  constructor(private readonly options: CsvOptions = {}) {}

  /** @throws InputError naming row and column at the first cell that is no number */
  push(chunk: Uint8Array): void {
    const bytes = this.pending.length ? concat(this.pending, chunk) : chunk;
    if (!this.dialect && bytes.length < this.sniffBytes) {
      this.pending = bytes.slice();
      return;
    }
    const end = lastLineEnd(bytes);
    if (bytes.length - end > LONGEST_LINE_BYTES) throw tooLong();
    this.consume(bytes, end, false);
  }

  /** @throws InputError when the file holds no usable capture */
  finish(): Capture {
    this.consume(this.pending, this.pending.length, true);
    const dialect = this.dialect;
    if (!dialect) throw new InputError('This file is empty. Export the capture again.');
    if (this.row < FEWEST_ROWS) {
      throw new InputError(`Only ${this.row} rows of numbers: too few to measure anything. Export the whole record.`);
    }
    return this.build(dialect);
  }

  private consume(bytes: Uint8Array, end: number, isLast: boolean): void {
    let from = 0;
    if (!this.dialect && end > 0) {
      refuseBinary(bytes);
      if (bytes[0] === 0xef && bytes[1] === 0xbb && bytes[2] === 0xbf) from = 3;
      const dialect = this.sniff(bytes.subarray(from, end), isLast);
      if (!dialect) {
        this.pending = bytes.slice();
        return;
      }
      this.begin(dialect);
      from = skipLines(bytes, from, dialect.headerLines);
    }
    if (this.dialect) this.scanRows(bytes, from, end, this.dialect);
    this.pending = bytes.slice(end);
  }

  /** @returns undefined when the table hasn't begun yet, and more of the file is to come */
  private sniff(bytes: Uint8Array, isLast: boolean): CsvDialect | undefined {
    for (;;) {
      const most = Math.min(this.sniffBytes, bytes.length);
      const end = most < bytes.length ? lastLineEnd(bytes.subarray(0, most)) : most;
      if (end === 0) throw tooLong();
      const seesAll = most === bytes.length && isLast;
      const mayGrow = !seesAll && this.sniffBytes < LONGEST_HEADER_BYTES;
      try {
        const dialect = sniffDialect(decodeText(bytes.subarray(0, end)));
        if (dialect.endsInRows || !mayGrow) return dialect;
      } catch (error) {
        if (!(error instanceof InputError) || !mayGrow) throw error;
        if (hasLongLine(bytes.subarray(0, end))) throw tooLong();
      }
      this.sniffBytes = Math.min(2 * this.sniffBytes, LONGEST_HEADER_BYTES);
      if (bytes.length < this.sniffBytes && !isLast) return undefined;
    }
  }

  private begin(dialect: CsvDialect): void {
    const { columns, timeColumn } = dialect;
    const channels = columns.filter((column, i) => !column.empty && i !== timeColumn).length;
    refuseSize(channels, 0);
    if (columns.length > MOST_COLUMNS) {
      throw new InputError(
        `The rows of this file have ${columns.length} columns, nearly all of them empty. Export only the channels that were clipped on.`,
      );
    }
    this.dialect = dialect;
    this.mostRows = Math.floor(MOST_SAMPLES / Math.max(1, channels));
    this.columns = dialect.columns.map((column, i) =>
      column.empty || i === dialect.timeColumn ? undefined : new GrowingColumn((size) => new Float32Array(size)),
    );
    if (this.columns.every((column) => !column)) {
      throw new InputError(
        'Only one column, the time: the signal itself is missing. Export at least one channel beside the time.',
      );
    }
  }

  private scanRows(bytes: Uint8Array, from: number, end: number, dialect: CsvDialect): void {
    const delimiter = dialect.delimiter.charCodeAt(0);
    const decimal = dialect.decimal.charCodeAt(0);
    const width = dialect.columns.length;
    const timeFactor = (dialect.timeColumn !== undefined && dialect.columns[dialect.timeColumn].unit?.factor) || 1;
    let column = 0;
    let start = from;
    let lineStart = from;
    for (let i = from; i <= end; i++) {
      const byte = i < end ? bytes[i] : LF;
      if (byte !== delimiter && byte !== LF && byte !== CR) continue;
      const lineEnds = byte !== delimiter;
      if (lineEnds && i - lineStart > LONGEST_LINE_BYTES) throw tooLong();
      if (lineEnds && column === 0 && isBlank(bytes, start, i)) {
        start = lineStart = i + 1;
        continue;
      }
      if (column < width) this.readCell(bytes, start, i, column, decimal, timeFactor, dialect);
      else if (!isBlank(bytes, start, i)) throw this.rowError(`has more than ${width} columns`);
      start = i + 1;
      column++;
      if (!lineEnds) continue;
      if (column < width && !this.restIsEmpty(column, width)) {
        if (i === end && end === bytes.length && bytes[end - 1] !== LF) {
          this.dropRow(column);
          return;
        }
        throw this.rowError(`has ${column} of ${width} columns; the file may have been cut off`);
      }
      column = 0;
      lineStart = start;
      if (++this.row > this.mostRows) refuseSize(1, Infinity);
    }
  }

  private readCell(
    bytes: Uint8Array,
    start: number,
    end: number,
    column: number,
    decimal: number,
    timeFactor: number,
    dialect: CsvDialect,
  ): void {
    const target = this.columns[column];
    if (!target && column !== dialect.timeColumn) return;
    let from = start;
    let to = end;
    while (from < to && (bytes[from] === SPACE || bytes[from] === QUOTE)) from++;
    while (to > from && (bytes[to - 1] === SPACE || bytes[to - 1] === QUOTE)) to--;
    const value = scanNumber(bytes, from, to, decimal);
    const scaled = value * (target ? (dialect.columns[column].unit?.factor ?? 1) : timeFactor);
    // Not a number, or more than a sample can hold.
    if (!(Math.abs(scaled) <= MOST_VALUE)) throw this.cellError(bytes, from, to, dialect.columns[column].name, scaled);
    if (target) target.push(scaled);
    else this.stamps.push(scaled);
  }

  /** The file ends within a row: it was cut off there. */
  private dropRow(cells: number): void {
    this.isCutOff = true;
    this.columns.slice(0, cells).forEach((column) => column && column.length--);
    const { timeColumn } = this.dialect ?? {};
    if (timeColumn !== undefined && timeColumn < cells) this.stamps.length--;
  }

  private restIsEmpty(column: number, width: number): boolean {
    for (let i = column; i < width; i++) if (!this.dialect?.columns[i].empty) return false;
    return true;
  }

  private fileRow(): number {
    return (this.dialect?.headerLines ?? 0) + this.row + 1;
  }

  private rowError(what: string): InputError {
    return new InputError(
      `Row ${this.fileRow()} ${what}. Export the capture again and keep the file as the scope wrote it.`,
    );
  }

  private cellError(bytes: Uint8Array, from: number, to: number, name: string, value: number): InputError {
    const text = decodeText(bytes.subarray(from, Math.min(to, from + 24)));
    const place = `Row ${this.fileRow()}, column "${name}"`;
    if (!text) return new InputError(`${place} is empty. Export the capture again without gaps.`);
    if (!Number.isNaN(value) || /∞|^[-+]?inf/i.test(text)) {
      return new InputError(`${place} is off the scope's range ("${text}"). Capture again with a larger range.`);
    }
    return new InputError(`${place}: "${text}" is not a number. Remove that row or export the capture again.`);
  }

  private build(dialect: CsvDialect): Capture {
    const notes = this.isCutOff
      ? ['The file ends within a row: it was cut off there. What stands before was read; copy it again for the rest.']
      : [];
    const read = this.columns.map((column) => column?.take());
    let timebase = { sampleRateHz: this.rateWithoutTime(dialect, notes), startS: 0 };
    if (dialect.timeColumn !== undefined) {
      const stamps = this.stamps.take();
      const judged = judgeTimebase(stamps);
      notes.push(...judged.notes);
      if (judged.resampleTo !== undefined) {
        refuseSize(read.filter(Boolean).length, judged.resampleTo);
        read.forEach((samples, i) => (read[i] = samples && resampleEvenly(stamps, samples, judged)));
      }
      timebase = judged;
    }
    const channels: Channel[] = [];
    read.forEach((samples, i) => {
      if (!samples) return;
      const { name, header, unit } = dialect.columns[i];
      channels.push({
        name: uniqueName(name, channels),
        ...(header && header !== name && { header }),
        unit: unit?.si ?? '1',
        fileFactor: unit?.factor ?? 1,
        samples,
      });
    });
    return { sampleRateHz: timebase.sampleRateHz, startS: timebase.startS, channels, notes };
  }

  private rateWithoutTime(dialect: CsvDialect, notes: string[]): number {
    if (dialect.timeColumn !== undefined) return NaN;
    const rateHz = this.options.rateHz ?? dialect.statedRateHz;
    if (rateHz === undefined) {
      throw new InputError(
        'This file has no time column and states no sample rate. Give the rate the scope was set to (--rate, in samples a second).',
        { code: 'rate-unknown' },
      );
    }
    if (!(rateHz > 0 && Number.isFinite(rateHz)))
      throw new InputError('The sample rate must be a number above zero.', { code: 'rate-unknown' });
    refuseRate(rateHz);
    notes.push(
      `No time column; ${this.options.rateHz ? 'the given' : "the file's stated"} rate of ${rateHz} samples a second is used.`,
    );
    return rateHz;
  }
}

function tooLong(): InputError {
  return new InputError(
    `A line of this file is over ${LONGEST_LINE_BYTES / 1024} KiB long: this is no table of samples. Export the capture as CSV, a row a sample.`,
  );
}

function refuseBinary(bytes: Uint8Array): void {
  const head = bytes.subarray(0, 512);
  if ((head[0] === 0xff && head[1] === 0xfe) || (head[0] === 0xfe && head[1] === 0xff)) {
    throw new InputError('This text is in UTF-16. Save it as plain CSV (UTF-8) and try again.');
  }
  if (head.some((byte) => byte === 0 || (byte < 9 && byte > 0))) {
    throw new InputError(
      'This is not CSV text (it may be a picture or a scope project renamed). Export the capture from the scope as CSV or WAV.',
    );
  }
}

function concat(a: Uint8Array, b: Uint8Array): Uint8Array {
  const joined = new Uint8Array(a.length + b.length);
  joined.set(a);
  joined.set(b, a.length);
  return joined;
}

/** Index just past the last line end, 0 if there is none. */
function lastLineEnd(bytes: Uint8Array): number {
  return Math.max(bytes.lastIndexOf(LF), bytes.lastIndexOf(CR)) + 1;
}

function hasLongLine(bytes: Uint8Array): boolean {
  let from = 0;
  for (let i = 0; i < bytes.length; i++) {
    if (bytes[i] !== LF && bytes[i] !== CR) continue;
    if (i - from > LONGEST_LINE_BYTES) return true;
    from = i + 1;
  }
  return bytes.length - from > LONGEST_LINE_BYTES;
}

function skipLines(bytes: Uint8Array, from: number, lines: number): number {
  let at = from;
  for (let skipped = 0; skipped < lines; skipped++) {
    while (at < bytes.length && bytes[at] !== LF && bytes[at] !== CR) at++;
    if (bytes[at] === CR && bytes[at + 1] === LF) at++;
    at++;
  }
  return at;
}

function isBlank(bytes: Uint8Array, from: number, to: number): boolean {
  for (let i = from; i < to; i++) if (bytes[i] !== SPACE && bytes[i] !== CR) return false;
  return true;
}

function uniqueName(name: string, channels: readonly Channel[]): string {
  let unique = name;
  for (let n = 2; channels.some((channel) => channel.name === unique); n++) unique = `${name} (${n})`;
  return unique;
}
