import type { Readable } from 'node:stream';
import { ConflictException, Injectable } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import pLimit from 'p-limit';
import { DataSource, IsNull, LessThan, MoreThan, type EntityManager, type FindOperator } from 'typeorm';
import type { ResultSetHeader, RowDataPacket } from 'mysql2';
import { Original, OriginalPart } from './captures.entities.js';
import { runPrepared } from '../database/prepared.js';

const PART_BYTES = 1024 * 1024;
/** An original that no link named by then belongs to a process that died. */
const STALE_MS = 3_600_000;

/** Files as they were sent, in parts of up to 1 MiB, found by the SHA-256 of their content and kept once. */
@Injectable()
export class Originals {
  constructor(@InjectDataSource() private readonly source: DataSource) {}

  /** One file at a time is on its way to the database: each holds some of its parts in memory. */
  private readonly oneByOne = pLimit(1);

  /** Writes a file down. It stays once `confirm` was called in the transaction that names it. */
  keep(sha256: string, sizeBytes: number, content: () => AsyncIterable<Buffer> | Iterable<Buffer>): Promise<void> {
    return this.oneByOne(() => this.write(sha256, sizeBytes, content));
  }

  private async write(
    sha256: string,
    sizeBytes: number,
    content: () => AsyncIterable<Buffer> | Iterable<Buffer>,
  ): Promise<void> {
    const kept = await this.source.getRepository(Original).existsBy({ sha256, pendingSince: IsNull() });
    await runPrepared<ResultSetHeader>(
      this.source,
      `INSERT INTO originals (sha256, sizeBytes, pendingSince) VALUES (?, ?, UTC_TIMESTAMP(3))
       ON DUPLICATE KEY UPDATE pendingSince = IF(pendingSince IS NULL, NULL, UTC_TIMESTAMP(3))`,
      [sha256, sizeBytes],
    );
    if (kept) return;
    let part = 0;
    for await (const data of inParts(content())) {
      await runPrepared<ResultSetHeader>(
        this.source,
        'INSERT IGNORE INTO original_parts (sha256, part, data) VALUES (?, ?, ?)',
        [sha256, part++, data],
      );
    }
  }

  async confirm(manager: EntityManager, sha256: string): Promise<void> {
    const { affected } = await manager.getRepository(Original).update({ sha256 }, { pendingSince: null });
    if (!affected) throw new ConflictException('Storing this file took too long. Nothing was kept; send it again.');
  }

  /** The file part by part; nothing where it wasn't kept. */
  async *read(sha256: string): AsyncGenerator<Buffer> {
    for (let part = 0; ; part++) {
      const rows = await runPrepared<RowDataPacket[]>(
        this.source,
        'SELECT data FROM original_parts WHERE sha256 = ? AND part = ?',
        [sha256, part],
      );
      if (rows.length === 0) return;
      yield rows[0].data as Buffer;
    }
  }

  /** Takes a file away that no link names. */
  async discard(sha256: string): Promise<void> {
    await this.takeAway(sha256, MoreThan(new Date(0)));
  }

  /** Takes away what was left by processes that died. */
  async sweep(): Promise<void> {
    const pendingSince = LessThan(new Date(Date.now() - STALE_MS));
    const stale = await this.source.getRepository(Original).findBy({ pendingSince });
    // Somebody may be sending the same file again just now: what is no longer pending that long stays.
    for (const { sha256 } of stale) await this.takeAway(sha256, pendingSince);
  }

  private async takeAway(sha256: string, pendingSince: FindOperator<Date>): Promise<void> {
    const { affected } = await this.source.getRepository(Original).delete({ sha256, pendingSince });
    if (affected) await this.source.getRepository(OriginalPart).delete({ sha256 });
  }
}

async function* inParts(content: AsyncIterable<Buffer> | Iterable<Buffer>): AsyncGenerator<Buffer> {
  let held: Buffer[] = [];
  let bytes = 0;
  for await (const piece of content as AsyncIterable<Buffer> & Readable) {
    for (let at = 0; at < piece.length;) {
      const take = Math.min(PART_BYTES - bytes, piece.length - at);
      held.push(piece.subarray(at, at + take));
      bytes += take;
      at += take;
      if (bytes < PART_BYTES) continue;
      yield Buffer.concat(held);
      held = [];
      bytes = 0;
    }
  }
  if (bytes > 0) yield Buffer.concat(held);
}
