import type { EvidenceKind, NamedPlace } from '../kind.js';
import { VOLTS, voltageParts } from './voltage.js';

const place = (at: string, title: string, state: NamedPlace['states'][number], howTo: string): NamedPlace => ({
  at,
  title,
  stage: 'first-checks',
  value: VOLTS,
  states: [state],
  howTo,
});

/** Across the battery's posts: what every other voltage is compared with. */
export const battery: EvidenceKind = {
  key: 'Battery',
  places: [
    place(
      'rest',
      'Battery at rest',
      'off',
      'Across the posts, not the clamps, everything off for some minutes. Say in the intake if a charger is on.',
    ),
    place(
      'cranking',
      'Battery while cranking',
      'cranking',
      'Lowest steady value while the starter turns. Ten volts is normal.',
    ),
    place('charging', 'Battery while charging', 'idle', 'Across the posts at fast idle.'),
  ],
  title: ({ at, state }) => (at === 'rest' ? 'Battery at rest' : `Battery, ${state}`),
  minutes: () => 1,
  danger: () => undefined,
  foresee: (reading, scene) =>
    voltageParts({ ...reading, at: scene.vehicle.profile.stations[0].id, reference: 'battery-' }, scene),
  probe: 0,
  example: { at: 'rest', value: 12.5, state: 'off' },
};
