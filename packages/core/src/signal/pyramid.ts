/**
 * A min-max pyramid: level k holds the lowest and highest of every BRANCH^k samples, interleaved (min, max).
 * Drawing from it keeps every spike at any zoom.
 */
export interface Pyramid {
  readonly length: number;
  readonly levels: readonly Float32Array[];
}

/** Samples or pairs that make one pair of the next level: small enough to zoom smoothly, large enough to cost 1/15 more. */
export const PYRAMID_BRANCH = 16;
/** Below this many pairs a further level saves nothing. */
const SMALLEST_LEVEL_PAIRS = 256;

/** Builds all levels above the samples; about 2/15 of their memory. */
export function buildPyramid(samples: Float32Array): Pyramid {
  return pyramidOf(samples.length, [samples]);
}

/**
 * The same from samples that come chunk by chunk, so that they needn't stand in memory at once.
 * @param length samples in all @param chunks each but the last a multiple of the branch long
 */
export function pyramidOf(length: number, chunks: Iterable<Float32Array>): Pyramid {
  const builder = new PyramidBuilder(length);
  for (const chunk of chunks) builder.add(chunk);
  return builder.build();
}

/** Builds the levels as chunk after chunk comes in, each but the last a multiple of the branch long. */
export class PyramidBuilder {
  private readonly first: Float32Array;
  private filled = 0;

  /** @param length samples in all */
  constructor(private readonly length: number) {
    const hasLevels = length > SMALLEST_LEVEL_PAIRS * PYRAMID_BRANCH;
    this.first = new Float32Array(hasLevels ? 2 * Math.ceil(length / PYRAMID_BRANCH) : 0);
  }

  add(chunk: Float32Array): void {
    if (this.first.length === 0) return;
    const pairs = reduce(chunk, false);
    this.first.set(pairs, this.filled);
    this.filled += pairs.length;
  }

  build(): Pyramid {
    const levels = this.first.length === 0 ? [] : [this.first];
    while (levels.length > 0 && levels[levels.length - 1].length / 2 > SMALLEST_LEVEL_PAIRS)
      levels.push(reduce(levels[levels.length - 1], true));
    return { length: this.length, levels };
  }
}

function reduce(below: Float32Array, paired: boolean): Float32Array {
  const width = paired ? 2 : 1;
  const units = below.length / width;
  const count = Math.ceil(units / PYRAMID_BRANCH);
  const out = new Float32Array(count * 2);
  for (let i = 0; i < count; i++) {
    let min = Infinity;
    let max = -Infinity;
    const end = Math.min(units, (i + 1) * PYRAMID_BRANCH);
    for (let j = i * PYRAMID_BRANCH; j < end; j++) {
      const low = below[j * width];
      const high = below[j * width + width - 1];
      if (low < min) min = low;
      if (high > max) max = high;
    }
    out[2 * i] = min;
    out[2 * i + 1] = max;
  }
  return out;
}

/**
 * Lowest and highest of samples [from, to) in each of `columns` equal parts, interleaved; NaN where a part has no number.
 * @param read gives `count` units (samples at level 0, min-max pairs above) of a level, starting at unit `at`
 */
export function minMaxWindow(
  read: (level: number, at: number, count: number) => Float32Array,
  levelCount: number,
  length: number,
  from: number,
  to: number,
  columns: number,
): Float32Array {
  const first = Math.max(0, Math.floor(from));
  const last = Math.min(length, Math.ceil(to));
  const perColumn = (last - first) / columns;
  let level = 0;
  while (level < levelCount && PYRAMID_BRANCH ** (level + 1) <= perColumn) level++;
  const scale = PYRAMID_BRANCH ** level;
  const unitFrom = Math.floor(first / scale);
  const unitTo = Math.ceil(last / scale);
  const units = read(level, unitFrom, unitTo - unitFrom);
  const width = level === 0 ? 1 : 2;
  const out = new Float32Array(columns * 2);
  for (let c = 0; c < columns; c++) {
    const a = Math.floor((first + c * perColumn) / scale) - unitFrom;
    const b = Math.max(a + 1, Math.ceil((first + (c + 1) * perColumn) / scale) - unitFrom);
    let min = Infinity;
    let max = -Infinity;
    for (let u = a; u < b && u * width < units.length; u++) {
      const low = units[u * width];
      const high = units[u * width + width - 1];
      if (low < min) min = low;
      if (high > max) max = high;
    }
    const isNumber = min <= max;
    out[2 * c] = isNumber ? min : NaN;
    out[2 * c + 1] = isNumber ? max : NaN;
  }
  return out;
}
