import {
  checkCase,
  diagnose,
  templateProfile,
  type Diagnosis,
  type Family,
  type PathKind,
  type Reading,
  type KeyState,
  type SystemProfile,
  type Verdict,
} from '../../src/index.js';

let count = 0;

/** A reading with the fault present, of the prime unless said otherwise. */
export const read = (
  kind: Reading['kind'],
  at: string,
  value: Reading['value'],
  keyState: KeyState = 'prime',
  more: Partial<Reading> = {},
): Reading => ({ id: `${kind}-${at}-${++count}`, kind, at, value, keyState, faultPresent: true, ...more });

/** Volts from the battery's own post. */
export const volts = (at: string, value: number, keyState?: KeyState, more: Partial<Reading> = {}): Reading =>
  read('voltage', at, value, keyState, { reference: 'battery-', ...more });

/** A shipped path's readings weighed, under what the customer says. */
export const weigh = (path: PathKind | SystemProfile, readings: readonly Reading[], complaint = ''): Diagnosis =>
  diagnose(typeof path === 'string' ? templateProfile(path) : path, readings, { complaint });

export const weightOf = ({ families }: Diagnosis, family: Family): number =>
  families.find((weight) => weight.family === family)?.probability ?? 0;

export const opened = ({ gate }: Diagnosis): Verdict[] =>
  (Object.keys(gate) as Verdict[]).filter((verdict) => gate[verdict].allowed);

/** A case file's content, weighed as the command line does. */
export function weighFile(content: object): Diagnosis {
  const checked = checkCase({ format: 'jarro.case/1', ...content });
  if (!('case' in checked)) throw new Error(JSON.stringify(checked.problems));
  const { system, readings, ...options } = checked.case;
  return diagnose(system, readings, options);
}
