/** A pressure watched after shut-down. */
export interface HoldRecord {
  /** Seconds since the first point, and gauge pressure, Pa. */
  readonly points: readonly (readonly [number, number])[];
  readonly blocked: HoldBlock;
}
/** Which line was blocked while the pressure was watched. */
export const HOLD_BLOCKS = ['none', 'supply', 'return'] as const;
export type HoldBlock = (typeof HOLD_BLOCKS)[number];
