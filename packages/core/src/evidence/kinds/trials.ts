import type { Fault } from '../../physics/fault.js';
import { answers, type Answers, type Part, type Scene } from '../part.js';
import type { Reading } from '../reading.js';

// Shares of answers: common practice, no published source. None is zero or one: people mishear and mistype.

/** Whether it runs: bridged, fed, past its module. */
export function runsParts({ value }: Reading, scene: Scene): Part[] {
  return told(value, answers({ runs: turns(scene) }, 'dead'));
}

export function heardParts({ value }: Reading, scene: Scene): Part[] {
  return told(value, heardShares(scene));
}

export function swapParts({ value, at }: Reading, { fault }: Scene): Part[] {
  const itself = (fault.at === at && (fault.ohm ?? 0) > 0) || fault.relayOff === 'coil';
  return told(value, answers({ changed: itself ? 0.95 : 0.02 }, 'unchanged'));
}

export function disturbParts({ value, at }: Reading, { fault, vehicle }: Scene): Part[] {
  const { stations } = vehicle.profile;
  const share =
    fault.at === at
      ? fault.ohm === Infinity
        ? 0.2
        : 0.35
      : fault.relayOff && at === stations[vehicle.relayAt]?.id
        ? 0.06
        : at === stations[vehicle.pumpAt].id && wakes(fault)
          ? 0.35
          : 0.015;
  return told(value, answers({ changed: share }, 'unchanged'));
}

/** A new fuse of the right size, once: on a short it goes at once; a stalled or shorted pump takes longer than anybody waits. */
export function newFuseParts({ value }: Reading, { fault }: Scene): Part[] {
  const heavy = fault.pump?.drag === Infinity || (fault.pump?.shorted ?? 0) > 0.4;
  return told(value, answers({ blows: fault.shortBehind !== undefined ? 0.96 : heavy ? 0.2 : 0.006 }, 'holds'));
}

export function told(value: Reading['value'], shares: Answers): Part[] {
  return typeof value === 'string' ? [{ value, shares }] : [];
}

function turns({ now }: Scene): number {
  return Math.min(0.97, Math.max(0.015, (now.speed - 0.03) / 0.15));
}

export function heardShares({ now, fault }: Scene): Answers {
  if (now.speed < 0.06) return answers({ steady: 0.02, rough: 0.02 }, 'silent');
  const strained = fault.commutator || fault.pump?.drag ? 0.3 : now.speed < 0.5 ? 0.2 : 0.07;
  return answers({ silent: 0.03, rough: strained }, 'steady');
}

/** A tap moves brushes and stuck rotors. */
export function wakes({ commutator, pump }: Fault): boolean {
  return commutator !== undefined || pump?.drag === Infinity || pump?.addedOhm === Infinity;
}

export function wakesShare(fault: Fault): number {
  if (fault.commutator === 'dead-spot') return 0.8;
  return fault.pump?.drag === Infinity ? 0.25 : fault.pump?.addedOhm === Infinity ? 0.2 : wakes(fault) ? 0.35 : 0.015;
}
