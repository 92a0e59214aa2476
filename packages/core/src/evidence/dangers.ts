import type { Site } from './site.js';

// What can hurt someone at a test. Each defers to local codes and licensed practice.

export const VAPOUR = 'Fuel vapour: no ignition source, extinguisher at hand, ventilate.';
export const PRESSURE = 'Rag round the port, eye protection and gloves; catch fuel by local code.';
export const FUSED =
  'Fused lead only, sized to the circuit; never power a terminal you haven’t identified on a diagram.';
export const RIGHT_SIZE = 'A fuse of the stated size only, and once: a larger one sets the harness on fire.';
export const COIL = 'Never put power on the relay’s coil terminals: one goes to the control unit.';
export const LAYOUT =
  'Only a relay of the same terminal layout: a five-pin replaces a four-pin only where the extra pin is free.';
export const LIFTED = 'Vehicle on stands and chocked, never a jack alone; mind hot exhaust and moving parts.';
export const HIGH_SIDE = 'Direct injection: the high-pressure side is never opened; it penetrates skin.';
export const RESTRAINT = 'Restraint wiring: read by scan tool only, never probed or bridged.';
export const SWITCH = 'Reset a tripped switch only after checking for leaks.';

/** Under the vehicle, beside the tank. */
export function atTheTank({ place, pumpAt }: Site): string[] {
  return place >= 0 && place >= pumpAt - 1 ? [LIFTED, VAPOUR] : [];
}

/** With a fuel line open or a gauge on it. */
export function onTheLine({ profile }: Site): string[] {
  return [PRESSURE, VAPOUR, ...(profile.control === 'lift' ? [HIGH_SIDE] : [])];
}
