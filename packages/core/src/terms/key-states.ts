/** Position of the key and engine while something was read. A reading means nothing without it. */
export const KEY_STATES = ['off', 'prime', 'cranking', 'idle', 'loaded', 'after-off'] as const;
export type KeyState = (typeof KEY_STATES)[number];

/** States in which the pump draws its current, so that a voltage is a loaded one. */
export const LOADED_STATES: ReadonlySet<KeyState> = new Set(['prime', 'cranking', 'idle', 'loaded']);
