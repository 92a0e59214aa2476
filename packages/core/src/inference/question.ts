import type { AnswerPart } from '../evidence/part.js';
import type { Reading } from '../evidence/reading.js';
import { UNHELPED, type Help } from '../physics/solve.js';
import type { Vehicle } from '../physics/vehicle.js';

/** What is asked: everything of a reading but its value. */
export type Question = Pick<
  Reading,
  'kind' | 'at' | 'keyState' | 'reference' | 'unloaded' | 'helped' | 'boosted' | 'commandPercent'
>;

/** A number that is to be expected, with all that is not known of the vehicle in its spread; or the answers' shares. */
export type Foretold = { readonly mean: number; readonly sd: number } | AnswerPart;

type Asking = Pick<Reading, 'kind' | 'at' | 'helped' | 'boosted' | 'commandPercent'>;

/** How the circuit is helped while it is watched, by a name of its own. */
export function helpOf(question: Asking, vehicle: Vehicle): readonly [string, Help] {
  const [name, help] = trialOf(question, vehicle);
  const more = {
    ...(question.boosted && { boosted: true }),
    ...(question.commandPercent !== undefined && { commanded: true }),
  };
  return [[name, ...Object.keys(more)].join(' '), { ...help, ...more }];
}

function trialOf({ kind, at, helped }: Asking, { profile, pumpAt, relayAt }: Vehicle): readonly [string, Help] {
  const place = profile.stations.findIndex(({ id }) => id === at);
  if (helped === 'bridged' && relayAt >= 0) return [`bridge ${relayAt}`, { bridged: relayAt }];
  if (helped === 'fed') return ['direct', { direct: true }];
  if (helped === 'module-bypassed') return ['module-bypass', { moduleBypassed: true }];
  switch (kind) {
    case 'bridge':
      return [`bridge ${place}`, { bridged: place }];
    case 'actuator':
      return ['actuator', { commanded: true }];
    case 'module-bypass':
      return ['module-bypass', { moduleBypassed: true }];
    case 'direct-feed':
      return place === pumpAt || place < 0 ? ['direct', { direct: true }] : [`fed ${place}`, { fedAt: place }];
    default:
      return at === 'dead_head' ? ['pinched', { pinched: true }] : ['', UNHELPED];
  }
}
