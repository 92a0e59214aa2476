import { InputError } from '../errors.js';
import { buildPyramid, minMaxWindow, PYRAMID_BRANCH, type Pyramid } from '../signal/pyramid.js';

/** One signal as a source of samples: a file's, a stored capture's, or one that is still being taken. */
export interface SampleSource {
  /** Samples so far. */
  readonly length: number;
  /** No more samples will come. */
  readonly isComplete: boolean;
  /** Samples [from, to), clipped to what there is. May be a view: don't write to it. */
  read(from: number, to: number): Float32Array;
  /** The same into a given array, for sources that work their samples out. @returns the part of it that was filled */
  readInto?(out: Float32Array, from: number, to: number): Float32Array;
  /** Lowest and highest of samples [from, to) in each of `columns` equal parts, interleaved. */
  minMax(from: number, to: number, columns: number): Float32Array;
}

/** Read at a time by whatever needs no more than a pass. */
export const CHUNK_SAMPLES = 1 << 16;

/** The samples of a source, chunk by chunk; each holds until the next is asked for. */
export function* chunksOf(source: SampleSource): Generator<Float32Array> {
  const scratch = source.readInto && new Float32Array(CHUNK_SAMPLES);
  for (let from = 0; from < source.length; from += CHUNK_SAMPLES) {
    const to = from + CHUNK_SAMPLES;
    yield (scratch && source.readInto?.(scratch, from, to)) ?? source.read(from, to);
  }
}

/**
 * All samples in one array, for what needs the whole signal.
 * @throws InputError while the signal is still being taken
 */
export function wholeOf(source: SampleSource): Float32Array {
  if (!source.isComplete) {
    throw new InputError('This needs the whole record, which is still being taken. Stop the recording first.');
  }
  return source.read(0, source.length);
}

/** Samples that are all in memory; their levels are built when first asked for. */
export class ArraySource implements SampleSource {
  readonly isComplete = true;
  private pyramid?: Pyramid;

  constructor(private readonly samples: Float32Array) {}

  get length(): number {
    return this.samples.length;
  }

  read(from: number, to: number): Float32Array {
    return this.samples.subarray(from, to);
  }

  minMax(from: number, to: number, columns: number): Float32Array {
    const { levels } = (this.pyramid ??= buildPyramid(this.samples));
    const unitsOf = (level: number, at: number, count: number) =>
      level === 0 ? this.read(at, at + count) : levels[level - 1].subarray(2 * at, 2 * (at + count));
    return minMaxWindow(unitsOf, levels.length, this.length, from, to, columns);
  }
}

/** Samples that arrive while they are read. Each block's lowest and highest are kept beside, so that hours can be drawn. */
export class GrowingSource implements SampleSource {
  length = 0;
  isComplete = false;
  private readonly chunks: Float32Array[] = [];
  private readonly pairs: number[] = [];

  push(samples: Float32Array): void {
    if (this.isComplete) throw new Error('The record has ended.');
    for (let at = 0; at < samples.length;) {
      const filled = this.length % CHUNK_SAMPLES;
      if (filled === 0) this.chunks.push(new Float32Array(CHUNK_SAMPLES));
      const part = samples.subarray(at, at + CHUNK_SAMPLES - filled);
      this.chunks[this.chunks.length - 1].set(part, filled);
      this.length += part.length;
      at += part.length;
    }
    const blocks = Math.floor(this.length / BLOCK);
    for (let block = this.pairs.length / 2; block < blocks; block++) {
      this.pairs.push(...extremes(this.read(block * BLOCK, (block + 1) * BLOCK)));
    }
  }

  end(): void {
    this.isComplete = true;
  }

  read(from: number, to: number): Float32Array {
    const first = Math.max(0, from);
    const last = Math.min(this.length, to);
    const chunk = Math.floor(first / CHUNK_SAMPLES);
    const within = first - chunk * CHUNK_SAMPLES;
    if (last <= (chunk + 1) * CHUNK_SAMPLES)
      return (this.chunks[chunk] ?? EMPTY).subarray(within, within + last - first);
    const out = new Float32Array(last - first);
    for (let at = first; at < last;) {
      const part = this.read(at, Math.min(last, (Math.floor(at / CHUNK_SAMPLES) + 1) * CHUNK_SAMPLES));
      out.set(part, at - first);
      at += part.length;
    }
    return out;
  }

  minMax(from: number, to: number, columns: number): Float32Array {
    const blocks = this.pairs.length / 2;
    const unitsOf = (level: number, at: number, count: number) => {
      if (level === 0) return this.read(at, at + count);
      const units = this.pairs.slice(2 * at, 2 * Math.min(blocks, at + count));
      // The last block is still being filled.
      if (at + count > blocks && this.length > blocks * BLOCK) {
        units.push(...extremes(this.read(blocks * BLOCK, this.length)));
      }
      return Float32Array.from(units);
    };
    return minMaxWindow(unitsOf, this.pairs.length > 0 ? 1 : 0, this.length, from, to, columns);
  }
}

const BLOCK = PYRAMID_BRANCH;
const EMPTY = new Float32Array(0);

function extremes(samples: Float32Array): [number, number] {
  let [low, high] = [samples[0], samples[0]];
  for (const value of samples) {
    if (value < low) low = value;
    else if (value > high) high = value;
  }
  return [low, high];
}

/** A source whose numbers are read as (sample - zero) * gain. @param refuse makes the error of a sample that gets too large */
export class ScaledSource implements SampleSource {
  constructor(
    private readonly raw: SampleSource,
    private readonly zero: number,
    private readonly gain: number,
    private readonly refuse: () => InputError,
  ) {}

  get length(): number {
    return this.raw.length;
  }

  get isComplete(): boolean {
    return this.raw.isComplete;
  }

  read(from: number, to: number): Float32Array {
    return this.scaled(this.raw.read(from, to));
  }

  readInto(out: Float32Array, from: number, to: number): Float32Array {
    return this.scaled(this.raw.read(from, to), out);
  }

  private scaled(raw: Float32Array, into: Float32Array = new Float32Array(raw.length)): Float32Array {
    const out = into.subarray(0, raw.length);
    let beyond = 0;
    for (let i = 0; i < out.length; i++) {
      out[i] = (raw[i] - this.zero) * this.gain;
      if (!Number.isFinite(out[i])) beyond++;
    }
    if (beyond > 0) throw this.refuse();
    return out;
  }

  minMax(from: number, to: number, columns: number): Float32Array {
    const pairs = this.raw.minMax(from, to, columns).map((value) => (value - this.zero) * this.gain);
    if (this.gain >= 0) return pairs;
    for (let i = 0; i < pairs.length; i += 2) [pairs[i], pairs[i + 1]] = [pairs[i + 1], pairs[i]];
    return pairs;
  }
}
