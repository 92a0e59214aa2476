import { closeSync, openSync, writeSync } from 'node:fs';
import { open } from 'node:fs/promises';
import { chunksOf, type SampleSource } from '@jarro/core';

const FLOAT_BYTES = 4;

/** Samples and min-max levels of a record on their way to the database: 32-bit floats, little endian. */
export interface Levels {
  /** Floats by channel, then level: level 0 holds the scaled samples. */
  readonly lengths: readonly (readonly number[])[];
  /** Floats [from, to) of one level. */
  readonly read: (channel: number, level: number, from: number, to: number) => Promise<Buffer>;
}

/** One channel's scaled samples, and the levels above them. */
export interface ChannelLevels {
  readonly source: SampleSource;
  readonly above: readonly Float32Array[];
}

export function levelsInMemory(channels: readonly ChannelLevels[]): Levels {
  const floatsOf = ({ source, above }: ChannelLevels, level: number, from: number, to: number) =>
    level === 0 ? source.read(from, to) : above[level - 1].subarray(from, to);
  return {
    lengths: lengthsOf(channels),
    read: (channel, level, from, to) => Promise.resolve(bytesOf(floatsOf(channels[channel], level, from, to))),
  };
}

/**
 * Writes them one after another, samples chunk by chunk, so that neither a thread need hand a whole record over nor a scaled
 * one stand in memory beside the one that was read.
 * @returns floats by channel, then level
 */
export function writeLevels(path: string, channels: readonly ChannelLevels[]): number[][] {
  const file = openSync(path, 'w', 0o600);
  try {
    for (const { source, above } of channels) {
      for (const chunk of chunksOf(source)) writeAll(file, bytesOf(chunk));
      for (const level of above) writeAll(file, bytesOf(level));
    }
  } finally {
    closeSync(file);
  }
  return lengthsOf(channels);
}

function writeAll(file: number, bytes: Buffer): void {
  for (let at = 0; at < bytes.length;) at += writeSync(file, bytes, at);
}

/** What `writeLevels` wrote, read part by part. */
export async function levelsInFile(
  path: string,
  lengths: readonly (readonly number[])[],
): Promise<Levels & AsyncDisposable> {
  const file = await open(path, 'r');
  const beginOf = (channel: number, level: number) =>
    [...lengths.slice(0, channel).flat(), ...lengths[channel].slice(0, level)].reduce((sum, floats) => sum + floats, 0);
  return {
    lengths,
    async read(channel, level, from, to) {
      const bytes = Buffer.alloc((to - from) * FLOAT_BYTES);
      const position = (beginOf(channel, level) + from) * FLOAT_BYTES;
      const { bytesRead } = await file.read(bytes, 0, bytes.length, position);
      if (bytesRead !== bytes.length) throw new Error(`${path} ends before its levels do.`);
      return bytes;
    },
    [Symbol.asyncDispose]: () => file.close(),
  };
}

function lengthsOf(channels: readonly ChannelLevels[]): number[][] {
  return channels.map(({ source, above }) => [source.length, ...above.map(({ length }) => length)]);
}

function bytesOf({ buffer, byteOffset, byteLength }: Float32Array): Buffer {
  return Buffer.from(buffer, byteOffset, byteLength);
}
