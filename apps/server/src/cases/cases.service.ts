import { randomUUID } from 'node:crypto';
import { ConflictException, ForbiddenException, Injectable, NotFoundException } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { DataSource, In, type EntityManager } from 'typeorm';
import type { SignedIn } from '../auth/auth.service.js';
import { evidenceHash, lockChain } from '../database/evidence-chain.js';
import {
  AnalysisRecord,
  AuditEntry,
  CaptureRecord,
  Case,
  Reading,
  User,
  Vehicle,
  Verdict,
} from '../database/entities.js';
import type { AddReadingDto, DecideDto, OpenCaseDto } from './cases.dto.js';
import { judge } from './judge.js';

@Injectable()
export class CasesService {
  constructor(@InjectDataSource() private readonly source: DataSource) {}

  /** The shop's cases, newest first, with what the board shows of each. */
  async board({ shop }: SignedIn) {
    const cases = await this.source.getRepository(Case).find({ where: { shopId: shop.id }, order: { number: 'DESC' } });
    const ids = cases.map(({ id }) => id);
    if (ids.length === 0) return [];
    const [vehicles, verdicts, captures, readings, people] = await Promise.all([
      this.source.getRepository(Vehicle).findBy({ shopId: shop.id }),
      this.source.getRepository(Verdict).find({ where: { caseId: In(ids) }, order: { decidedAt: 'ASC' } }),
      this.source.getRepository(CaptureRecord).findBy({ caseId: In(ids) }),
      this.source.getRepository(Reading).findBy({ caseId: In(ids) }),
      this.source.getRepository(User).findBy({ shopId: shop.id }),
    ]);
    return cases.map((item) => ({
      ...this.head(
        item,
        vehicles.find(({ id }) => id === item.vehicleId),
        people,
      ),
      captures: captures.filter(({ caseId, voidedAt }) => caseId === item.id && !voidedAt).length,
      readings: readings.filter(({ caseId, voidedAt }) => caseId === item.id && !voidedAt).length,
      verdict: verdicts.filter(({ caseId }) => caseId === item.id).at(-1)?.kind ?? null,
    }));
  }

  /** One case with all its evidence and what it amounts to. */
  async detail(signedIn: SignedIn, id: string) {
    const item = await this.find(signedIn, id);
    const { readings, captures, verdicts, analyses } = await this.evidence(this.source.manager, id);
    const [vehicle, people] = await Promise.all([
      this.source.getRepository(Vehicle).findOneBy({ id: item.vehicleId }),
      this.source.getRepository(User).findBy({ shopId: item.shopId }),
    ]);
    const name = (userId: string | null) => people.find((person) => person.id === userId)?.name ?? null;
    return {
      ...this.head(item, vehicle ?? undefined, people),
      readings: readings.map((r) => ({ ...r, takenBy: name(r.takenBy), voidedBy: name(r.voidedBy) })),
      captures: captures.map((c) => ({
        ...c,
        takenBy: name(c.takenBy),
        voidedBy: name(c.voidedBy),
        analysis: analyses.get(c.id)?.result ?? null,
      })),
      verdicts: verdicts.map((v) => ({ ...v, decidedBy: name(v.decidedBy) })),
      ...judge(readings, standingRamps(captures, analyses), signedIn.shop),
    };
  }

  async open({ user, shop }: SignedIn, dto: OpenCaseDto): Promise<{ id: string }> {
    return this.source.transaction(async (manager) => {
      const { complaint, year, ...vehicle } = dto;
      const { id: vehicleId } = await manager
        .getRepository(Vehicle)
        .save({ ...vehicle, year: year ?? null, shopId: shop.id });
      // The shop's row is the queue for case numbers.
      await manager.query('SELECT id FROM shops WHERE id = ? FOR UPDATE', [shop.id]);
      const [{ next }] = await manager.query<[{ next: string | number }]>(
        'SELECT COALESCE(MAX(number), 0) + 1 AS next FROM cases WHERE shopId = ?',
        [shop.id],
      );
      const saved = await manager
        .getRepository(Case)
        .save({ number: Number(next), shopId: shop.id, vehicleId, complaint, stage: 'open', openedBy: user.id });
      await this.audit(manager, { user, shop }, 'case.open', saved.id);
      return { id: saved.id };
    });
  }

  async addReading(signedIn: SignedIn, caseId: string, dto: AddReadingDto): Promise<{ id: string }> {
    await this.findOpen(signedIn, caseId);
    return this.source.transaction(async (manager) => {
      const previousHash = await lockChain(manager, caseId);
      const content = { id: randomUUID(), caseId, ...dto, takenBy: signedIn.user.id, takenAt: new Date() };
      await manager
        .getRepository(Reading)
        .insert({ ...content, previousHash, hash: evidenceHash(previousHash, content) });
      return { id: content.id };
    });
  }

  async voidReading(signedIn: SignedIn, caseId: string, id: string, reason: string): Promise<void> {
    await this.voidEvidence(signedIn, Reading, caseId, id, reason);
  }

  async voidCapture(signedIn: SignedIn, caseId: string, id: string, reason: string): Promise<void> {
    await this.voidEvidence(signedIn, CaptureRecord, caseId, id, reason);
  }

  private async voidEvidence(
    signedIn: SignedIn,
    entity: typeof Reading | typeof CaptureRecord,
    caseId: string,
    id: string,
    reason: string,
  ): Promise<void> {
    await this.findOpen(signedIn, caseId);
    const { affected } = await this.source
      .createQueryBuilder()
      .update(entity)
      .set({ voidedAt: new Date(), voidReason: reason, voidedBy: signedIn.user.id })
      .where('id = :id AND caseId = :caseId AND voidedAt IS NULL', { id, caseId })
      .execute();
    if (!affected) throw new NotFoundException('That entry is not in this case, or was voided already.');
    await this.audit(this.source.manager, signedIn, 'evidence.void', id);
  }

  /** Records a verdict. Condemning the pump passes the gate or carries a lead's reason for ever. */
  async decide(signedIn: SignedIn, caseId: string, dto: DecideDto): Promise<{ id: string }> {
    await this.findOpen(signedIn, caseId);
    return this.source.transaction(async (manager) => {
      const previousHash = await lockChain(manager, caseId);
      const { readings, captures, analyses } = await this.evidence(manager, caseId);
      const { ledger, gate } = judge(readings, standingRamps(captures, analyses), signedIn.shop);
      const barred = dto.kind === 'replace-pump' && !gate.allowed;
      if (barred && !dto.overrideReason) {
        const missing = gate.proofs.filter((proof) => !proof.met).map((proof) => proof.text);
        throw new ConflictException({ message: ['The pump may not be condemned yet.', ...missing] });
      }
      if (barred && signedIn.user.role !== 'lead') {
        throw new ForbiddenException('Only a lead may override the gate.');
      }
      const content = {
        id: randomUUID(),
        caseId,
        kind: dto.kind,
        statement: dto.statement,
        gate,
        ledger,
        overrideReason: barred ? (dto.overrideReason ?? null) : null,
        decidedBy: signedIn.user.id,
        decidedAt: new Date(),
      };
      await manager
        .getRepository(Verdict)
        .insert({ ...content, previousHash, hash: evidenceHash(previousHash, content) });
      await manager.getRepository(Case).update(caseId, { stage: 'decided' });
      await this.audit(manager, signedIn, barred ? 'verdict.override' : 'verdict.decide', content.id);
      return { id: content.id };
    });
  }

  async reopen(signedIn: SignedIn, caseId: string): Promise<void> {
    await this.find(signedIn, caseId);
    await this.source.getRepository(Case).update(caseId, { stage: 'open' });
    await this.audit(this.source.manager, signedIn, 'case.reopen', caseId);
  }

  /** @throws NotFoundException for other shops' cases too: their existence is nobody's business */
  async find({ shop }: SignedIn, id: string): Promise<Case> {
    const item = await this.source.getRepository(Case).findOneBy({ id, shopId: shop.id });
    if (!item) throw new NotFoundException('There is no such case.');
    return item;
  }

  async findOpen(signedIn: SignedIn, id: string): Promise<Case> {
    const item = await this.find(signedIn, id);
    if (item.stage !== 'open')
      throw new ConflictException('This case is decided. Reopen it to add or change evidence.');
    return item;
  }

  private async evidence(manager: EntityManager, caseId: string) {
    const [readings, captures, verdicts] = await Promise.all([
      manager.getRepository(Reading).find({ where: { caseId }, order: { takenAt: 'ASC' } }),
      manager.getRepository(CaptureRecord).find({ where: { caseId }, order: { takenAt: 'ASC' } }),
      manager.getRepository(Verdict).find({ where: { caseId }, order: { decidedAt: 'ASC' } }),
    ]);
    const records = await manager
      .getRepository(AnalysisRecord)
      .find({ where: { captureId: In(captures.map(({ id }) => id)) }, order: { madeAt: 'ASC' } });
    return { readings, captures, verdicts, analyses: new Map(records.map((record) => [record.captureId, record])) };
  }

  private head(item: Case, vehicle: Vehicle | undefined, people: readonly User[]) {
    return {
      id: item.id,
      number: item.number,
      complaint: item.complaint,
      stage: item.stage,
      openedAt: item.openedAt,
      openedBy: people.find(({ id }) => id === item.openedBy)?.name ?? null,
      vehicle: vehicle && { model: vehicle.model, year: vehicle.year, engine: vehicle.engine, plate: vehicle.plate },
    };
  }

  private async audit(manager: EntityManager, { user, shop }: SignedIn, action: string, target: string): Promise<void> {
    await manager.getRepository(AuditEntry).insert({ shopId: shop.id, userId: user.id, action, target });
  }
}

function standingRamps(captures: readonly CaptureRecord[], analyses: ReadonlyMap<string, AnalysisRecord>) {
  return captures
    .filter((capture) => !capture.voidedAt)
    .map((capture) => analyses.get(capture.id)?.result.ramp)
    .filter((ramp) => ramp !== undefined);
}
