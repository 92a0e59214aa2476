import { InputError } from '../errors.js';
import { WATCH_MARKS, type WatchMark } from './watch.js';

/** What somebody can mark on a record: what a watcher sees, or anything in words. */
export const RECORD_MARKS = [...WATCH_MARKS, 'other'] as const;
export type RecordMarkKind = WatchMark | 'other';

/** A moment of a record that somebody marked by hand, on the record's own clock. */
export interface RecordMark {
  readonly mark: RecordMarkKind;
  readonly atS: number;
  /** What was disturbed, or what it is. */
  readonly what?: string;
}

/** What can be marked by hand on a record, in words. */
export const RECORD_MARK_NAMES: Readonly<Record<RecordMarkKind, string>> = {
  voltage: 'volts gone',
  pressure: 'pressure falling',
  engine: 'engine died',
  back: 'came back',
  disturbed: 'disturbed',
  other: 'mark',
};

/** @throws InputError for what is no mark, as a file of another shop may hold it */
export function readMark(value: unknown): RecordMark {
  const { mark, atS, what } = (typeof value === 'object' && value !== null ? value : {}) as Partial<RecordMark>;
  const isMark = (RECORD_MARKS as readonly unknown[]).includes(mark) && Number.isFinite(atS);
  if (!isMark || !(what === undefined || typeof what === 'string')) {
    throw new InputError('A mark on a record says what it is, and at how many seconds.');
  }
  return value as RecordMark;
}

/** @throws InputError for a mark outside of its record, and for one of "other" without words */
export function checkMark(
  { mark, atS, what }: RecordMark,
  record: { readonly startS: number; readonly samples: number; readonly sampleRateHz: number },
): void {
  const endS = record.startS + record.samples / record.sampleRateHz;
  if (!(atS >= record.startS && atS <= endS)) {
    throw new InputError(
      `This record runs from ${record.startS.toFixed(3)} to ${endS.toFixed(3)} s; mark a time in it.`,
    );
  }
  if (mark === 'other' && !what) throw new InputError('Say in words what this mark is.');
}

/** "disturbed: plug at the tank", or what it is where it is nothing else. */
export function markText({ mark, what }: RecordMark): string {
  if (mark === 'other') return what ?? RECORD_MARK_NAMES.other;
  return what ? `${RECORD_MARK_NAMES[mark]}: ${what}` : RECORD_MARK_NAMES[mark];
}

/** What was disturbed so shortly before a fault may have brought it on; a hand at the keys is a second or two late, s. */
const MAY_HAVE_BROUGHT_S = 3;

/** The marks that belong to something that happened: what was disturbed shortly before, and whatever was marked until it ended. */
export function marksAround(
  marks: readonly RecordMark[],
  { startS, endS = startS }: { readonly startS: number; readonly endS?: number },
): readonly RecordMark[] {
  return marks.filter(({ atS }) => atS >= startS - MAY_HAVE_BROUGHT_S && atS <= endS + MAY_HAVE_BROUGHT_S);
}

/** "disturbed: plug at the tank 0.4 s before it, engine died 1.2 s after" */
export function marksLine(marks: readonly RecordMark[], startS: number): string {
  return [...marks]
    .sort((a, b) => a.atS - b.atS)
    .map((one) => {
      const lagS = one.atS - startS;
      return `${markText(one)} ${Math.abs(lagS).toFixed(1)} s ${lagS < 0 ? 'before' : 'after'}`;
    })
    .join(', ');
}
