import { Injectable } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { DataSource, IsNull, LessThan, Not } from 'typeorm';
import type { RowDataPacket } from 'mysql2';
import { CaptureChunk, CaptureRecord } from './captures.entities.js';
import { CHUNK_FLOATS, readWindow, writePart } from './chunks.js';
import { runPrepared } from '../database/prepared.js';
import { ContentHash, type CaptureFacts } from './content-hash.js';
import type { Levels } from './levels.js';

/** A capture whose link hasn't come by then belongs to a process that died. */
const STALE_MS = 3_600_000;

/** Samples and their min-max levels in the database, in parts of at most 1 MiB. */
@Injectable()
export class CaptureStore {
  constructor(@InjectDataSource() private readonly source: DataSource) {}

  /**
   * Part by part, each kept by itself: long writes must not stand inside a transaction that others wait for.
   * @returns the hash of all that was written
   */
  async write(
    captureId: string,
    facts: CaptureFacts,
    levels: Levels,
    onShare: (share: number) => Promise<void>,
  ): Promise<string> {
    const hash = new ContentHash(facts);
    const total = levels.lengths.flat().reduce((sum, floats) => sum + floats, 0);
    let written = 0;
    for (const [channel, ofChannel] of levels.lengths.entries()) {
      for (const [level, floats] of ofChannel.entries()) {
        for (let part = 0; part * CHUNK_FLOATS < floats; part++) {
          const from = part * CHUNK_FLOATS;
          const to = Math.min(floats, from + CHUNK_FLOATS);
          const data = await levels.read(channel, level, from, to);
          hash.add(channel, level, part, data);
          await writePart(this.source, { table: 'capture_chunks', captureId, channel }, level, part, data);
          written += to - from;
          await onShare(written / total);
        }
      }
    }
    return hash.digest();
  }

  /** The hash of a capture as it is stored now. */
  async contentHash(record: CaptureRecord): Promise<string> {
    const hash = new ContentHash(record);
    const places = await this.source.query<{ channel: number; level: number; part: number }[]>(
      'SELECT channel, level, part FROM capture_chunks WHERE captureId = ? ORDER BY channel, level, part',
      [record.id],
    );
    for (const { channel, level, part } of places) {
      const [{ data }] = await runPrepared<RowDataPacket[]>(
        this.source,
        'SELECT data FROM capture_chunks WHERE captureId = ? AND channel = ? AND level = ? AND part = ?',
        [record.id, channel, level, part],
      );
      hash.add(channel, level, part, data as Buffer);
    }
    return hash.digest();
  }

  /** Takes a capture away that never got its link; one that has it stays. */
  async discard(captureId: string): Promise<void> {
    const captures = this.source.getRepository(CaptureRecord);
    if (!(await captures.existsBy({ id: captureId, pendingSince: Not(IsNull()) }))) return;
    await this.source.getRepository(CaptureChunk).delete({ captureId });
    await captures.delete({ id: captureId, pendingSince: Not(IsNull()) });
  }

  /** Takes away what was left by processes that died. */
  async sweep(): Promise<void> {
    const stale = await this.source
      .getRepository(CaptureRecord)
      .find({ where: { pendingSince: LessThan(new Date(Date.now() - STALE_MS)) }, select: { id: true } });
    for (const { id } of stale) await this.discard(id);
  }

  /** Lowest and highest in each of `columns` parts of samples [from, to), interleaved. Reads only the parts it needs. */
  window(record: CaptureRecord, channel: number, range: readonly [number, number], columns: number) {
    return readWindow(this.source, { table: 'capture_chunks', captureId: record.id, channel }, record, range, columns);
  }
}
