import type { Edges } from './edges.js';

/** A switched line as its edges tell it: when it was high, and for how long. All positions in samples. */
export class SwitchedLine {
  readonly rises: Float64Array;
  readonly falls: Float64Array;
  /** High time before each edge of `at`. */
  private readonly highBefore: Float64Array;

  constructor(
    private readonly edges: Edges,
    readonly length: number,
  ) {
    const { at, firstRises } = edges;
    const half = at.length / 2;
    this.rises = new Float64Array(firstRises ? Math.ceil(half) : Math.floor(half));
    this.falls = new Float64Array(at.length - this.rises.length);
    this.highBefore = new Float64Array(at.length);
    let high = 0;
    for (let i = 0; i < at.length; i++) {
      const rises = firstRises === (i % 2 === 0);
      if (!rises) high += at[i] - (i > 0 ? at[i - 1] : 0);
      this.highBefore[i] = high;
      (rises ? this.rises : this.falls)[i >> 1] = at[i];
    }
  }

  /** How long the line was high before a position. */
  highUntil(position: number): number {
    const { at } = this.edges;
    const next = firstAbove(at, position);
    if (next === 0) return this.edges.firstRises ? 0 : position;
    return this.highBefore[next - 1] + (this.risesAt(next - 1) ? position - at[next - 1] : 0);
  }

  /** Share of the time between two positions that it was high, per cent. */
  dutyPercent(from: number, to: number): number {
    return (100 * (this.highUntil(to) - this.highUntil(from))) / (to - from);
  }

  /** Edges between two positions, of either direction. */
  edgesBetween(from: number, to: number): number {
    return firstAbove(this.edges.at, to) - firstAbove(this.edges.at, from);
  }

  /** The first edge after a position, or the record's end. */
  nextEdge(position: number): number {
    const { at } = this.edges;
    const next = firstAbove(at, position);
    return next < at.length ? at[next] : this.length;
  }

  private risesAt(edge: number): boolean {
    return this.edges.firstRises === (edge % 2 === 0);
  }
}

/** Index of the first value above a limit in ascending ones; their number when there is none. */
export function firstAbove(ascending: Float64Array, limit: number): number {
  let low = 0;
  let high = ascending.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (ascending[middle] <= limit) low = middle + 1;
    else high = middle;
  }
  return low;
}
