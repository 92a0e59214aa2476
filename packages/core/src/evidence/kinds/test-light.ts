import { atTheTank } from '../dangers.js';
import type { EvidenceKind } from '../kind.js';
import { answers, sigmoid, type Part, type Scene } from '../part.js';
import type { Reading } from '../reading.js';
import { READ_MINUTES } from '../site.js';
import { wordsOf } from '../values.js';

/** A lamp of a few watts: to ground it asks for feed, to battery + for ground. */
export const testLight: EvidenceKind = {
  key: 'Lamp',
  stations: { value: wordsOf('off', 'dim', 'bright', 'flash') },
  title: ({ name, state, reference }) =>
    `Lamp of a few watts at ${name}, ${state}, to battery ${reference === 'battery+' ? '+' : '-'}`,
  minutes: ({ access }) => access + READ_MINUTES,
  cautions: atTheTank,
  danger: () => 'power-path',
  foresee: lampParts,
  probe: 'off',
  example: { at: 'ground-pin', value: 'bright', state: 'prime', reference: 'battery+' },
};

/** Volts at which a lamp of a few watts is dark, and bright (common practice, no published source). */
const DARK_V = 3;
const BRIGHT_V = 8;

function lampParts({ at, value, reference, unloaded }: Reading, scene: Scene): Part[] {
  const { vehicle, fault, now } = scene;
  const { stations } = vehicle.profile;
  const place = stations.findIndex(({ id }) => id === at);
  if (place < 0 || typeof value !== 'string') return [];
  if (unloaded && reference === 'battery+') return throughTheLoad(value, place, scene);
  const node = now.volts[place];
  const groundOpen = stations.slice(vehicle.pumpAt + 1).some(({ id }) => id === fault.at && fault.ohm === Infinity);
  const noReturn = fault.pump?.addedOhm === Infinity || groundOpen;
  const floats = place <= vehicle.pumpAt && node < 0.5 && noReturn;
  const lampV = reference === 'battery+' ? (floats ? 0 : now.batteryV - node) : node;
  const bright = sigmoid((lampV - BRIGHT_V) / 0.8);
  const off = sigmoid((DARK_V - lampV) / 0.6);
  return [{ value, shares: answers({ bright: 0.96 * bright, flash: 0.02 * bright, off: 0.98 * off }, 'dim') }];
}

/**
 * With the plug or the relay off, from battery + into what lies behind: a few watts find their way through a sound pump and its
 * ground, and light the lamp; an open behind keeps it dark, wherever it is. A module in between lets nothing through.
 */
function throughTheLoad(
  value: string,
  place: number,
  { vehicle: { profile, pumpAt, moduleAt }, fault }: Scene,
): Part[] {
  if (moduleAt >= place) return [];
  const behind = profile.stations.slice(place + 1).some(({ id }) => id === fault.at);
  const open = (behind && (fault.ohm ?? 0) > LAMP_OHM) || (place < pumpAt && fault.pump?.addedOhm === Infinity);
  return [
    {
      value,
      shares: open
        ? answers({ dim: 0.03, bright: 0.02, flash: 0.005 }, 'off')
        : answers({ off: 0.03, dim: 0.06, flash: 0.01 }, 'bright'),
    },
  ];
}

/** A lamp of a few watts itself, hot (12 V, 5 W). */
const LAMP_OHM = 29;
