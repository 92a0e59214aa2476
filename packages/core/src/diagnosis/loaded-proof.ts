import { LOADED_STATES } from '../evidence/entry.js';
import type { PathModel } from '../path/solve-path.js';
import type { HouseRules } from '../rules/house-rules.js';
import type { CaptureResult, Reading } from './reading.js';
import { BATTERY } from './world.js';

/** Something that a verdict rests on: met or not, in plain words. */
export interface Proof {
  readonly met: boolean;
  readonly text: string;
}

/** Less loads nothing: 12 V with no current passes through a hair (common practice, no published source). */
export const LEAST_LOAD_A = 0.5;
/** Behind a module only its supply pin can prove the feed; that it passes something at all shows from here (no published source). */
const LEAST_OUTPUT_V = 3;

/** Feed and ground proven under load: by volts with current flowing, or by a lamp that each side lights. */
export function loadedProofs(path: PathModel, readings: readonly Reading[], rules: HouseRules): readonly Proof[] {
  const usable = readings.filter(
    ({ faultPresent, keyState, unloaded }) => faultPresent && LOADED_STATES.has(keyState) && !unloaded,
  );
  return [feedProof(path, usable, rules), groundProof(path, usable, rules)];
}

function feedProof(
  { profile: { stations }, pumpAt, moduleAt }: PathModel,
  usable: readonly Reading[],
  rules: HouseRules,
) {
  const pins = new Set(stations.slice(pumpAt - 1, pumpAt + 1).map(({ id }) => id));
  const flowing = flowingIn(usable);
  const battery = (state: Reading['keyState']) =>
    usable.filter((r) => isVolts(r) && r.at === stations[0].id && r.keyState === state).at(-1)?.value;
  for (const { at, keyState, value } of usable.filter((r) => isVolts(r) && pins.has(r.at)).reverse()) {
    const volts = Number(value);
    if (!flowing.has(keyState)) continue;
    // The mean behind a module follows its duty.
    if (moduleAt > 0) {
      if (volts > LEAST_OUTPUT_V)
        return met(`Feed proven at ${at}: ${volts.toFixed(2)} V behind the module, current flowing.`);
      continue;
    }
    const source = Number(battery(keyState) ?? BATTERY[keyState].volts);
    const drop = `${(source - volts).toFixed(2)} V of ${rules.supplyDropV.toFixed(2)} V allowed`;
    if (source - volts <= rules.supplyDropV) return met(`Supply proven: ${drop}.`);
    return open(`Supply loses ${drop}. Find that first; the pump is not the suspect.`);
  }
  if (lampLit(usable, pins, false)) return met('Feed proven: it lights a lamp of a few watts bright.');
  return open(
    `Prove the feed at ${stations[pumpAt].id} under load: its volts with current flowing, or a lamp of a few watts lit bright.`,
  );
}

function groundProof({ profile: { stations }, pumpAt }: PathModel, usable: readonly Reading[], rules: HouseRules) {
  const pin = stations[pumpAt + 1].id;
  const flowing = flowingIn(usable);
  const read = usable.filter((r) => isVolts(r) && r.at === pin && flowing.has(r.keyState)).at(-1);
  if (read) {
    const rise = `${Number(read.value).toFixed(2)} V of ${rules.groundDropV.toFixed(2)} V allowed`;
    if (Number(read.value) <= rules.groundDropV) return met(`Ground proven: ${rise}.`);
    return open(`Ground rises by ${rise}. Find that first; the pump is not the suspect.`);
  }
  if (lampLit(usable, new Set([pin]), true)) return met('Ground proven: it lights a lamp to battery + bright.');
  return open(
    `Prove the ground at ${pin} under load: its rise with current flowing, or a lamp to battery + lit bright.`,
  );
}

const met = (text: string): Proof => ({ met: true, text });
const open = (text: string): Proof => ({ met: false, text });

function isVolts({ kind, reference }: Reading): boolean {
  return kind === 'voltage' && reference !== 'battery+';
}

function flowingIn(usable: readonly Reading[]): ReadonlySet<Reading['keyState']> {
  return new Set(usable.filter((reading) => ampere(reading) >= LEAST_LOAD_A).map(({ keyState }) => keyState));
}

function lampLit(usable: readonly Reading[], pins: ReadonlySet<string>, toPlus: boolean): boolean {
  return usable.some(
    ({ kind, at, value, reference }) =>
      kind === 'test-light' && pins.has(at) && value === 'bright' && (reference === 'battery+') === toPlus,
  );
}

function ampere({ kind, value }: Reading): number {
  if (kind === 'current') return Number(value);
  return kind === 'capture' ? ((value as CaptureResult).meanA ?? 0) : 0;
}
