import { LOADED_STATES } from '../evidence/entry.js';
import { DEFAULT_HOUSE_LIMITS, type HouseLimits } from '../path/drop-ledger.js';
import type { Contradiction } from './contradictions.js';
import type { Family } from './families.js';
import type { Posterior } from './posterior.js';
import type { CaptureResult, Reading } from './reading.js';
import { BATTERY } from './world.js';

/** What can be decided, and the families that it condemns. */
export const VERDICTS = {
  'replace-pump': ['pump-electrical', 'pump-mechanical'],
  'replace-relay': ['relay-contact'],
  'repair-relay-control': ['relay-control'],
  'replace-module': ['module'],
  'repair-module-command': ['module-command'],
  'repair-feed-wiring': ['feed-wiring'],
  'repair-ground': ['ground-wiring'],
  'replace-fuse': ['fuse'],
  'replace-switch': ['cutoff-switch'],
  'repair-battery': ['supply'],
  'replace-sensor': ['sensor'],
  'repair-fuel-side': ['hydraulic'],
  'no-fault-found': ['healthy', 'not-fuel'],
} as const satisfies Readonly<Record<string, readonly Family[]>>;
export type Verdict = keyof typeof VERDICTS;

export interface GateResult {
  readonly allowed: boolean;
  /** What is still to be proven, in plain words. */
  readonly missing: readonly string[];
}

/** Weight that a verdict needs, and the most that any other family may keep (house rule, no published source). */
const ENOUGH = 0.9;
/** A good pump condemned costs more than any other slip. */
const ENOUGH_FOR_PUMP = 0.95;
const RIVAL = 0.06;
/** A reading that speaks this much for a family, as a natural logarithm, is a proof of its own. */
const SPEAKS = 0.7;
const PROOFS = 2;
/** Less loads nothing: 12 V with no current passes through a hair (common practice, no published source). */
const LEAST_LOAD_A = 0.5;

/** Every verdict's gate. */
export function verdictGates(
  posterior: Posterior,
  readings: readonly Reading[],
  contradictions: readonly Contradiction[],
  limits: HouseLimits = DEFAULT_HOUSE_LIMITS,
): Record<Verdict, GateResult> {
  const open = contradictions.map(({ explanation }) => explanation);
  const gate = (verdict: Verdict): GateResult => {
    const families = VERDICTS[verdict];
    const missing = [
      ...weightMissing(posterior, families, verdict === 'replace-pump' ? ENOUGH_FOR_PUMP : ENOUGH),
      ...proofsMissing(posterior, readings, families),
      ...(verdict === 'replace-pump' ? pumpMissing(posterior, readings, limits) : []),
      ...(verdict === 'no-fault-found' ? soundMissing(posterior, readings, limits) : []),
      ...open,
    ];
    return { allowed: missing.length === 0, missing };
  };
  const verdicts = Object.keys(VERDICTS) as Verdict[];
  return Object.fromEntries(verdicts.map((verdict) => [verdict, gate(verdict)])) as Record<Verdict, GateResult>;
}

function weightMissing({ families: weights }: Posterior, families: readonly Family[], enough: number): string[] {
  const own = families.reduce((sum, family) => sum + (weights.get(family) ?? 0), 0);
  const [rival] = [...weights].filter(([family]) => !families.includes(family));
  if (own >= enough && rival[1] <= RIVAL) return [];
  return [
    `The evidence gives this ${percent(own)}, it needs ${percent(enough)}; next to it stands ${rival[0]} with ${percent(rival[1])}.`,
  ];
}

function percent(share: number): string {
  return `${Math.round(100 * share)} %`;
}

/** Two readings of their own, so that no single slip convicts anyone. */
function proofsMissing({ suspects }: Posterior, readings: readonly Reading[], families: readonly Family[]): string[] {
  const best = suspects.find(({ suspect }) => families.includes(suspect.family));
  if (!best) return ['There is nothing of the kind in this path.'];
  const speaking = readings.filter(({ id, faultPresent }) => faultPresent && (best.evidence.get(id) ?? 0) > SPEAKS);
  const missing = PROOFS - speaking.length;
  return missing > 0
    ? [`Take ${missing === 1 ? 'one more reading' : 'two readings'} that bear on it, with the fault present.`]
    : [];
}

function pumpMissing(posterior: Posterior, readings: readonly Reading[], limits: HouseLimits): string[] {
  const { families, path, suspects } = posterior;
  const missing: string[] = [];
  const deadDirect = readings.some(
    ({ kind, value, faultPresent }) => kind === 'direct-feed' && value === 'dead' && faultPresent,
  );
  if (!deadDirect) missing.push(...soundMissing(posterior, readings, limits));
  const mechanical = (families.get('pump-mechanical') ?? 0) > (families.get('pump-electrical') ?? 0);
  const fuelSeen = readings.some(({ kind, at, value }) => kind === 'check' && at === 'fuel_in_tank' && value === 'yes');
  const volumeTaken = readings.some(({ kind, faultPresent }) => kind === 'volume' && faultPresent);
  if (suspects[0].suspect.id === 'pump-worn' && !volumeTaken) {
    missing.push('Measure the volume: a regulator that lets by looks the same on the gauge.');
  }
  if (mechanical && !fuelSeen) missing.push('See fuel in the tank: a dry pump looks worn.');
  const seen = readings.some(
    ({ kind, faultPresent }) => faultPresent && ['current', 'capture', 'direct-feed'].includes(kind),
  );
  if (!seen)
    missing.push(`Clamp the current at ${path.profile.stations[path.pumpAt].name.toLowerCase()}, or feed it directly.`);
  return missing;
}

/** Feed and ground proven under load: by volts with current flowing, or by a lamp that each side lights. */
function soundMissing({ path }: Posterior, readings: readonly Reading[], limits: HouseLimits): string[] {
  const { profile, pumpAt, moduleAt } = path;
  const pump = profile.stations[pumpAt].id;
  const supplyPins = new Set(profile.stations.slice(pumpAt - 1, pumpAt + 1).map(({ id }) => id));
  const groundPin = profile.stations[pumpAt + 1].id;
  const battery = profile.stations[0].id;
  const usable = readings.filter(
    ({ faultPresent, keyState, unloaded }) => faultPresent && LOADED_STATES.has(keyState) && !unloaded,
  );
  const flowing = new Set(usable.filter((reading) => ampere(reading) >= LEAST_LOAD_A).map(({ keyState }) => keyState));
  const lamp = (pins: ReadonlySet<string>, plus: boolean) =>
    usable.some(
      ({ kind, at, value, reference }) =>
        kind === 'test-light' && pins.has(at) && value === 'bright' && (reference === 'battery+') === plus,
    );
  const volts = (at: string, keyState: Reading['keyState']) =>
    usable
      .filter((r) => r.kind === 'voltage' && r.at === at && r.keyState === keyState && r.reference !== 'battery+')
      .at(-1);
  const feedHolds = usable.some((reading) => {
    if (reading.kind !== 'voltage' || !supplyPins.has(reading.at) || reading.reference === 'battery+') return false;
    const source = volts(battery, reading.keyState)?.value;
    // Behind a module the mean follows its duty: only what its supply pin shows can prove the feed.
    if (moduleAt > 0) return flowing.has(reading.keyState) && Number(reading.value) > 3;
    const from = typeof source === 'number' ? source : BATTERY[reading.keyState].volts;
    return flowing.has(reading.keyState) && from - Number(reading.value) <= limits.supplyDropV;
  });
  const groundHolds = usable.some(
    ({ kind, at, value, keyState, reference }) =>
      kind === 'voltage' &&
      at === groundPin &&
      reference !== 'battery+' &&
      flowing.has(keyState) &&
      Number(value) <= limits.groundDropV,
  );
  const missing: string[] = [];
  if (!feedHolds && !lamp(supplyPins, false)) {
    missing.push(
      `Prove the feed at ${pump} under load: its volts with current flowing, or a lamp of a few watts lit bright.`,
    );
  }
  if (!groundHolds && !lamp(new Set([groundPin]), true)) {
    missing.push(
      `Prove the ground at ${groundPin} under load: its rise with current flowing, or a lamp to battery + lit bright.`,
    );
  }
  return missing;
}

function ampere({ kind, value }: Reading): number {
  if (kind === 'current') return Number(value);
  return kind === 'capture' ? ((value as CaptureResult).meanA ?? 0) : 0;
}
