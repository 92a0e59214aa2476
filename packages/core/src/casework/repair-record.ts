import { InputError } from '../errors.js';
import { refuseOthers } from '../evidence/values.js';
import type { RepairStep } from '../verdict/repair-steps.js';

/** What a link of kind 'repair' is about: the whole of it, a part that went in, or one particular of the plan. */
export const DONE = 'done';
export const PART = 'part';

/** The repair is finished, and what it was. */
export interface RepairDone {
  readonly what: string;
  /** Whether anything about the vehicle was changed: what is read from now on is then of another vehicle. */
  readonly changed: boolean;
  readonly minutes?: number;
}

/** A part that was fitted, with the number that stands on it. */
export interface FittedPart {
  readonly name: string;
  readonly number: string;
}

/** A particular that was seen to, or left out with a reason. */
export type Particular = { readonly done: true; readonly said?: string } | { readonly refused: string };

/** What may be written down of a repair: its end, a part, or a particular of its plan. */
export type RepairValue = RepairDone | FittedPart | Particular;

/** Whether a link says that the repair is finished. */
export function isDone({ kind, at }: { readonly kind: string; readonly at: string }): boolean {
  return kind === 'repair' && at === DONE;
}

const LONGEST_TEXT = 1000;
const LONGEST_REASON = 300;
const LONGEST_NUMBER = 60;
const MOST_MINUTES = 6000;

/**
 * Checks what somebody wants to write down of a repair.
 * @param steps the plan's particulars
 * @returns the value as it is kept
 * @throws InputError with what is wrong and what to do
 */
export function checkRepair(at: string, value: unknown, steps: readonly RepairStep[]): RepairValue {
  const said = (value ?? {}) as Readonly<Record<string, unknown>>;
  if (at === DONE) return readDone(said);
  if (at === PART) {
    refuseOthers(said, ['name', 'number']);
    const { number = '' } = said;
    if (typeof number !== 'string' || number.length > LONGEST_NUMBER) {
      throw new InputError('Type the part’s number as it stands on the part.');
    }
    return { name: textOf(said.name, 120, 'Name the part that was fitted.'), number: number.trim() };
  }
  const step = steps.find(({ id }) => id === at);
  if (!step) throw new InputError(`There is no “${at}” in this repair’s plan. Reload the page.`);
  if (said.done === true) {
    refuseOthers(said, ['done', 'said']);
    if (step.asks === undefined && said.said === undefined) return { done: true };
    return { done: true, said: textOf(said.said, LONGEST_REASON, `Fill in: ${step.asks ?? 'what was seen'}.`) };
  }
  refuseOthers(said, ['refused']);
  return { refused: textOf(said.refused, LONGEST_REASON, 'Say why this was left out, in a few words.') };
}

function readDone(said: Readonly<Record<string, unknown>>): RepairDone {
  refuseOthers(said, ['what', 'changed', 'minutes']);
  const { minutes } = said;
  if (typeof said.changed !== 'boolean') throw new InputError('Say whether anything about the vehicle was changed.');
  if (minutes !== undefined && !(typeof minutes === 'number' && minutes > 0 && minutes <= MOST_MINUTES)) {
    throw new InputError('Say how many minutes the repair took, or leave it out.');
  }
  const what = textOf(said.what, LONGEST_TEXT, 'Say in a sentence what was done.');
  return { what, changed: said.changed, ...(minutes !== undefined && { minutes }) };
}

function textOf(text: unknown, longest: number, message: string): string {
  if (typeof text !== 'string' || text.trim().length < 3 || text.length > longest) throw new InputError(message);
  return text.trim();
}
