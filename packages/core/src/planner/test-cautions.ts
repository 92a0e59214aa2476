import type { Question } from '../inference/question.js';
import type { SystemProfile } from '../vehicle/profile.js';

const VAPOUR = 'Fuel vapour: no ignition source, extinguisher at hand, ventilate.';
const PRESSURE = 'Rag round the port, eye protection and gloves; catch fuel by local code.';
const FUSED = 'Fused lead only, sized to the circuit; never power a terminal you haven’t identified on a diagram.';
const RIGHT_SIZE = 'A fuse of the stated size only, and once: a larger one sets the harness on fire.';
const COIL = 'Never put power on the relay’s coil terminals: one goes to the control unit.';
const LAYOUT =
  'Only a relay of the same terminal layout: a five-pin replaces a four-pin only where the extra pin is free.';
const LIFTED = 'Vehicle on stands and chocked, never a jack alone; mind hot exhaust and moving parts.';
const HIGH_SIDE = 'Direct injection: the high-pressure side is never opened; it penetrates skin.';
const RESTRAINT = 'Restraint wiring: read by scan tool only, never probed or bridged.';
const SWITCH = 'Reset a tripped switch only after checking for leaks.';

/** What can hurt someone at a test. Defers to local codes and licensed practice. */
export function cautionsFor({ kind, at }: Question, profile: SystemProfile): string[] {
  const cautions: string[] = [];
  const { stations } = profile;
  const place = stations.findIndex(({ id }) => id === at);
  const pumpAt = stations.findIndex(({ kind: what }) => what === 'pump');
  if (place >= 0 && place >= pumpAt - 1 && kind !== 'current' && kind !== 'capture') cautions.push(LIFTED, VAPOUR);
  if (kind === 'pressure' || kind === 'hold' || kind === 'volume') {
    cautions.push(PRESSURE, VAPOUR);
    if (profile.control === 'lift') cautions.push(HIGH_SIDE);
  }
  if (kind === 'swap') cautions.push(LAYOUT);
  if (kind === 'bridge') cautions.push(FUSED, COIL);
  if (kind === 'direct-feed' || kind === 'module-bypass') cautions.push(FUSED);
  if (kind === 'new-fuse') cautions.push(RIGHT_SIZE);
  if (at === 'restraint_event') cautions.push(RESTRAINT);
  if (at === 'cutoff_button') cautions.push(SWITCH);
  if (at.startsWith('spray')) cautions.push(VAPOUR);
  return cautions;
}
