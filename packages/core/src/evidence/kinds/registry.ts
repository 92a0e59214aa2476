import type { Part, Scene } from '../part.js';
import { NOT_POSSIBLE } from '../entry.js';
import type { Reading, ReadingKind } from '../reading.js';
import { checkParts } from './checks.js';
import { ampereParts, captureParts } from './current.js';
import { dutyParts, scanParts } from './duty.js';
import { holdParts, pressureParts, timingParts, volumeParts } from './pressure.js';
import { resistanceParts } from './resistance.js';
import { disturbParts, heardParts, newFuseParts, runsParts, swapParts } from './trials.js';
import { visualParts } from './visual.js';
import { batteryParts, lampParts, voltageParts } from './voltage.js';

/** How each kind of evidence is foreseen. */
const FORESEEN: Readonly<Record<ReadingKind, (reading: Reading, scene: Scene) => readonly Part[]>> = {
  voltage: voltageParts,
  battery: batteryParts,
  'test-light': lampParts,
  resistance: resistanceParts,
  current: ampereParts,
  capture: captureParts,
  pressure: pressureParts,
  scan: scanParts,
  duty: dutyParts,
  timing: timingParts,
  hold: holdParts,
  volume: volumeParts,
  check: checkParts,
  heard: heardParts,
  disturb: disturbParts,
  swap: swapParts,
  bridge: runsParts,
  'direct-feed': runsParts,
  'module-bypass': runsParts,
  visual: visualParts,
  'new-fuse': newFuseParts,
};

/** The comparable parts of a reading; none where the model has nothing to say about it. */
export function partsOf(reading: Reading, scene: Scene): readonly Part[] {
  return reading.value === NOT_POSSIBLE ? [] : FORESEEN[reading.kind](reading, scene);
}
