import { atTheTank } from '../dangers.js';
import type { EvidenceKind } from '../kind.js';
import type { Scene } from '../part.js';
import { answers } from '../part.js';
import { READ_MINUTES } from '../site.js';
import { told, wakes } from '../told.js';
import { wordsOf } from '../values.js';

/** Shaken, tapped, moved while it runs. */
export const disturb: EvidenceKind = {
  key: 'Moved',
  stations: { value: wordsOf('changed', 'unchanged') },
  anyState: true,
  onPath: true,
  title: ({ name }) => `Move ${name} while it runs`,
  minutes: ({ access }) => access + READ_MINUTES,
  cautions: atTheTank,
  danger: () => 'power-path',
  foresee: ({ at, value }, scene) => told(value, answers({ changed: changes(at, scene) }, 'unchanged')),
  probe: 'changed',
  example: { at: 'connector', value: 'changed', state: 'prime' },
};

/** How often moving a place changes something (common practice, no published source). */
function changes(at: string, { fault, vehicle }: Scene): number {
  const { stations } = vehicle.profile;
  if (fault.at === at) return fault.ohm === Infinity ? 0.2 : 0.35;
  if (fault.relayOff && at === stations[vehicle.relayAt]?.id) return 0.06;
  return at === stations[vehicle.pumpAt].id && wakes(fault) ? 0.35 : 0.015;
}
