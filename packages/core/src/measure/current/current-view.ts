/**
 * A current as it is followed: what would drown its humps is taken off a part at a time, since beside a long record and its
 * working signal there is no room for another. A.
 */
export interface CurrentView {
  readonly length: number;
  /** @returns samples [from, to), not to be changed: they may be the current's own */
  readonly read: (from: number, to: number) => Float32Array;
}

/** A current as it is. */
export function asItIs(current: Float32Array): CurrentView {
  return { length: current.length, read: (from, to) => current.subarray(from, to) };
}

/** A current whose outermost values are cut off. */
export function between(current: Float32Array, floor: number, ceiling: number): CurrentView {
  return {
    length: current.length,
    read: (from, to) => {
      const part = current.slice(from, to);
      for (let i = 0; i < part.length; i++) {
        if (part[i] < floor) part[i] = floor;
        else if (part[i] > ceiling) part[i] = ceiling;
      }
      return part;
    },
  };
}
