/** What let go: the supply's side of the pump's terminals, or the pump's. */
export type Side = 'upstream' | 'load' | 'undetermined';

/** One time that something fell out of its usual course. Positions in blocks. */
export interface Incident {
  readonly start: number;
  /** Absent when the record ends first. */
  readonly end?: number;
  readonly seenIn: 'supply' | 'current' | 'pressure';
  /** At once, as electricity goes, or by and by, as fuel and rotors do. */
  readonly isSharp: boolean;
  /** Of a current or a pressure: more than usual. */
  readonly rose: boolean;
}

/** Blocks from and up to. */
export interface Stretch {
  readonly from: number;
  readonly to: number;
}

/** When a stretch begins and when it goes on, which may take less: what hovers about one limit would begin again and again. */
export interface Holds {
  readonly begins: (block: number) => boolean;
  readonly goesOn: (block: number) => boolean;
}

/** Stretches of [from, to) in which something holds, those that lie closer than `join` blocks as one. */
export function stretchesWhere(
  { from, to }: Stretch,
  { begins, goesOn }: Holds,
  { join, least }: { readonly join: number; readonly least: number },
): Stretch[] {
  const found: { from: number; to: number }[] = [];
  let since = -1;
  for (let block = from; block <= to; block++) {
    const here = block < to && (since < 0 ? begins(block) : goesOn(block));
    if (here && since < 0) since = block;
    if (here || since < 0) continue;
    const last = found.at(-1);
    if (last && since - last.to < join) last.to = block;
    else found.push({ from: since, to: block });
    since = -1;
  }
  return found.filter((stretch) => stretch.to - stretch.from >= least);
}

/** Where values cross half the way between their levels before and after, near a block; fractional. */
export function edgeNear(values: Float64Array, block: number, reach: number, { from, to }: Stretch): number {
  const first = Math.max(from, block - reach);
  const last = Math.min(to - 1, block + reach);
  const before = values[first];
  const after = values[last];
  const half = (before + after) / 2;
  for (let i = first + 1; i <= last; i++) {
    if (values[i - 1] < half === values[i] < half) continue;
    return i - 1 + (half - values[i - 1]) / (values[i] - values[i - 1]) + 0.5;
  }
  return block;
}
