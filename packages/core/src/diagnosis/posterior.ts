import type { KeyState } from '../evidence/entry.js';
import { makePath, type PathModel } from '../path/solve-path.js';
import { tableOutput } from '../systems/command-table.js';
import type { SystemProfile } from '../systems/profile.js';
import { FAMILIES, type Family } from './families.js';
import { isOptions, logLikelihood } from './expectation.js';
import { helpOf, partsOf, type Part } from './observe.js';
import type { Situation } from './situation.js';
import type { Reading } from './reading.js';
import { makeSuspects, type Fault, type Suspect } from './suspects.js';
import { BATTERY, foretell, type Helped, type World } from './world.js';

const SOUND: Fault = {};

/** A suspect at one severity. */
export interface Hypothesis {
  readonly index: number;
  readonly suspect: Suspect;
  readonly fault: Fault;
  /** Posterior probability. */
  readonly weight: number;
}

export interface Posterior {
  readonly path: PathModel;
  readonly hypotheses: readonly Hypothesis[];
  readonly suspects: readonly {
    readonly suspect: Suspect;
    readonly probability: number;
    /** Log of how much each reading speaks for it against all others, by the reading's id. */
    readonly evidence: ReadonlyMap<string, number>;
  }[];
  readonly families: ReadonlyMap<Family, number>;
  /** Probability that a reading was a slip, by its id. */
  readonly slips: ReadonlyMap<string, number>;
  /** Something worked out for every hypothesis, by their `index`; remembered under its name while the profile is in use. */
  readonly forEachFault: <T>(name: string, make: (fault: Fault) => T) => readonly T[];
  /** The situation of a hypothesis in a key state. */
  readonly situation: (fault: Fault, keyState: KeyState, helped: Helped) => Situation;
}

export interface PosteriorOptions {
  /** A charger or jump pack hides what the battery is. */
  readonly batterySupported?: boolean;
  /** Weights of the shop's own closed cases, by family; 1 when absent. */
  readonly familyWeights?: Partial<Record<Family, number>>;
}

/** Share of readings that are slips, by trust (common practice, no published source). */
const GROSS: Readonly<Record<NonNullable<Reading['trust']>, number>> = { high: 0.01, normal: 0.025, low: 0.2 };
const SLIPPING = 0.35;
/** How far a reading is believed to show a sound vehicle: while the fault was absent, nearly always. */
const ABSENT = 0.85;
const PRESENT = 0.01;
/** What an earlier reading of the same thing still weighs. */
const SUPERSEDED = 0.35;
const BODY_LEAD = 8;
const SHIFT_ROUNDS = 3;

/** Bayes' rule over all suspects and severities, given every reading. */
export function posterior(
  profile: SystemProfile,
  readings: readonly Reading[],
  { batterySupported = false, familyWeights = {} }: PosteriorOptions = {},
): Posterior {
  const ready = prepare(profile);
  const { path, suspects } = ready;
  const situation = situations(ready, readings);
  const weighed = readings.map((reading, i) => ({ reading, share: shareOf(reading, readings.slice(i + 1)) }));
  const spread = (state: KeyState) => (batterySupported ? 1 : BATTERY[state].spread);
  const asSound = readings.map((reading) => partsOf(reading, situation(SOUND, reading.keyState, helpOf(reading.kind))));
  const flat = suspects.flatMap((suspect) => suspect.severities.map((severity) => ({ suspect, ...severity })));
  // A lead clipped to the body is likelier the fault than the wire that it measures (common practice, no published source).
  const lead = readings.some(({ reference }) => reference === 'chassis' || reference === 'local-ground')
    ? BODY_LEAD
    : 1;
  const faults = flat.map(({ fault }) => fault);
  const duties = [...knownDuties(readings), '', ...askedDuties(path, readings)].join();
  const forEachFault: Posterior['forEachFault'] = (question, make) =>
    memoised(ready, `${question}/${duties}`, () => faults.map(make));
  const parts = readings.map((reading) =>
    forEachFault(`parts/${contentOf(reading)}`, (fault) =>
      partsOf(reading, situation(fault, reading.keyState, helpOf(reading.kind))),
    ),
  );
  const scored = flat.map(({ suspect, fault, share }, index) => {
    const own = parts.map((ofReading) => ofReading[index]);
    const evidence = weigh(weighed, fault, own, asSound, spread);
    const prior =
      suspect.prior * share * (familyWeights[suspect.family] ?? 1) * (suspect.id === 'meter-ground' ? lead : 1);
    return { index, suspect, fault, evidence, log: Math.log(prior) + evidence.reduce((sum, { log }) => sum + log, 0) };
  });
  const most = Math.max(...scored.map(({ log }) => log));
  const total = scored.reduce((sum, { log }) => sum + Math.exp(log - most), 0);
  const hypotheses = scored.map((h) => ({ ...h, weight: Math.exp(h.log - most) / total }));
  return {
    path,
    hypotheses,
    suspects: bySuspect(suspects, hypotheses, readings),
    families: byFamily(hypotheses),
    slips: slipShares(hypotheses, readings),
    situation,
    forEachFault,
  };
}

/** Everything of a reading that its likelihood rests on. */
function contentOf({ kind, at, value, keyState, reference, unloaded }: Reading): string {
  return JSON.stringify([kind, at, value, keyState, reference, unloaded]);
}

interface Weighed {
  readonly log: number;
  /** Probability of a slip under this hypothesis. */
  readonly slip: number;
}

/** One hypothesis against all readings: each key state's battery is fitted, then every reading scored. */
function weigh(
  readings: readonly { reading: Reading; share: number }[],
  fault: Fault,
  parts: readonly (readonly Part[])[],
  soundParts: readonly (readonly Part[])[],
  spread: (state: KeyState) => number,
): Weighed[] {
  const shifts = new Map<KeyState, number>();
  readings.forEach(({ reading: { keyState } }) => {
    if (!shifts.has(keyState)) shifts.set(keyState, batteryShift(readings, parts, keyState, fault, spread(keyState)));
  });
  const charged = new Set<KeyState>();
  return readings.map(({ reading, share }, i) => {
    const gross = fault.slips ? SLIPPING : GROSS[reading.trust ?? 'normal'];
    const shift = shifts.get(reading.keyState) ?? 0;
    const faulty = sumLog(parts[i], gross, shift);
    const asSound = sumLog(soundParts[i], gross, shift);
    const absent = reading.faultPresent ? PRESENT : ABSENT;
    const log = logMix(faulty, asSound, absent);
    // The battery's own distance from what is usual counts once a key state.
    const z = charged.has(reading.keyState) ? 0 : shift / spread(reading.keyState);
    charged.add(reading.keyState);
    const slip = parts[i].length ? Math.exp(Math.min(0, slipLog(parts[i], gross) - log)) : 0;
    return { log: share * log - 0.5 * z * z, slip };
  });
}

function sumLog(parts: readonly Part[], gross: number, shift: number): number {
  let sum = 0;
  for (const { value, expected } of parts) sum += logLikelihood(expected, value, gross, shift);
  return sum;
}

function logMix(a: number, b: number, shareOfB: number): number {
  const most = Math.max(a, b);
  return most + Math.log((1 - shareOfB) * Math.exp(a - most) + shareOfB * Math.exp(b - most));
}

function slipLog(parts: readonly Part[], gross: number): number {
  let sum = 0;
  for (const { expected } of parts) {
    sum += Math.log(gross / (isOptions(expected) ? Object.keys(expected.options).length + 1 : expected.range));
  }
  return sum;
}

/**
 * The battery's distance from its usual voltage in a key state, from all readings that follow it: weighted least squares
 * with the usual spread as prior; readings that look like slips lose their weight from round to round.
 */
function batteryShift(
  readings: readonly { reading: Reading; share: number }[],
  parts: readonly (readonly Part[])[],
  keyState: KeyState,
  fault: Fault,
  spread: number,
): number {
  let shift = 0;
  for (let round = 0; round < SHIFT_ROUNDS; round++) {
    let top = 0;
    let bottom = 1 / (spread * spread);
    readings.forEach(({ reading, share }, i) => {
      if (reading.keyState !== keyState) return;
      const gross = fault.slips ? SLIPPING : GROSS[reading.trust ?? 'normal'];
      for (const { value, expected } of parts[i]) {
        if (isOptions(expected) || expected.perBatteryV === 0) continue;
        const { mean, sd, perBatteryV, range } = expected;
        const off = Number(value) - mean;
        const z = (off - perBatteryV * shift) / sd;
        const density = ((1 - gross) * Math.exp(-0.5 * z * z)) / (2.5066 * sd);
        // In the first round nothing is known of the battery yet: all count, up to a distance.
        const trust = round === 0 ? 1 / (1 + z * z * 0.01) : density / (density + gross / range);
        const weight = (share * trust) / (sd * sd);
        top += weight * perBatteryV * off;
        bottom += weight * perBatteryV * perBatteryV;
      }
    });
    shift = top / bottom;
  }
  return shift;
}

/** A repeat supersedes what was read before; both stay. */
function shareOf(reading: Reading, later: readonly Reading[]): number {
  const repeats = later.filter(
    (other) =>
      other.kind === reading.kind &&
      other.at === reading.at &&
      other.keyState === reading.keyState &&
      other.reference === reading.reference &&
      other.unloaded === reading.unloaded &&
      other.faultPresent === reading.faultPresent,
  );
  return SUPERSEDED ** repeats.length;
}

/** Output duty that was measured, by key state, 0 to 1. */
function knownDuties(readings: readonly Reading[]): ReadonlyMap<KeyState, number> {
  const known = new Map<KeyState, number>();
  for (const { kind, at, value, keyState } of readings) {
    const measured = kind === 'duty' && at !== 'command' && typeof value === 'number';
    if (measured) known.set(keyState, value / 100);
  }
  return known;
}

/** Output duty that the measured commands ask for, by key state, per cent. */
function askedDuties({ profile }: PathModel, readings: readonly Reading[]): ReadonlyMap<KeyState, number> {
  const asked = new Map<KeyState, number>();
  for (const { kind, at, value, keyState } of readings) {
    const command = (kind === 'duty' && at === 'command') || (kind === 'scan' && at === 'commanded_duty');
    if (command && typeof value === 'number') asked.set(keyState, tableOutput(profile.commandTable, value));
  }
  return asked;
}

type Worlds = Map<Fault, Map<string, World>>;

/** What depends on the profile alone, kept for the next reading of the same case. */
interface Prepared {
  readonly path: PathModel;
  readonly suspects: readonly Suspect[];
  readonly worlds: Worlds;
  readonly memo: Map<string, readonly unknown[]>;
}

const MOST_MEMOS = 1000;

function memoised<T>({ memo }: Prepared, key: string, make: () => readonly T[]): readonly T[] {
  const known = memo.get(key);
  if (known) return known as readonly T[];
  if (memo.size >= MOST_MEMOS) memo.clear();
  const fresh = make();
  memo.set(key, fresh);
  return fresh;
}

const MOST_PREPARED = 8;
const prepared = new Map<string, Prepared>();

function prepare(profile: SystemProfile): Prepared {
  const key = JSON.stringify(profile);
  const known = prepared.get(key);
  if (known) return known;
  const fresh = { path: makePath(profile), suspects: makeSuspects(profile), worlds: new Map(), memo: new Map() };
  for (const oldest of [...prepared.keys()].slice(0, Math.max(0, prepared.size - MOST_PREPARED + 1))) {
    prepared.delete(oldest);
  }
  prepared.set(key, fresh);
  return fresh;
}

/** Foretold worlds are shared between readings of one key state; only a measured duty makes them a case's own. */
function situations({ path, worlds }: Prepared, readings: readonly Reading[]): Posterior['situation'] {
  const known = knownDuties(readings);
  const asked = askedDuties(path, readings);
  const own: Worlds = new Map();
  const worldOf = (fault: Fault, keyState: KeyState, helped: Helped, duty: number | undefined): World => {
    const shelf = duty === undefined ? worlds : own;
    let ofFault = shelf.get(fault);
    if (!ofFault) shelf.set(fault, (ofFault = new Map<string, World>()));
    const key = `${keyState}/${helped}`;
    let world = ofFault.get(key);
    if (!world) ofFault.set(key, (world = foretell(path, fault, keyState, helped, duty)));
    return world;
  };
  return (fault, keyState, helped) => ({
    path,
    fault,
    world: worldOf(fault, keyState, helped, known.get(keyState)),
    free: worldOf(fault, keyState, helped, undefined),
    sound: worldOf(SOUND, keyState, helped, known.get(keyState)),
    usual: worldOf(SOUND, keyState, helped, undefined),
    dutyKnown: known.has(keyState),
    asked: asked.get(keyState),
  });
}

type Scored = Hypothesis & { readonly evidence: readonly Weighed[] };

/** Keeps a hypothesis that is all but ruled out from dividing nothing by nothing. */
const LEAST_WEIGHT = 1e-200;

/**
 * What each reading says of each suspect: its mean likelihood under the suspect's own hypotheses over that under all other
 * families', each weighed by what the other readings leave of it: sum w / sum (w / L).
 */
function bySuspect(suspects: readonly Suspect[], hypotheses: readonly Scored[], readings: readonly Reading[]) {
  const count = readings.length;
  // One row a suspect: [sum w, sum w / L of each reading]; the last row is all of them.
  const sums = new Map<Suspect | Family, Float64Array>();
  const sumOf = (key: Suspect | Family) => {
    const known = sums.get(key) ?? new Float64Array(count + 1);
    sums.set(key, known);
    return known;
  };
  const all = new Float64Array(count + 1);
  for (const { suspect, weight, evidence } of hypotheses) {
    const w = Math.max(LEAST_WEIGHT, weight);
    for (const sum of [sumOf(suspect), sumOf(suspect.family), all]) {
      sum[count] += w;
      for (let i = 0; i < count; i++) sum[i] += w * Math.exp(-evidence[i].log);
    }
  }
  return suspects
    .map((suspect) => {
      const own = sumOf(suspect);
      const family = sumOf(suspect.family);
      const evidence = new Map(
        readings.map((reading, i) => {
          const mine = own[count] / own[i];
          const others =
            Math.max(LEAST_WEIGHT, all[count] - family[count]) / Math.max(LEAST_WEIGHT, all[i] - family[i]);
          return [reading.id, Math.log(mine / others)] as const;
        }),
      );
      return { suspect, probability: own[count] / all[count], evidence };
    })
    .sort((a, b) => b.probability - a.probability);
}

function byFamily(hypotheses: readonly Hypothesis[]): Map<Family, number> {
  const sums = new Map<Family, number>(FAMILIES.map((family) => [family, 0]));
  for (const { suspect, weight } of hypotheses) sums.set(suspect.family, (sums.get(suspect.family) ?? 0) + weight);
  return new Map([...sums].sort((a, b) => b[1] - a[1]));
}

function slipShares(hypotheses: readonly Scored[], readings: readonly Reading[]): Map<string, number> {
  return new Map(
    readings.map((reading, i) => [reading.id, hypotheses.reduce((sum, h) => sum + h.weight * h.evidence[i].slip, 0)]),
  );
}
