import type { KeyState, Reference } from '@jarro/core';

interface Habits {
  readonly state: KeyState;
  readonly reference: Reference;
}

let habits: Habits = { state: 'prime', reference: 'battery-' };

/** What stays from reading to reading: people measure down the path in one state, from one reference. */
export function habitual(): Habits {
  return habits;
}

export function remember(changes: Partial<Habits>): void {
  habits = { ...habits, ...changes };
}
