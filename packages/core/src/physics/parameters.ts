import type { KeyState } from '../terms/key-states.js';

/** An output duty that the control unit was seen to wish. */
export interface Wish {
  /** 0 to 1, through the profile's table. */
  readonly duty: number;
  /** Read at the module's pin: a bad command line has taken its share of it already. */
  readonly atPin?: boolean;
  /** A controller that gives this to hold its pressure, and not whatever comes of it. */
  readonly holds?: boolean;
}

/**
 * What a sound vehicle is made of, as far as a profile leaves it open. Each has a usual value and a spread: vehicles of one
 * kind differ, and the laws used here are simple ones.
 */
export interface Parameters {
  /** At the posts while the path draws its current, V. */
  readonly batteryV: number;
  /** Each station, ohm. */
  readonly ohm: Float64Array;
  /** Motor's winding with sound brushes, ohm. */
  readonly windingOhm: number;
  /** Volts a speed of 1 (the rated one) induces. */
  readonly inducedV: number;
  /** Current that makes the rated torque, A. */
  readonly ratedA: number;
  /** Of the rated torque, what follows the speed (churned fuel), and what is plain friction; the rest lifts pressure. */
  readonly churning: number;
  readonly friction: number;
  /** Of the rated flow, what slips back inside at rated pressure. */
  readonly slip: number;
  /** Of the rated flow, what the engine takes. */
  readonly demand: number;
  /** Filter's loss at rated flow as a share of the rated pressure. */
  readonly filter: number;
  /** Held pressure as a share of the rated one. */
  readonly setShare: number;
  /** Taken off the held pressure by the manifold's vacuum, share of the rated pressure. */
  readonly vacuum: number;
  /** What the control unit wishes; undefined: as much as holds the pressure, a little more or less. */
  readonly wish: Wish | undefined;
  readonly wishShift: number;
  /** What the hand gauge shows of a pressure, as a share. */
  readonly gauge: number;
  /** Into a measuring jar at rated speed, m3/s. */
  readonly freeFlow: number;
}

/** One of the things that differ: how a step of so many spreads changes the parameters. */
export interface Spread {
  readonly name: string;
  /** Only in that key state. */
  readonly keyState?: KeyState;
  /** Of a station's own resistance: which, and by what factor. */
  readonly station?: { readonly at: number; readonly factor: number };
  /** Of the pump and what it stands in: it shows only where a pump turns. */
  readonly turning?: boolean;
  readonly step: (p: Parameters, spreads: number) => Parameters;
}

/** Usual battery voltage by key state, and how far a sound one may be from it (common practice, no published source). */
export const BATTERY: Readonly<Record<KeyState, { readonly volts: number; readonly spread: number }>> = {
  off: { volts: 12.6, spread: 0.12 },
  prime: { volts: 12.4, spread: 0.25 },
  cranking: { volts: 10.8, spread: 0.7 },
  idle: { volts: 14.1, spread: 0.3 },
  loaded: { volts: 14.1, spread: 0.35 },
  'after-off': { volts: 12.7, spread: 0.25 },
};

/**
 * Of the rated torque, plain friction and what follows the speed; the rest lifts pressure. Common practice, no published
 * source; what a profile's windows say corrects them.
 */
export const FRICTION = 0.2;
export const CHURNING = 0.3;
