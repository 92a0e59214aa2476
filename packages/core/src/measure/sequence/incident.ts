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

/**
 * A circuit that opens takes its current along within its time constant L/R, a millisecond or two; a rotor's inertia needs
 * tens of milliseconds (common practice, no published source).
 */
const AT_ONCE_S = 0.006;
/** A fall's time is taken between these shares of its depth. */
const FALL_FROM = 0.2;
const FALL_TO = 0.7;
const HALF = 0.5;
/** Share of its usual that is left of a current that is gone: a clamp's zero and noise. */
export const GONE_SHARE = 0.12;

/**
 * Where a fall that came at once is deep; undefined where it came by and by.
 * @param below how far a block is below the usual
 * @param stretch of the fall
 * @param most its depth
 */
export function deepAtOnce(
  below: (block: number) => number,
  { from, to }: Stretch,
  most: number,
  blockS: number,
): number | undefined {
  let deep = from;
  while (deep < to && below(deep) < FALL_TO * most) deep++;
  let shallow = deep;
  while (shallow > 0 && below(shallow) > FALL_FROM * most) shallow--;
  return deep - shallow > atOnce(blockS) ? undefined : deep;
}

/** Where what falls to nothing goes half of the way at once, though a swing may have taken some of it before; else undefined. */
export function goneAtOnce(
  below: (block: number) => number,
  { from, to }: Stretch,
  usual: number,
  blockS: number,
): number | undefined {
  const isGone = (block: number) => below(block) > (1 - GONE_SHARE) * usual;
  let gone = from;
  while (gone < to && !isGone(gone)) gone++;
  const before = Math.max(0, gone - atOnce(blockS));
  return gone < to && below(gone) - below(before) > HALF * usual ? gone : undefined;
}

const atOnce = (blockS: number) => Math.max(1, Math.round(AT_ONCE_S / blockS));
