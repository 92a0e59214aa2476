import type { EvidenceKind } from '../kind.js';
import { answers, type Answers, type Scene } from '../part.js';
import { runsShares, told } from '../told.js';
import { wordsOf } from '../values.js';

/** The scan tool tells the control unit to run the pump: its own reasons not to ask for it are passed by. */
export const actuator: EvidenceKind = {
  key: 'Scan tool runs it',
  stations: { value: wordsOf('runs', 'dead'), at: ['pump'], own: ['pump'] },
  anyState: true,
  title: () => 'Run the pump by the scan tool’s actuator test',
  minutes: () => 3,
  danger: () => 'power-path',
  foresee: ({ value }, scene) => told(value, runs(scene)),
  probe: 'runs',
  example: { value: 'runs', state: 'prime' },
};

/** Of relays that nothing pulls, those whose control unit could pull them and doesn't want to (no published source). */
const UNWILLING = 0.3;

function runs(scene: Scene): Answers {
  return scene.fault.relayOff === 'control' ? answers({ runs: UNWILLING }, 'dead') : runsShares(scene);
}
