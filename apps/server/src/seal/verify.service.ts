import { createHash } from 'node:crypto';
import type { AnalysisValue, CaptureValue, ImportValue, PhotoValue, VerifiedCase } from '@jarro/api-types';
import { Inject, Injectable } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { DataSource } from 'typeorm';
import type { SignedIn } from '../auth/signed-in.js';
import { CaptureStore } from '../captures/capture-store.js';
import { analysisHash } from '../captures/content-hash.js';
import { Originals } from '../captures/originals.js';
import { CaseAccess } from '../cases/case-access.js';
import { CONFIG, type Config } from '../config.js';
import { AnalysisRecord, CaptureRecord } from '../captures/captures.entities.js';
import { EvidenceRecord } from '../evidence/evidence.entities.js';
import { PhotoPart } from '../photos/photos.entities.js';
import { removedFrom, type Removed } from '../database/evidence-chain.js';
import { checkSeal } from './case-seal.js';

interface Findings {
  readonly problems: string[];
  readonly notSealed: string[];
}

/** Walks all that a case rests on, byte by byte. */
@Injectable()
export class VerifyService {
  constructor(
    @InjectDataSource() private readonly source: DataSource,
    @Inject(CONFIG) private readonly config: Config,
    private readonly access: CaseAccess,
    private readonly store: CaptureStore,
    private readonly originals: Originals,
  ) {}

  /** @param step is told how much of it was walked, 0 to 1, before each capture and picture; it may throw to end it */
  async verify(me: SignedIn, caseId: string, step?: (share: number) => Promise<void>): Promise<VerifiedCase> {
    await this.access.find(me, caseId);
    return this.verifyCase(caseId, step);
  }

  /** The same for whoever may see every shop's: the one who holds the key, at the shell. */
  async verifyCase(caseId: string, step?: (share: number) => Promise<void>): Promise<VerifiedCase> {
    const links = await this.source
      .getRepository(EvidenceRecord)
      .find({ where: { caseId }, order: { sequence: 'ASC' } });
    const { entries, head, since, problems } = await checkSeal(this.source.manager, this.config.sealKey, caseId, links);
    const findings: Findings = { problems: [...problems], notSealed: [] };
    const captures = links.filter(({ kind }) => kind === 'capture');
    const photos = links.filter(({ kind }) => kind === 'photo');
    const again = links.filter(({ kind }) => kind === 'analysis');
    // Taken in as a bundle that held no original files.
    const leftBehind = links.filter(({ kind, value }) => kind === 'import' && !(value as ImportValue).originals);
    let walked = 0;
    const next = () => step?.(walked++ / (captures.length + photos.length));
    for (const link of captures) {
      await next();
      const hashes = again
        .filter(({ at }) => at === link.id)
        .map(({ value }) => (value as AnalysisValue).analysisSha256);
      await this.capture(
        link,
        hashes,
        findings,
        leftBehind.some(({ sequence }) => sequence > link.sequence),
      );
    }
    const removed = removedFrom(links);
    for (const link of photos) {
      await next();
      await this.photo(link, findings, removed);
    }
    return {
      entries,
      head,
      since,
      intact: findings.problems.length === 0,
      ...findings,
      captures: captures.length,
      photos: photos.length,
    };
  }

  /**
   * @param again hashes of what newer versions measured of it
   * @param leftBehind whether its original file didn't come along with the case
   */
  private async capture(
    { id, value, sequence }: EvidenceRecord,
    again: readonly string[],
    { problems, notSealed }: Findings,
    leftBehind: boolean,
  ): Promise<void> {
    const { label, sha256, contentSha256, analysisSha256 } = value as CaptureValue;
    const name = `“${label}” (entry ${sequence})`;
    const record = await this.source.getRepository(CaptureRecord).findOneBy({ id });
    if (!record) {
      problems.push(`The samples of ${name} are missing.`);
      return;
    }
    if (!contentSha256) {
      notSealed.push(`The original file of ${name} was not kept, and its samples were not sealed when it was taken.`);
      return;
    }
    if ((await this.store.contentHash(record)) !== contentSha256) problems.push(`The samples of ${name} were changed.`);
    const original = createHash('sha256');
    let bytes = 0;
    for await (const part of this.originals.read(sha256)) {
      original.update(part);
      bytes += part.length;
    }
    if (bytes === 0 && leftBehind) notSealed.push(`The original file of ${name} stayed where the case came from.`);
    else if (bytes === 0) problems.push(`The original file of ${name} is missing.`);
    else if (original.digest('hex') !== sha256) problems.push(`The original file of ${name} was changed.`);
    const analyses = await this.source.getRepository(AnalysisRecord).findBy({ captureId: id });
    const sealed = [analysisSha256, ...again];
    const stored = analyses.map(({ result }) => analysisHash(result));
    const foreign = stored.some((hash) => !sealed.includes(hash));
    if (stored.length > sealed.length) {
      problems.push(`What was measured of ${name} stands beside something that was put there.`);
    } else if (stored.length < sealed.length || foreign) {
      problems.push(`What was measured of ${name} ${foreign ? 'was changed' : 'is missing'}.`);
    }
  }

  private async photo(
    { id, value, sequence }: EvidenceRecord,
    { problems, notSealed }: Findings,
    removed: Removed,
  ): Promise<void> {
    const { caption, fileName, sha256, thumbnailSha256 } = value as PhotoValue;
    const name = `“${caption || fileName}” (entry ${sequence})`;
    if (removed.photos.has(id)) {
      notSealed.push(`The photo of entry ${sequence} was taken out on request.`);
      return;
    }
    const parts = await this.source.getRepository(PhotoPart).find({ where: { photoId: id }, order: { part: 'ASC' } });
    const hashOf = (of: readonly PhotoPart[]) => {
      const hash = createHash('sha256');
      for (const { data } of of) hash.update(data);
      return hash.digest('hex');
    };
    if (hashOf(parts.filter(({ part }) => part >= 0)) !== sha256) problems.push(`The photo ${name} was changed.`);
    if (!thumbnailSha256) notSealed.push(`The small picture of ${name} was not sealed when it was taken.`);
    else if (hashOf(parts.filter(({ part }) => part < 0)) !== thumbnailSha256) {
      problems.push(`The small picture of ${name} was changed.`);
    }
  }
}
