import type { VolumeRecord } from '../evidence/records.js';
import type { Reading } from '../evidence/reading.js';
import { LIMITS } from '../limits/limits.js';
import { hasReturn } from '../vehicle/profile.js';
import { fitHold } from '../measure/pressure/hold.js';
import type { HoldRecord } from '../measure/pressure/hold-record.js';
import { LOADED_STATES } from '../terms/key-states.js';
import { question, type Charge } from './charge.js';
import type { Facts } from './facts.js';
import { usualState } from './path-proofs.js';
import { met, missing, type Proof } from './proof.js';

/** Of the volume that a sound pump gives, or of the held pressure with the return pinched: less is too little. */
const ENOUGH_DELIVERED = 0.75;

/** A hose that lets go inside the tank looks like a worn pump on every gauge: something must tell them apart. */
export function deliversLittle(facts: Facts): Proof {
  const returns = hasReturn(facts.vehicle.profile);
  const asks = [
    question('volume', 'rail', usualState(facts)),
    ...(returns ? [question('pressure', 'dead_head', 'idle')] : []),
    question('visual', 'hose', 'off'),
  ];
  const hose = facts.newest('visual', 'hose');
  if (hose?.value === 'clean') return met('The hose in the tank was seen whole.', [hose.id]);
  const dead = returns ? facts.newest('pressure', 'dead_head') : undefined;
  if (dead && typeof dead.value === 'number') {
    return dead.value < ENOUGH_DELIVERED * facts.vehicle.profile.pump.pressurePa * facts.vehicle.heldShare
      ? met('With the return pinched it still makes too little pressure.', [dead.id])
      : missing(
          'With the return pinched it makes its pressure: the regulator or the return is at fault, not the pump.',
          [],
          [dead.id],
        );
  }
  const volume = facts.newest('volume');
  if (volume && typeof volume.value === 'object') {
    const { volumeM3, durationS } = volume.value as VolumeRecord;
    const enough = volumeM3 / durationS > ENOUGH_DELIVERED * facts.vehicle.sound.freeFlow;
    if (!enough) return met('It delivers too little volume.', [volume.id]);
    return missing(
      `Its volume is good, so it pumps: see the hose in the tank whole${returns ? ', or pinch the return and watch the pressure,' : ''} before the pump is blamed.`,
      asks.slice(1),
      [volume.id],
    );
  }
  return missing('Measure the volume: a regulator that lets by, or a split hose, looks the same on the gauge.', asks);
}

export function fuelSeen(facts: Facts): Proof {
  const seen = facts.newest('check', 'fuel_in_tank');
  return seen?.value === 'yes'
    ? met('Fuel was seen in the tank.', [seen.id])
    : missing('See fuel in the tank: a dry pump looks worn.', [question('check', 'fuel_in_tank', 'off')]);
}

/** The fuel side is only what is left when something of it was measured, and was bad. */
export function fuelSideProofs({ facts, suspect }: Charge): readonly Proof[] {
  const bad = facts.readings.filter((reading) => isBadFuel(reading, facts));
  const tank = facts.newest('check', 'fuel_in_tank');
  const state = facts.states()[0] ?? usualState(facts);
  return [
    bad.length > 0
      ? met(
          'What is wrong with the fuel was measured or seen.',
          bad.map(({ id }) => id),
        )
      : missing('Measure pressure or volume, or hold: something of the fuel side must read badly.', [
          suspect.id === 'leak-down' ? question('hold', 'rail', 'after-off') : question('pressure', 'rail', state),
        ]),
    tank
      ? met('It was seen what is in the tank.', [tank.id])
      : missing('See what is in the tank.', [question('check', 'fuel_in_tank', 'off')]),
  ];
}

/** Pressures below and above the held one by so much are bad ones (common practice, no published source). */
const LOW = 0.88;
const HIGH = 1.12;

function isBadFuel({ kind, at, value, keyState }: Reading, { vehicle }: Facts): boolean {
  const held = vehicle.heldShare * vehicle.profile.pump.pressurePa;
  switch (kind) {
    case 'pressure':
      if (!LOADED_STATES.has(keyState) || at === 'manifold_vacuum') return false;
      return at === 'before_filter'
        ? Number(value) > HIGH * held
        : Number(value) < LOW * held * (keyState === 'idle' ? 1 - vehicle.vacuum : 1) || Number(value) > HIGH * held;
    case 'volume': {
      const { volumeM3, durationS } = value as VolumeRecord;
      return volumeM3 / durationS < ENOUGH_DELIVERED * vehicle.sound.freeFlow;
    }
    case 'hold': {
      if (typeof value !== 'object') return value === 'falls-at-once';
      const result = fitHold(value as HoldRecord);
      return 'fit' in result && result.fit.ratePaPerMin > LIMITS.holdLossPaPerMin.value;
    }
    case 'check':
      return (
        (at === 'fuel_in_tank' && value === 'no') ||
        (at === 'fuel_fresh' && value !== 'fresh') ||
        (at === 'hose_fuel' && value === 'wet')
      );
    case 'visual':
      return at === 'hose' && value !== 'clean';
    default:
      return false;
  }
}
