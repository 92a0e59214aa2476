import { LOADED_STATES } from '../evidence/entry.js';
import type { HouseRules } from '../rules/house-rules.js';
import { loadedProofs, type Proof } from './loaded-proof.js';
import type { Posterior } from './posterior.js';
import type { CaptureResult, Reading } from './reading.js';

/** What a verdict rests on beyond its weight. */
export type VerdictProofs = (posterior: Posterior, present: readonly Reading[], rules: HouseRules) => readonly Proof[];

const proof = (met: boolean, proven: string, missing: string): Proof => ({ met, text: met ? proven : missing });

const has = (readings: readonly Reading[], ...kinds: readonly Reading['kind'][]) =>
  readings.some(({ kind }) => kinds.includes(kind));

const answered = (readings: readonly Reading[], kind: Reading['kind'], value: string) =>
  readings.some((reading) => reading.kind === kind && reading.value === value);

/** A pump looks guilty of whatever feeds it, so all of that is proven first. */
export const pumpProofs: VerdictProofs = (posterior, present, rules) => {
  const { families, path, suspects } = posterior;
  const pump = path.profile.stations[path.pumpAt].name.toLowerCase();
  const proofs: Proof[] = answered(present, 'direct-feed', 'dead')
    ? [{ met: true, text: 'Fed directly it stays dead: nothing before it is to blame.' }]
    : [...loadedProofs(path, present, rules)];
  proofs.push(
    proof(
      has(present, 'current', 'capture', 'direct-feed'),
      'Its current was seen.',
      `Clamp the current at ${pump}, or feed it directly.`,
    ),
  );
  if (suspects[0].suspect.id === 'pump-worn') {
    const missing = 'Measure the volume: a regulator that lets by looks the same on the gauge.';
    proofs.push(proof(has(present, 'volume'), 'Its volume was measured.', missing));
  }
  if ((families.get('pump-mechanical') ?? 0) > (families.get('pump-electrical') ?? 0)) {
    proofs.push(fuelSeen(present));
  }
  if (rules.waveform === 'never-alone' && has(present, 'capture')) {
    proofs.push(
      proof(
        has(present, 'pressure', 'volume', 'direct-feed'),
        'Beside the pattern stands what the pump does or fails to do.',
        'House rule: a pattern alone condemns nothing here. Take pressure or volume too.',
      ),
    );
  }
  return proofs;
};

function fuelSeen(present: readonly Reading[]): Proof {
  const seen = present.some(({ kind, at, value }) => kind === 'check' && at === 'fuel_in_tank' && value === 'yes');
  return proof(seen, 'Fuel was seen in the tank.', 'See fuel in the tank: a dry pump looks worn.');
}

/** A module without supply or command is as silent as a dead one. */
export const moduleProofs: VerdictProofs = ({ path }, present, rules) => {
  const { stations } = path.profile;
  const supply = stations[path.moduleAt - 1]?.id;
  const bypassed = answered(present, 'module-bypass', 'runs');
  const fed = present.some(
    ({ kind, at, value, reference, keyState, unloaded }) =>
      at === supply &&
      LOADED_STATES.has(keyState) &&
      !unloaded &&
      (kind === 'test-light'
        ? value === 'bright'
        : kind === 'voltage' && reference !== 'battery+' && Number(value) >= LEAST_SUPPLY_V - rules.supplyDropV),
  );
  const asked = present.some(
    ({ kind, at }) => (kind === 'duty' && at === 'command') || (kind === 'scan' && at === 'commanded_duty'),
  );
  return [
    proof(
      fed || bypassed,
      'Its supply was seen under load.',
      'Read its supply pin under load: without feed it is silent too.',
    ),
    proof(
      asked || bypassed,
      'What it was asked for is known.',
      'Read its command, by scope or scan tool: unasked it is silent too.',
    ),
  ];
};

/** A sound battery while cranking; less is the battery's affair (common practice, no published source). */
const LEAST_SUPPLY_V = 9.6;

/** A relay with nothing at its input passes nothing. */
export const relayProofs: VerdictProofs = ({ path }, present) => {
  const { stations } = path.profile;
  const before = new Set(stations.slice(0, path.relayAt).map(({ id }) => id));
  const fed = present.some(({ kind, at }) => (kind === 'voltage' || kind === 'test-light') && before.has(at));
  const shown = answered(present, 'swap', 'changed') || answered(present, 'bridge', 'runs');
  return [proof(fed || shown, 'What arrives at it was seen.', 'Read what arrives at the relay, or swap or bridge it.')];
};

/** A liar is found by whoever reads the same thing otherwise. */
export const sensorProofs: VerdictProofs = (_posterior, present) => [
  proof(
    present.some(({ kind, at }) => kind === 'pressure' && at === 'rail'),
    'A gauge was read beside it.',
    'Read a gauge at the rail beside it: two electronic numbers come from the same volts.',
  ),
];

/** The fuel side is only what is left when it runs on fuel and is pressed. */
export const fuelSideProofs: VerdictProofs = (_posterior, present) => [
  proof(has(present, 'pressure', 'volume', 'hold'), 'Pressure or volume was measured.', 'Measure pressure or volume.'),
  proof(
    present.some(({ kind, at }) => kind === 'check' && at === 'fuel_in_tank'),
    'It was seen what is in the tank.',
    'See what is in the tank.',
  ),
];

/** Nothing wrong with the pump: it gets what it needs, and does something with it. */
export const soundProofs: VerdictProofs = ({ path }, present, rules) => {
  const works = present.some(({ kind, value }) =>
    kind === 'capture' ? ((value as CaptureResult).pattern ?? 'no-current') !== 'no-current' : WORKING.has(kind),
  );
  return [
    ...loadedProofs(path, present, rules),
    proof(works, 'Its own work was measured.', 'Measure what it does: current, pressure or volume.'),
  ];
};
const WORKING: ReadonlySet<Reading['kind']> = new Set(['current', 'pressure', 'volume']);
