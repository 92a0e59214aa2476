import { LAYOUT } from '../dangers.js';
import type { EvidenceKind } from '../kind.js';
import { answers } from '../part.js';
import { told } from '../told.js';
import { wordsOf } from '../values.js';

/** A known-good relay in its place. */
export const swap: EvidenceKind = {
  key: 'Swapped',
  stations: { value: wordsOf('changed', 'unchanged'), at: ['relay'], own: ['relay', 'junction-box'] },
  anyState: true,
  onPath: true,
  title: () => 'Swap the relay for a known-good one',
  minutes: ({ access }) => access,
  cautions: () => [LAYOUT],
  danger: () => 'power-path',
  foresee: ({ at, value }, { fault }) => {
    const itself = (fault.at === at && (fault.ohm ?? 0) > 0) || fault.relayOff === 'coil';
    return told(value, answers({ changed: itself ? 0.95 : 0.02 }, 'unchanged'));
  },
  probe: 'changed',
  example: { at: 'relay', value: 'changed', state: 'prime' },
};
