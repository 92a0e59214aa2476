import { createHash, randomUUID } from 'node:crypto';
import { createWriteStream } from 'node:fs';
import { mkdir, mkdtemp, readdir, rm, stat } from 'node:fs/promises';
import type { IncomingMessage } from 'node:http';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Transform, type Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { BadRequestException, Injectable, PayloadTooLargeException, type OnApplicationShutdown } from '@nestjs/common';

/** A file received whole. Disposing takes it off the disk again. */
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

const FOLDER = 'jarro-upload-';
/** A sender that sends nothing for so long has gone. */
const IDLE_LIMIT_MS = 60_000;

/** Where files stand while they are received: a folder of this process's own, gone with it. */
@Injectable()
export class Uploads implements OnApplicationShutdown {
  private folder: Promise<string> | undefined;

  async onApplicationShutdown(): Promise<void> {
    if (this.folder) await rm(await this.folder, { recursive: true, force: true });
  }

  /** A place for a file that somebody else writes; it is gone when it is disposed. */
  async place(): Promise<AsyncDisposable & { readonly path: string }> {
    this.folder ??= openFolder();
    const path = join(await this.folder, randomUUID());
    return { path, [Symbol.asyncDispose]: () => rm(path, { force: true }) };
  }

  /**
   * Streams a request body to a temporary file, counting and hashing as it goes.
   * @param advice what to do about a file over the limit
   * @throws PayloadTooLargeException over the limit, BadRequestException when the connection breaks off or stands still;
   * the file is gone then
   */
  async receive(
    body: Readable,
    promised: number | undefined,
    limitBytes: number,
    advice: string,
    idleLimitMs = IDLE_LIMIT_MS,
  ): Promise<Upload> {
    const tooLarge = () =>
      new PayloadTooLargeException(
        `This file is over the limit of ${Math.floor(limitBytes / 1024 / 1024)} MiB. ${advice}`,
      );
    if (promised !== undefined && promised > limitBytes) throw tooLarge();
    const { path, [Symbol.asyncDispose]: remove } = await this.place();
    const hash = createHash('sha256');
    const idle = new AbortController();
    const watch = setTimeout(() => idle.abort(), idleLimitMs);
    let sizeBytes = 0;
    const count = new Transform({
      transform(chunk: Buffer, _encoding, done) {
        watch.refresh();
        sizeBytes += chunk.length;
        hash.update(chunk);
        done(sizeBytes > limitBytes ? tooLarge() : null, chunk);
      },
    });
    try {
      await pipeline(body, count, createWriteStream(path, { mode: 0o600 }), { signal: idle.signal });
    } catch (error) {
      await remove();
      if (error instanceof PayloadTooLargeException) throw error;
      throw new BadRequestException('The upload broke off. Nothing was stored; send the file again.');
    } finally {
      clearTimeout(watch);
    }
    return { path, sizeBytes, sha256: hash.digest('hex'), [Symbol.asyncDispose]: () => remove() };
  }
}

async function openFolder(): Promise<string> {
  await sweep();
  await mkdir(tmpdir(), { recursive: true });
  return mkdtemp(join(tmpdir(), `${FOLDER}${process.pid}-`));
}

/** Takes away what processes left behind that were killed. */
async function sweep(): Promise<void> {
  for (const name of await readdir(tmpdir())) {
    if (!name.startsWith(FOLDER)) continue;
    const path = join(tmpdir(), name);
    const pid = Number(name.slice(FOLDER.length).split('-')[0]);
    const mine = (await stat(path).catch(() => undefined))?.uid === process.getuid?.();
    if (mine && !isAlive(pid)) await rm(path, { recursive: true, force: true });
  }
}

function isAlive(pid: number): boolean {
  try {
    return process.kill(pid, 0);
  } catch (error) {
    return (error as NodeJS.ErrnoException).code !== 'ESRCH';
  }
}
