import { atTheTank, COIL, FUSED } from '../dangers.js';
import type { EvidenceKind } from '../kind.js';
import { runsShares, told } from '../told.js';
import { wordsOf } from '../values.js';

/** A fused lead across a station: past a relay's contact, a plug, a wire seen broken. */
export const bridge: EvidenceKind = {
  key: 'Bridged',
  stations: {
    value: wordsOf('runs', 'dead'),
    at: ['fuse', 'fusible-link', 'relay', 'cutoff-switch', 'junction-box', 'splice', 'connector', 'wire', 'ground'],
    own: ['relay', 'junction-box'],
  },
  anyState: true,
  onPath: true,
  title: ({ station, name }) =>
    station?.kind === 'relay' ? 'Bridge 30 to 87 with a fused lead' : `Bridge ${name} with a fused lead`,
  minutes: ({ access }) => access + 2,
  cautions: (site) => [...atTheTank(site), FUSED, ...(site.station?.kind === 'relay' ? [COIL] : [])],
  danger: () => 'power-path',
  foresee: ({ value }, scene) => told(value, runsShares(scene)),
  probe: 'runs',
  example: { at: 'relay', value: 'runs', state: 'prime' },
};
