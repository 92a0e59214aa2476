import type { AnswerPart } from '../evidence/part.js';
import type { Reading } from '../evidence/reading.js';
import { UNHELPED, type Help } from '../physics/solve.js';
import type { Vehicle } from '../physics/vehicle.js';

/** What is asked: everything of a reading but its value. */
export type Question = Pick<Reading, 'kind' | 'at' | 'keyState' | 'reference' | 'unloaded' | 'helped'>;

/** A number that is to be expected, with all that is not known of the vehicle in its spread; or the answers' shares. */
export type Foretold = { readonly mean: number; readonly sd: number } | AnswerPart;

/** How a trial helps the circuit while it is watched. */
export function helpOf(
  { kind, at, helped }: Pick<Reading, 'kind' | 'at' | 'helped'>,
  { profile, pumpAt, relayAt }: Vehicle,
): readonly [string, Help] {
  const place = profile.stations.findIndex(({ id }) => id === at);
  if (helped === 'bridged' && relayAt >= 0) return [`bridge ${relayAt}`, { bridged: relayAt }];
  if (helped === 'fed') return ['direct', { direct: true }];
  if (helped === 'module-bypassed') return ['module-bypass', { moduleBypassed: true }];
  switch (kind) {
    case 'bridge':
      return [`bridge ${place}`, { bridged: place }];
    case 'module-bypass':
      return ['module-bypass', { moduleBypassed: true }];
    case 'direct-feed':
      return place === pumpAt || place < 0 ? ['direct', { direct: true }] : [`fed ${place}`, { fedAt: place }];
    default:
      return at === 'dead_head' ? ['pinched', { pinched: true }] : ['', UNHELPED];
  }
}
