import { atTheTank, FUSED } from '../dangers.js';
import type { EvidenceKind } from '../kind.js';
import { runsShares, told } from '../told.js';
import { wordsOf } from '../values.js';

/** The module's supply led straight to its output. */
export const moduleBypass: EvidenceKind = {
  key: 'Bypassed',
  stations: { value: wordsOf('runs', 'dead'), at: ['module'], own: ['module'] },
  anyState: true,
  onPath: true,
  title: () => 'Bypass the driver module, fused',
  minutes: ({ access }) => access + 6,
  cautions: (site) => [...atTheTank(site), FUSED],
  danger: () => 'power-path',
  foresee: ({ value }, scene) => told(value, runsShares(scene)),
  probe: 'runs',
  example: { value: 'runs', state: 'prime' },
};
