import type { EvidenceKind } from '../kind.js';
import { heardShares, isStrained, told } from '../told.js';
import { wordsOf } from '../values.js';

const HEARD = wordsOf('silent', 'steady', 'rough');

/** Somebody at the tank, or a rod to the ear. */
export const heard: EvidenceKind = {
  key: 'Heard',
  places: [
    {
      at: 'lift_pump',
      title: 'Lift pump, heard',
      stage: 'power-path',
      value: HEARD,
      states: ['prime', 'cranking', 'idle', 'loaded'],
      howTo: 'One pump at a time: a rod to the ear tells which of the two it is.',
    },
  ],
  stations: { value: HEARD, at: ['pump'], own: ['pump'] },
  title: ({ at, state }) => (at === 'lift_pump' ? `Listen at the lift pump, ${state}` : `Listen at the tank, ${state}`),
  minutes: () => 1,
  danger: () => 'power-path',
  foresee: ({ at, value }, { now, fault }) =>
    told(
      value,
      at === 'lift_pump' ? heardShares(now.liftA > 0 ? 1 : 0, false) : heardShares(now.speed, isStrained(fault)),
    ),
  probe: 'steady',
  example: { value: 'silent', state: 'prime' },
};
