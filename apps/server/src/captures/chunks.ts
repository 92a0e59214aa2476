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

/** `count` units (samples, or pairs) of a level, beginning at unit `at`. Reads only the parts that it needs. */
export async function readUnits(
  source: DataSource,
  { table, captureId, channel }: ChunkTable,
  level: number,
  at: number,
  count: number,
): Promise<Float32Array> {
  const width = level === 0 ? 1 : 2;
  const from = at * width;
  const to = (at + count) * width;
  const firstPart = Math.floor(from / CHUNK_FLOATS);
  const lastPart = Math.max(firstPart, Math.ceil(to / CHUNK_FLOATS) - 1);
  const rows = await runPrepared<(RowDataPacket & { data: Buffer })[]>(
    source,
    `SELECT data FROM ${table} WHERE captureId = ? AND channel = ? AND level = ? AND part BETWEEN ? AND ? ORDER BY part`,
    [captureId, channel, level, firstPart, lastPart],
  );
  const bytes = rows.length === 1 ? rows[0].data : Buffer.concat(rows.map(({ data }) => data));
  const floats = new Float32Array(bytes.byteLength / FLOAT_BYTES);
  new Uint8Array(floats.buffer).set(bytes);
  return floats.subarray(from - firstPart * CHUNK_FLOATS, to - firstPart * CHUNK_FLOATS);
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
