import { atTheTank, FUSED } from '../dangers.js';
import type { EvidenceKind } from '../kind.js';
import { answers } from '../part.js';
import { runsShares, told } from '../told.js';
import { wordsOf } from '../values.js';

const RUNS = wordsOf('runs', 'dead');

/** The battery's own volts, fused, into the path at a station; at the pump its ground too. */
export const directFeed: EvidenceKind = {
  key: 'Fed directly',
  places: [
    {
      at: 'lift_pump',
      title: 'Lift pump, fed directly',
      stage: 'power-path',
      value: RUNS,
      states: ['prime', 'off', 'cranking', 'idle', 'loaded'],
      howTo: 'Feed and ground at its own connector, fused, by the diagram.',
    },
  ],
  stations: {
    value: RUNS,
    at: ['pump', 'fuse', 'relay', 'cutoff-switch', 'junction-box', 'splice', 'connector', 'wire'],
    own: ['pump'],
  },
  anyState: true,
  onPath: true,
  title: ({ station, name }) =>
    station === undefined || station.kind === 'pump'
      ? `Feed ${station ? 'the pump' : name} directly, fused, by the diagram`
      : `Feed the path at ${name}, fused, by the diagram`,
  minutes: ({ access }) => access + 8,
  cautions: (site) => [...atTheTank(site), FUSED],
  danger: () => 'power-path',
  foresee: ({ at, value }, scene) =>
    told(
      value,
      at === 'lift_pump' ? answers({ dead: scene.fault.lift === 'open' ? 0.97 : 0.03 }, 'runs') : runsShares(scene),
    ),
  probe: 'runs',
  example: { value: 'dead', state: 'prime' },
};
