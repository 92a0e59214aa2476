import type { MathItem } from '@jarro/api-types';
import {
  checkMath,
  InputError,
  mathOperand,
  mathReach,
  mathSamples,
  PyramidBuilder,
  type MathChannel,
} from '@jarro/core';
import { ConflictException, Injectable, NotFoundException } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { DataSource, In, IsNull, LessThan } from 'typeorm';
import type { SignedIn } from '../auth/signed-in.js';
import { codeOf } from '../database/retry.js';
import type { CaptureRecord } from './captures.entities.js';
import { CapturesService, rangeOf } from './captures.service.js';
import type { MathDto, StretchDto } from './captures.dto.js';
import { CHUNK_FLOATS, readUnits, readWindow, writePart, type ChunkTable } from './chunks.js';
import { MathRecord } from './math.entities.js';

/** As many as leave room for a record's own lanes. */
const MOST = 4;
/** One whose samples haven't come by then belongs to a process that died. */
const STALE_MS = 3_600_000;

/** Channels worked out of a capture's own, kept with levels of their own so that they are drawn as quickly. */
@Injectable()
export class MathService {
  constructor(
    @InjectDataSource() private readonly source: DataSource,
    private readonly captures: CapturesService,
  ) {}

  /**
   * Works one out, part by part, and keeps it.
   * @param gone nobody waits for it any more: nothing of it is kept
   * @throws InputError for what can't be worked out, or beyond four; ConflictException when somebody makes one at this moment
   */
  async add(me: SignedIn, captureId: string, { kind, of, with: second, cutoffHz }: MathDto, gone: AbortSignal) {
    const capture = await this.captures.record(me, captureId);
    const math: MathChannel = {
      ...{ kind, of },
      ...(kind !== 'low-pass' && second !== undefined && { with: second }),
      ...(kind === 'low-pass' && cutoffHz !== undefined && { cutoffHz }),
    };
    checkMath(math, capture.channels, capture.sampleRateHz);
    const record = await this.begin(captureId, math);
    try {
      await this.workOut(capture, math, { table: 'math_chunks', captureId, channel: record.channel }, gone);
    } catch (error) {
      await this.drop(record);
      throw error;
    }
    const { channel } = record;
    await this.source.getRepository(MathRecord).update({ captureId, channel }, { pendingSince: null });
    return itemOf(record, capture);
  }

  async remove(me: SignedIn, captureId: string, channel: number): Promise<void> {
    await this.captures.record(me, captureId);
    await this.drop({ captureId, channel });
  }

  async window(me: SignedIn, captureId: string, channel: number, { from, to, columns }: StretchDto) {
    const capture = await this.captures.record(me, captureId);
    if (!(await this.source.getRepository(MathRecord).existsBy({ captureId, channel, pendingSince: IsNull() }))) {
      throw new NotFoundException('This math channel is not there any more.');
    }
    const table: ChunkTable = { table: 'math_chunks', captureId, channel };
    return readWindow(this.source, table, capture, rangeOf(capture, from, to), columns);
  }

  /** Takes away what was left by processes that died. */
  async sweep(): Promise<void> {
    await this.source.getRepository(MathRecord).delete({ pendingSince: LessThan(new Date(Date.now() - STALE_MS)) });
  }

  private async begin(captureId: string, { kind, of, with: second, cutoffHz }: MathChannel): Promise<MathRecord> {
    const records = this.source.getRepository(MathRecord);
    const taken = new Set((await records.findBy({ captureId })).map(({ channel }) => channel));
    const channel = Array.from({ length: MOST }, (_, i) => i).find((place) => !taken.has(place));
    if (channel === undefined) {
      throw new InputError(`A capture bears ${MOST} math channels. Take one away first.`);
    }
    const definition = { kind, ofChannel: of, withChannel: second ?? null, cutoffHz: cutoffHz ?? null };
    const record = records.create({ captureId, channel, ...definition, pendingSince: new Date() });
    try {
      await records.insert(record);
    } catch (error) {
      if (codeOf(error) !== 'ER_DUP_ENTRY') throw error;
      throw new ConflictException('Somebody is making a math channel of this capture. Try again in a moment.');
    }
    return record;
  }

  private async drop({ captureId, channel }: Pick<MathRecord, 'captureId' | 'channel'>): Promise<void> {
    await this.source.getRepository(MathRecord).delete({ captureId, channel });
  }

  /** No more than a few parts stand in memory at once, and the event loop has none of them for more than milliseconds. */
  private async workOut(
    capture: CaptureRecord,
    math: MathChannel,
    table: ChunkTable,
    gone: AbortSignal,
  ): Promise<void> {
    const { id: captureId, samples, sampleRateHz } = capture;
    const reach = mathReach(math, sampleRateHz);
    const read = (channel: number, from: number, to: number) =>
      readUnits(this.source, { table: 'capture_chunks', captureId, channel }, 0, from, to - from);
    const second = math.with;
    const mostOfSecond = second === undefined ? 0 : await this.most(capture, second);
    const levels = new PyramidBuilder(samples);
    for (let from = 0; from < samples; from += CHUNK_FLOATS) {
      gone.throwIfAborted();
      const count = Math.min(CHUNK_FLOATS, samples - from);
      const [first, last] = [Math.max(0, from - reach), Math.min(samples, from + count + reach)];
      const part = mathSamples(math, sampleRateHz, {
        of: await read(math.of, first, last),
        ...(second !== undefined && { with: await read(second, first, last) }),
        ...{ before: from - first, count, mostOfSecond },
      });
      levels.add(part);
      await writePart(this.source, table, 0, from / CHUNK_FLOATS, bytesOf(part));
    }
    for (const [i, level] of levels.build().levels.entries()) {
      for (let from = 0; from < level.length; from += CHUNK_FLOATS) {
        await writePart(
          this.source,
          table,
          i + 1,
          from / CHUNK_FLOATS,
          bytesOf(level.subarray(from, from + CHUNK_FLOATS)),
        );
      }
    }
  }

  /** The largest magnitude that a channel reaches. */
  private async most(capture: CaptureRecord, channel: number): Promise<number> {
    const table: ChunkTable = { table: 'capture_chunks', captureId: capture.id, channel };
    const [low, high] = await readWindow(this.source, table, capture, [0, capture.samples], 1);
    return Math.max(Math.abs(low), Math.abs(high));
  }
}

/** What is there for each of some captures. */
export async function mathOf(
  source: DataSource,
  captures: readonly CaptureRecord[],
): Promise<ReadonlyMap<string, readonly MathItem[]>> {
  const records = await source.getRepository(MathRecord).find({
    where: { captureId: In(captures.map(({ id }) => id)), pendingSince: IsNull() },
    order: { channel: 'ASC' },
  });
  return new Map(
    captures.map((capture) => [
      capture.id,
      records.filter(({ captureId }) => captureId === capture.id).map((record) => itemOf(record, capture)),
    ]),
  );
}

function itemOf(
  { channel, kind, ofChannel, withChannel, cutoffHz }: MathRecord,
  { channels }: Pick<CaptureRecord, 'channels'>,
): MathItem {
  const math: MathChannel = {
    ...{ kind, of: ofChannel },
    ...(withChannel !== null && { with: withChannel }),
    ...(cutoffHz !== null && { cutoffHz }),
  };
  return { channel, ...math, ...mathOperand(math, channels) };
}

function bytesOf({ buffer, byteOffset, byteLength }: Float32Array): Buffer {
  return Buffer.from(buffer, byteOffset, byteLength);
}
