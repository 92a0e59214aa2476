/** Opening time of a blade fuse at a multiple of its rating, s. */
export interface FuseTime {
  readonly leastS: number;
  /** Absent where the standard states none. */
  readonly mostS?: number;
}

/**
 * Opening times of blade fuses (type C, "ATO size") by per cent of the rated current: ISO 8820-3, from memory.
 * At 110 % and below it must carry for 100 h.
 */
const BLADE_TIMES: readonly (readonly [percent: number, FuseTime])[] = [
  [110, { leastS: 360_000 }],
  [135, { leastS: 0.75, mostS: 1800 }],
  [160, { leastS: 0.25, mostS: 50 }],
  [200, { leastS: 0.15, mostS: 5 }],
  [350, { leastS: 0.04, mostS: 0.5 }],
  [600, { leastS: 0.02, mostS: 0.1 }],
];

/** The standard's bounds at the nearest stated overload at or below the given one; undefined up to the rating. */
export function fuseTime(currentA: number, ratedA: number): FuseTime | undefined {
  const percent = (100 * currentA) / ratedA;
  return BLADE_TIMES.filter(([stated]) => stated <= percent).at(-1)?.[1];
}
