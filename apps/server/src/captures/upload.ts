import { createHash } from 'node:crypto';
import { createWriteStream } from 'node:fs';
import { mkdtemp, rm } from 'node:fs/promises';
import type { IncomingMessage } from 'node:http';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Transform, type Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { BadRequestException, PayloadTooLargeException } from '@nestjs/common';

/** A file received whole. `remove` takes it off the disk again. */
export interface Upload extends AsyncDisposable {
  readonly path: string;
  readonly sizeBytes: number;
  readonly sha256: string;
}

/** What the sender says it will send, bytes. */
export function promisedBytes({ headers }: IncomingMessage): number | undefined {
  const promised = Number(headers['content-length']);
  return Number.isFinite(promised) ? promised : undefined;
}

/**
 * Streams a request body to a temporary file, counting and hashing as it goes.
 * @param advice what to do about a file over the limit
 * @throws PayloadTooLargeException over the limit, BadRequestException when the connection breaks off; the file is gone then
 */
export async function receive(
  body: Readable,
  promised: number | undefined,
  limitBytes: number,
  advice: string,
): Promise<Upload> {
  const tooLarge = () =>
    new PayloadTooLargeException(
      `This file is over the limit of ${Math.floor(limitBytes / 1024 / 1024)} MiB. ${advice}`,
    );
  if (promised !== undefined && promised > limitBytes) throw tooLarge();
  const folder = await mkdtemp(join(tmpdir(), 'jarro-'));
  const path = join(folder, 'upload');
  const remove = () => rm(folder, { recursive: true, force: true });
  const hash = createHash('sha256');
  let sizeBytes = 0;
  const count = new Transform({
    transform(chunk: Buffer, _encoding, done) {
      sizeBytes += chunk.length;
      hash.update(chunk);
      done(sizeBytes > limitBytes ? tooLarge() : null, chunk);
    },
  });
  try {
    await pipeline(body, count, createWriteStream(path));
  } catch (error) {
    await remove();
    if (error instanceof PayloadTooLargeException) throw error;
    throw new BadRequestException('The upload broke off. Nothing was stored; send the file again.');
  }
  return { path, sizeBytes, sha256: hash.digest('hex'), [Symbol.asyncDispose]: remove };
}
