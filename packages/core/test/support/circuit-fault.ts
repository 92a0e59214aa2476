import type { Family, SystemProfile } from '../../src/index.js';
import { seededRandom } from '../../src/signal/random.js';

/** What is wrong with a vehicle of the circuit simulator. */
export interface CircuitFault {
  readonly family: Family;
  /** Families that come to the same repair. */
  readonly alike: readonly Family[];
  readonly at?: string;
  readonly ohm?: number;
  readonly short?: string;
  readonly coil?: 'open' | 'unfed' | 'undriven';
  readonly emfLow?: number;
  readonly innerOhm?: number;
  readonly brushOhm?: number;
  readonly burntBars?: number;
  readonly shortedShare?: number;
  readonly rub?: number;
  readonly wear?: number;
  readonly clog?: number;
  readonly hole?: number;
  readonly regulator?: number;
  readonly leak?: number;
  readonly empty?: boolean;
  readonly sensor?: number;
  readonly missing?: 'spark' | 'injection' | 'immobiliser';
  readonly modulePass?: number;
  readonly moduleGround?: boolean;
  readonly commandArrives?: number;
  /** The control unit asks for nothing unless the scan tool makes it. */
  readonly unwilling?: boolean;
  /** Of two pumps the one in the tank. */
  readonly lift?: 'open' | 'worn';
}

/** Ohm of what is open. */
export const OPEN = 1e8;

/** One fault of a kind that the path can have, bad enough to bring the vehicle in. */
export function drawFault(profile: SystemProfile, seed: number): CircuitFault {
  const random = seededRandom(seed * 31 + 7);
  const between = (low: number, high: number) => low + (high - low) * random.uniform();
  const { stations } = profile;
  const pumpAt = stations.findIndex(({ kind }) => kind === 'pump');
  const faults: (() => CircuitFault)[] = [];
  const PUMP: readonly Family[] = ['pump-electrical', 'pump-mechanical'];
  const one = (family: Family, more: Partial<CircuitFault>, alike: readonly Family[] = [family]): CircuitFault => ({
    family,
    alike,
    ...more,
  });
  const contact = (at: string, family: Family) => () =>
    one(family, { at, ohm: random.uniform() < 0.35 ? OPEN : 10 ** between(-0.5, 1.2) });
  stations.forEach(({ id, kind, secondPump }, i) => {
    if (kind === 'fuse' || kind === 'fusible-link') faults.push(contact(id, 'fuse'));
    else if (kind === 'relay' || kind === 'junction-box') {
      faults.push(contact(id, 'relay-contact'));
      faults.push(
        () => one('relay-control', { coil: 'undriven' }),
        () => one('relay-control', { coil: 'unfed' }),
      );
      faults.push(() => one('relay-control', { coil: 'open' }, ['relay-control', 'relay-contact']));
    } else if (kind === 'cutoff-switch') faults.push(contact(id, 'cutoff-switch'));
    else if (kind === 'module') {
      faults.push(() => one('module', { modulePass: random.uniform() < 0.4 ? 0 : between(0.2, 0.5) }));
      faults.push(() => one('ground-wiring', { moduleGround: true }));
      faults.push(() => one('module-command', { unwilling: true }));
      faults.push(() => one('module-command', { commandArrives: random.uniform() < 0.5 ? 0 : between(0.2, 0.45) }));
    } else if (kind !== 'battery' && kind !== 'pump')
      faults.push(contact(id, i < pumpAt ? 'feed-wiring' : 'ground-wiring'));
    if (secondPump) {
      faults.push(
        () => one('pump-electrical', { lift: 'open' }, PUMP),
        () => one('pump-mechanical', { lift: 'worn' }, PUMP),
      );
    }
    if (kind === 'wire' && i < pumpAt) faults.push(() => one('feed-wiring', { short: id }));
  });
  faults.push(
    () => one('pump-electrical', { brushOhm: OPEN }, PUMP),
    () => one('pump-electrical', { brushOhm: between(0.8, 4) }, PUMP),
    () => one('pump-electrical', { burntBars: 1 + Math.floor(3 * random.uniform()) }, PUMP),
    () => one('pump-electrical', { shortedShare: between(0.25, 0.5) }, PUMP),
    () => one('pump-mechanical', { rub: between(0.35, 0.8) }, PUMP),
    () => one('pump-mechanical', { rub: Infinity }, PUMP),
    () => one('pump-mechanical', { wear: between(1, 1.6) }, PUMP),
    () => one('hydraulic', { clog: between(1.5, 5) }),
    () => one('hydraulic', { hole: between(0.9, 1.8) }),
    () => one('hydraulic', { leak: between(0.3, 2) }),
    () => one('hydraulic', { empty: true }),
    () => one('supply', { emfLow: between(0.3, 1), innerOhm: between(0.008, 0.02) }),
    () =>
      one('not-fuel', { missing: (['spark', 'injection', 'immobiliser'] as const)[Math.floor(3 * random.uniform())] }),
    () => one('healthy', {}, ['healthy', 'not-fuel', 'measurement-error']),
  );
  const closedLoop = profile.control === 'module-commanded' || profile.control === 'module-self';
  if (!closedLoop) faults.push(() => one('hydraulic', { regulator: between(0.3, 0.7) }));
  if (profile.sensorTable && closedLoop)
    faults.push(() => one('sensor', { sensor: random.uniform() < 0.6 ? between(0.5, 0.8) : between(1.25, 1.6) }));
  return faults[Math.floor(faults.length * random.uniform())]();
}
