import type { ShelfItem } from '@jarro/api-types';
import {
  caseBench,
  knownGoodOf,
  newestEntry,
  presentEvidence,
  provenCaptures,
  readBeside,
  systemOf,
  type CaseEvidence,
  type KnownGood,
} from '@jarro/core';
import { ConflictException, Injectable, NotFoundException } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { DataSource } from 'typeorm';
import { AuditService } from '../audit/audit.service.js';
import type { SignedIn } from '../auth/signed-in.js';
import { CaseAccess } from '../cases/case-access.js';
import { Case } from '../cases/cases.entities.js';
import { CasesService } from '../cases/cases.service.js';
import { groundOf } from '../cases/judge.js';
import { codeOf } from '../database/retry.js';
import { EvidenceRecord } from '../evidence/evidence.entities.js';
import { User } from '../people/people.entities.js';
import { rulesOf } from '../people/shop-rules.js';
import type { AddKnownGoodDto } from './shelf.dto.js';
import { ShelfEntry } from './shelf.entities.js';

/** The newest duty sweep of a pump, with what was read at each step. */
function sweepOf(entries: CaseEvidence['entries']): Pick<KnownGood, 'sweep'> {
  const value = newestEntry(entries, 'sweep', 'module')?.value;
  return typeof value === 'object' && 'steps' in value ? { sweep: value.steps } : {};
}

@Injectable()
export class ShelfService {
  constructor(
    @InjectDataSource() private readonly source: DataSource,
    private readonly access: CaseAccess,
    private readonly cases: CasesService,
    private readonly audit: AuditService,
  ) {}

  /** The shop's known-goods, the newest first. */
  async list({ shop }: SignedIn): Promise<ShelfItem[]> {
    const entries = await this.source
      .getRepository(ShelfEntry)
      .find({ where: { shopId: shop.id }, order: { addedAt: 'DESC' } });
    const users = await this.source.getRepository(User).findBy({ shopId: shop.id });
    const cases = await this.source.getRepository(Case).findBy(entries.map(({ caseId }) => ({ id: caseId })));
    return entries.map(({ shopId: _, addedBy, addedAt, ...entry }) => ({
      ...entry,
      caseNumber: cases.find(({ id }) => id === entry.caseId)?.number ?? 0,
      addedBy: users.find(({ id }) => id === addedBy)?.name ?? null,
      addedAt: addedAt.toISOString(),
    }));
  }

  /**
   * Puts a capture on the shelf, with the volts and the pressure that were read beside it.
   * @throws ConflictException for a capture of a case that isn't closed, or from before its repair: nobody proved that pump good
   */
  async add(me: SignedIn, { captureId, label, temperatureC }: AddKnownGoodDto): Promise<{ id: string }> {
    const link = await this.source.getRepository(EvidenceRecord).findOneBy({ id: captureId, kind: 'capture' });
    if (!link) throw new NotFoundException('There is no such capture.');
    const item = await this.access.find(me, link.caseId);
    const { links, analyses, goods } = await this.cases.evidence(item.id);
    const ramp = analyses.get(captureId)?.result.ramp;
    if (!provenCaptures(links, item.stage).some(({ id }) => id === captureId)) {
      throw new ConflictException(
        'Only what was proven goes on the shelf: a capture of a closed case’s recheck, or of a pump that was cleared.',
      );
    }
    const evidence = presentEvidence(groundOf(item.complaint, links, analyses, goods), item.stage);
    const keyState = link.keyState ?? 'prime';
    const numbers =
      ramp &&
      knownGoodOf(ramp, keyState, {
        ...readBeside(evidence, caseBench(evidence, rulesOf(me.shop)).ladders, keyState),
        ...(temperatureC !== undefined && { temperatureC }),
        ...sweepOf(evidence.entries),
      });
    if (!numbers) throw new ConflictException('This capture shows no steady draw of a pump. Choose another one.');
    const system = systemOf(links);
    try {
      const { id } = await this.source.getRepository(ShelfEntry).save({
        ...{ shopId: me.shop.id, caseId: item.id, captureId, label: label.trim(), numbers },
        systemLine: system?.line ?? null,
        systemName: system?.name ?? '',
        systemKind: evidence.intake.system,
        turnA: analyses.get(captureId)?.result.turnA ?? null,
        addedBy: me.user.id,
      });
      await this.audit.note(me, 'shelf.add', label);
      return { id };
    } catch (error) {
      if (codeOf(error) !== 'ER_DUP_ENTRY') throw error;
      throw new ConflictException('This capture is on the shelf already.');
    }
  }

  async retire(me: SignedIn, id: string, retired: boolean): Promise<void> {
    const { affected } = await this.source.getRepository(ShelfEntry).update({ id, shopId: me.shop.id }, { retired });
    if (!affected) throw new NotFoundException('There is no such known-good.');
    await this.audit.note(me, retired ? 'shelf.retire' : 'shelf.return', id);
  }
}
