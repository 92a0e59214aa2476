import type { ResultSetHeader, RowDataPacket } from 'mysql2';
import type { DataSource } from 'typeorm';
import { minMaxWindow } from '@jarro/core';
import { runPrepared } from '../database/prepared.js';

/** Samples are kept in parts of at most 1 MiB: so many 32-bit floats, little endian. */
export const CHUNK_FLOATS = 262_144;
const FLOAT_BYTES = 4;

/** Level 0 holds samples, higher ones min-max pairs. */
export interface ChunkTable {
  readonly table: 'capture_chunks' | 'math_chunks';
  readonly captureId: string;
  readonly channel: number;
}

export async function writePart(
  source: DataSource,
  { table, captureId, channel }: ChunkTable,
  level: number,
  part: number,
  data: Buffer,
): Promise<void> {
  await runPrepared<ResultSetHeader>(
    source,
    `INSERT INTO ${table} (captureId, channel, level, part, data) VALUES (?, ?, ?, ?, ?)`,
    [captureId, channel, level, part, data],
  );
}

/** `count` units (samples, or pairs) of a level, beginning at unit `at`. Of each part only what is asked for leaves the database. */
export async function readUnits(
  source: DataSource,
  { table, captureId, channel }: ChunkTable,
  level: number,
  at: number,
  count: number,
): Promise<Float32Array> {
  const width = level === 0 ? 1 : 2;
  const [from, to] = [at * width, (at + count) * width];
  const floats = new Float32Array(to - from);
  const bytes = new Uint8Array(floats.buffer);
  const readPart = async (part: number) => {
    const first = Math.max(from, part * CHUNK_FLOATS);
    const last = Math.min(to, (part + 1) * CHUNK_FLOATS);
    const offset = (first - part * CHUNK_FLOATS) * FLOAT_BYTES;
    const [row] = await runPrepared<(RowDataPacket & { data: Buffer })[]>(
      source,
      `SELECT SUBSTRING(data, ?, ?) AS data FROM ${table} WHERE captureId = ? AND channel = ? AND level = ? AND part = ?`,
      [offset + 1, (last - first) * FLOAT_BYTES, captureId, channel, level, part],
    );
    // What is gone is no signal of nought volts.
    if (row?.data.length !== (last - first) * FLOAT_BYTES) {
      throw new Error(
        `Part ${part} of level ${level} of channel ${channel} of ${table} ${captureId} is gone or cut short.`,
      );
    }
    bytes.set(row.data, (first - from) * FLOAT_BYTES);
  };
  const parts: Promise<void>[] = [];
  for (let part = Math.floor(from / CHUNK_FLOATS); part * CHUNK_FLOATS < to; part++) parts.push(readPart(part));
  await Promise.all(parts);
  return floats;
}

/** Lowest and highest in each of `columns` parts of samples [from, to), interleaved. */
export async function readWindow(
  source: DataSource,
  table: ChunkTable,
  { pyramidLevels, samples }: { readonly pyramidLevels: number; readonly samples: number },
  [from, to]: readonly [number, number],
  columns: number,
): Promise<Float32Array> {
  const wanted: { level: number; at: number; count: number }[] = [];
  const plan = (level: number, at: number, count: number) => {
    wanted.push({ level, at, count });
    return new Float32Array(0);
  };
  minMaxWindow(plan, pyramidLevels, samples, from, to, columns);
  const [{ level, at, count }] = wanted;
  const units = await readUnits(source, table, level, at, count);
  return minMaxWindow(() => units, pyramidLevels, samples, from, to, columns);
}
