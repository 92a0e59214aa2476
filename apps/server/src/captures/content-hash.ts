import { createHash } from 'node:crypto';
import type { CaptureRecord } from './captures.entities.js';

/** What is said of a capture beside its samples. */
export type CaptureFacts = Pick<
  CaptureRecord,
  'fileName' | 'label' | 'sizeBytes' | 'sha256' | 'sampleRateHz' | 'samples' | 'startS' | 'channels' | 'pyramidLevels'
>;

/** One SHA-256 over a capture's facts and all of its stored parts, in the order of channel, level and part. */
export class ContentHash {
  private readonly hash = createHash('sha256');

  constructor(facts: CaptureFacts) {
    const { fileName, label, sizeBytes, sha256, sampleRateHz, samples, startS, channels, pyramidLevels } = facts;
    const ofChannels = channels.map(({ name, role, unit }) => [name, role, unit]);
    const of = [fileName, label, sizeBytes, sha256, sampleRateHz, samples, startS, ofChannels, pyramidLevels];
    this.hash.update(JSON.stringify(of));
  }

  add(channel: number, level: number, part: number, data: Buffer): void {
    this.hash.update(`${channel}/${level}/${part}/${data.length}:`).update(data);
  }

  digest(): string {
    return this.hash.digest('hex');
  }
}

/** SHA-256 of an analysis, as it reads back from the database. */
export function analysisHash(result: object): string {
  return createHash('sha256').update(JSON.stringify(result)).digest('hex');
}
