import type { Fault } from '../physics/fault.js';
import { answers, type Answers, type Part, type Scene } from './part.js';
import type { Reading } from './reading.js';

// Shares of answers: common practice, no published source. None is zero or one: people mishear and mistype.

/** An answer with the share of each; nothing where none of the words was said. */
export function told(value: Reading['value'], shares: Answers): Part[] {
  return typeof value === 'string' ? [{ value, shares }] : [];
}

/** Whether the pump turns: bridged, fed, past its module. */
export function runsShares({ now }: Scene): Answers {
  return answers({ runs: Math.min(0.97, Math.max(0.015, (now.speed - 0.03) / 0.15)) }, 'dead');
}

/** What one hears of a pump that turns at a share of its speed. */
export function heardShares(speed: number, strained: boolean): Answers {
  if (speed < 0.06) return answers({ steady: 0.02, rough: 0.02 }, 'silent');
  return answers({ silent: 0.03, rough: strained ? 0.3 : speed < 0.5 ? 0.2 : 0.07 }, 'steady');
}

export function isStrained({ commutator, pump }: Fault): boolean {
  return commutator !== undefined || (pump?.drag ?? 0) > 0;
}

/** A tap moves brushes and stuck rotors. */
export function wakes({ commutator, pump }: Fault): boolean {
  return commutator !== undefined || pump?.drag === Infinity || pump?.addedOhm === Infinity;
}
