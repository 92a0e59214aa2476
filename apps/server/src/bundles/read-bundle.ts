import { createHash } from 'node:crypto';
import type { Readable } from 'node:stream';
import { buffer } from 'node:stream/consumers';
import yauzl, { type Entry, type ZipFile } from 'yauzl';
import { BundleError, isKnownPlace, MANIFEST } from './bundle.js';

/** A case has some thousands of parts at most; a zip with more is none. */
const MOST_ENTRIES = 50_000;
/** A part of a capture, a photo or an original as it is stored. */
const PART_BYTES = 1024 * 1024;
const MOST_MANIFEST_BYTES = 128 * 1024 * 1024;

/** A zip whose names and sizes were all checked before anything of it is unpacked. Closing it is the caller's. */
export class BundleZip implements Disposable {
  private constructor(
    private readonly zip: ZipFile,
    private readonly entries: ReadonlyMap<string, Entry>,
  ) {}

  /**
   * @param limitBytes of all that it unpacks to
   * @throws BundleError for a file that is no zip, names that a bundle hasn't, or more than the limit
   */
  static async open(path: string, limitBytes: number): Promise<BundleZip> {
    // Entries whose name leaves the zip's own folder, or that are longer than they say, are refused by the reader itself.
    const zip = await yauzl
      .openPromise(path, { strictFileNames: true, validateEntrySizes: true, lazyEntries: true, autoClose: false })
      .catch((error: unknown) => {
        throw new BundleError(`it is no zip, or a broken one (${messageOf(error)}).`);
      });
    try {
      return new BundleZip(zip, await listed(zip, limitBytes));
    } catch (error) {
      zip.close();
      throw error;
    }
  }

  [Symbol.dispose](): void {
    this.zip.close();
  }

  get names(): readonly string[] {
    return [...this.entries.keys()];
  }

  has(name: string): boolean {
    return this.entries.has(name);
  }

  async stream(name: string): Promise<Readable> {
    const entry = this.entries.get(name);
    if (!entry) throw new BundleError(`${name} is missing.`);
    return this.zip.openReadStreamPromise(entry);
  }

  bytes(name: string): Promise<Buffer> {
    return this.unpacked(name, buffer);
  }

  /** SHA-256 of one entry, and its length. */
  digest(name: string): Promise<{ readonly sha256: string; readonly sizeBytes: number }> {
    return this.unpacked(name, async (stream) => {
      const hash = createHash('sha256');
      let sizeBytes = 0;
      for await (const part of stream) {
        hash.update(part as Buffer);
        sizeBytes += (part as Buffer).length;
      }
      return { sha256: hash.digest('hex'), sizeBytes };
    });
  }

  /** What is packed wrongly is no fault of this server's. */
  private async unpacked<T>(name: string, read: (stream: Readable) => Promise<T>): Promise<T> {
    try {
      return await read(await this.stream(name));
    } catch (error) {
      if (error instanceof BundleError) throw error;
      throw new BundleError(`${name} can’t be unpacked (${messageOf(error)}).`);
    }
  }
}

async function listed(zip: ZipFile, limitBytes: number): Promise<Map<string, Entry>> {
  if (zip.entryCount > MOST_ENTRIES) throw new BundleError(`it has ${zip.entryCount} parts, more than any case.`);
  const entries = new Map<string, Entry>();
  let bytes = 0;
  try {
    for await (const entry of zip.eachEntry()) {
      const { fileName, uncompressedSize } = entry;
      if (!isKnownPlace(fileName)) throw new BundleError(`a bundle has no “${fileName.slice(0, 80)}”.`);
      if (entries.has(fileName)) throw new BundleError(`${fileName} is in it twice.`);
      const most = fileName === MANIFEST ? MOST_MANIFEST_BYTES : isPart(fileName) ? PART_BYTES : limitBytes;
      bytes += uncompressedSize;
      if (uncompressedSize > most || bytes > limitBytes) {
        throw new BundleError(
          `it unpacks to more than ${Math.floor(limitBytes / PART_BYTES)} MiB in all, or one part of it is too large.`,
        );
      }
      entries.set(fileName, entry);
    }
  } catch (error) {
    if (error instanceof BundleError) throw error;
    throw new BundleError(`its list of contents is broken (${messageOf(error)}).`);
  }
  if (!entries.has(MANIFEST)) throw new BundleError(`${MANIFEST} is missing.`);
  return entries;
}

function isPart(name: string): boolean {
  return name.startsWith('captures/') || name.startsWith('photos/');
}

function messageOf(error: unknown): string {
  return error instanceof Error ? error.message : String(error);
}
