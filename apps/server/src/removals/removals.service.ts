import type { CaptureValue, PhotoValue, StoredAnalysis } from '@jarro/api-types';
import { InputError, TAKEN_AWAY, withoutWords, type RemovalValue } from '@jarro/core';
import { ConflictException, Injectable } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { DataSource, In, type EntityManager } from 'typeorm';
import { AuditEntry } from '../audit/audit.entities.js';
import { AuditService } from '../audit/audit.service.js';
import type { SignedIn } from '../auth/signed-in.js';
import { CaptureStore } from '../captures/capture-store.js';
import { AnalysisRecord, CaptureRecord } from '../captures/captures.entities.js';
import { analysisHash } from '../captures/content-hash.js';
import { CaseAccess } from '../cases/case-access.js';
import { Case, Vehicle } from '../cases/cases.entities.js';
import { remainderHash } from '../database/evidence-chain.js';
import { EvidenceRecord } from '../evidence/evidence.entities.js';
import { PhotoPart } from '../photos/photos.entities.js';
import { ShelfEntry } from '../shelf/shelf.entities.js';
import { Job } from '../work/jobs.entities.js';
import type { RemovalDto } from './removals.dto.js';

@Injectable()
export class RemovalsService {
  constructor(
    @InjectDataSource() private readonly source: DataSource,
    private readonly access: CaseAccess,
    private readonly store: CaptureStore,
    private readonly audit: AuditService,
  ) {}

  /**
   * Takes plate, pictures and words out of a case for good. Its links keep their hashes, so that the chain still verifies;
   * what is left of a changed link is sealed by the new link that says what was taken out, which doesn't hold the words.
   * @throws InputError where nothing of it is in the case; ConflictException where a capture came in meanwhile
   */
  async remove(me: SignedIn, caseId: string, dto: RemovalDto): Promise<{ id: string }> {
    const { vehicleId } = await this.access.find(me, caseId);
    const { plate } = await this.source.getRepository(Vehicle).findOneByOrFail({ id: vehicleId });
    const words = dto.plate ? [...dto.words, plate] : dto.words;
    // Samples are read again for the names of their files; that is slow, and nothing slow happens under the lock.
    const renamed = await this.renamed(caseId, words);
    return this.access.write(me, caseId, 'removal', async ({ item, manager, append }) => {
      const links = await manager.getRepository(EvidenceRecord).find({ where: { caseId } });
      if (links.some((link) => cameMeanwhile(link, words, renamed))) {
        throw new ConflictException('A capture came in meanwhile, named with these words. Take them out once more.');
      }
      const pictures = new Set(
        links.filter(({ kind, id }) => kind === 'photo' && dto.photos.includes(id)).map(({ id }) => id),
      );
      const entries: Record<string, string> = {};
      for (const link of links.filter(({ kind }) => kind !== 'removal')) {
        const value = remainderOf(link, words, pictures.has(link.id), renamed);
        if (value === link.value) continue;
        entries[link.id] = remainderHash({ ...link, value });
        await manager.getRepository(EvidenceRecord).update(link.id, { value: value as never });
      }
      const complaint = withoutWords(item.complaint, words) as string;
      const found: Omit<RemovalValue, 'reason'> = {
        plate: dto.plate && plate !== '',
        complaint: complaint !== item.complaint,
        photos: [...pictures],
        entries,
      };
      if (!found.plate && !found.complaint && pictures.size === 0 && Object.keys(entries).length === 0) {
        throw new InputError(
          'Nothing of that is in this case, so nothing was taken out. Check how the words are written.',
        );
      }
      await keepRenamed(manager, renamed);
      await relabel(manager, caseId, words);
      // What is done was told; a job in hand belongs to a capture that has no link yet.
      await manager.getRepository(Job).delete({ caseId, state: In(['done', 'failed']) });
      if (found.plate) await manager.getRepository(Vehicle).update(item.vehicleId, { plate: '' });
      if (found.complaint) await manager.getRepository(Case).update(caseId, { complaint });
      if (pictures.size > 0) await manager.getRepository(PhotoPart).delete({ photoId: In([...pictures]) });
      const value: RemovalValue = { ...found, reason: withoutWords(dto.reason, words) as string };
      const { id } = await append({ kind: 'removal', at: 'case', value, takenBy: me.user.id });
      await this.audit.note(me, 'case.removal', caseId, manager);
      return { id };
    });
  }

  /** Captures whose file was named with one of the words, and what was measured of them, as they will be without. */
  private async renamed(caseId: string, words: readonly string[]): Promise<Renamed> {
    const captures: Renamed['captures'][number][] = [];
    const analyses: Renamed['analyses'][number][] = [];
    for (const record of await this.source.getRepository(CaptureRecord).findBy({ caseId })) {
      const { id, fileName, label } = record;
      const names = { fileName, label };
      const left = withoutWords(names, words) as typeof names;
      if (left === names) continue;
      captures.push({ id, ...left, contentSha256: await this.store.contentHash({ ...record, ...left }) });
      for (const analysis of await this.source.getRepository(AnalysisRecord).findBy({ captureId: id })) {
        const { capture } = analysis.result;
        const result = { ...analysis.result, capture: { ...capture, file: left.fileName } };
        analyses.push({ id: analysis.id, result, before: analysisHash(analysis.result), after: analysisHash(result) });
      }
    }
    return { captures, analyses };
  }
}

interface Renamed {
  readonly captures: readonly { id: string; fileName: string; label: string; contentSha256: string }[];
  /** With the hash that its link seals it by, before and after. */
  readonly analyses: readonly { id: string; result: StoredAnalysis; before: string; after: string }[];
}

/** A capture whose name holds the words, and whose samples weren't read again without them. */
function cameMeanwhile({ id, kind, value }: EvidenceRecord, words: readonly string[], { captures }: Renamed): boolean {
  if (kind !== 'capture' || captures.some((capture) => capture.id === id)) return false;
  const { fileName, label } = value as CaptureValue;
  const names = { fileName, label };
  return withoutWords(names, words) !== names;
}

/** What is left of a link; the very same value where nothing is taken out of it. */
function remainderOf(
  { id, kind, value }: EvidenceRecord,
  words: readonly string[],
  isPicture: boolean,
  { captures, analyses }: Renamed,
): unknown {
  const left = withoutWords(value, words);
  if (isPicture) return { ...(left as PhotoValue), caption: TAKEN_AWAY, fileName: TAKEN_AWAY };
  if (kind !== 'capture' && kind !== 'analysis') return left;
  const { contentSha256, analysisSha256 } = left as CaptureValue;
  const content = contentSha256 && captures.find((capture) => capture.id === id)?.contentSha256;
  const analysis = analyses.find(({ before }) => before === analysisSha256)?.after;
  if (!content && !analysis) return left;
  return {
    ...(left as CaptureValue),
    ...(content && { contentSha256: content }),
    ...(analysis && { analysisSha256: analysis }),
  };
}

async function keepRenamed(manager: EntityManager, { captures, analyses }: Renamed): Promise<void> {
  for (const { id, fileName, label } of captures) {
    await manager.getRepository(CaptureRecord).update(id, { fileName, label });
  }
  for (const { id, result } of analyses) {
    await manager.getRepository(AnalysisRecord).update(id, { result });
  }
}

/** What the case's known-goods are called, and the lines of the audit log that name them. */
async function relabel(manager: EntityManager, caseId: string, words: readonly string[]): Promise<void> {
  for (const { id, shopId, label } of await manager.getRepository(ShelfEntry).findBy({ caseId })) {
    const left = withoutWords(label, words) as string;
    if (left === label) continue;
    await manager.getRepository(ShelfEntry).update(id, { label: left });
    await manager.getRepository(AuditEntry).update({ shopId, action: 'shelf.add', target: label }, { target: left });
  }
}
