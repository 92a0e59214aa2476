import {
  PATHS,
  templateProfile,
  writeCase,
  type CaseSystem,
  type Intake,
  type PathKind,
  type WrittenCase,
} from '@jarro/core';
import {
  BadRequestException,
  ConflictException,
  ForbiddenException,
  Injectable,
  NotFoundException,
} from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { DataSource, In, type EntityManager } from 'typeorm';
import type { SignedIn } from '../auth/auth.service.js';
import { may } from '../auth/permissions.js';
import { appendEvidence, lockChain, verifyChain } from '../database/evidence-chain.js';
import {
  AnalysisRecord,
  CaptureRecord,
  Case,
  EvidenceRecord,
  User,
  Vehicle,
  type VerdictValue,
} from '../database/entities.js';
import { entriesOf, newestIntake, standing, voidsOf } from '../evidence/standing.js';
import { SystemsService } from '../systems/systems.service.js';
import { WorkPool } from '../work/work-pool.js';
import { AuditService } from '../people/audit.service.js';
import type { DecideDto, GiveSystemDto, OpenCaseDto } from './cases.dto.js';
import { rulesOf } from '../people/shop-rules.js';
import { evidenceOf, judge } from './judge.js';

@Injectable()
export class CasesService {
  constructor(
    @InjectDataSource() private readonly source: DataSource,
    private readonly audit: AuditService,
    private readonly systems: SystemsService,
    private readonly pool: WorkPool,
  ) {}

  /** The shop's cases, newest first, with what the board shows of each. */
  async board({ shop }: SignedIn) {
    const cases = await this.source.getRepository(Case).find({ where: { shopId: shop.id }, order: { number: 'DESC' } });
    const ids = cases.map(({ id }) => id);
    if (ids.length === 0) return [];
    const [vehicles, links, people] = await Promise.all([
      this.source.getRepository(Vehicle).findBy({ shopId: shop.id }),
      this.source.getRepository(EvidenceRecord).find({ where: { caseId: In(ids) }, order: { sequence: 'ASC' } }),
      this.source.getRepository(User).findBy({ shopId: shop.id }),
    ]);
    return cases.map((item) => {
      const vehicle = vehicles.find(({ id }) => id === item.vehicleId);
      const counted = standing(links.filter(({ caseId }) => caseId === item.id));
      const verdict = counted.filter(({ kind }) => kind === 'verdict').at(-1)?.value as VerdictValue | undefined;
      return {
        ...head(item, vehicle, people),
        captures: counted.filter(({ kind }) => kind === 'capture').length,
        readings: entriesOf(counted).length,
        verdict: verdict?.kind ?? null,
      };
    });
  }

  /** One case with all its evidence and what it amounts to. */
  async detail(signedIn: SignedIn, id: string) {
    const item = await this.find(signedIn, id);
    const { links, captures, analyses } = await this.evidence(this.source.manager, id);
    const [vehicle, people] = await Promise.all([
      this.source.getRepository(Vehicle).findOneBy({ id: item.vehicleId }),
      this.source.getRepository(User).findBy({ shopId: item.shopId }),
    ]);
    const name = (userId: string) => people.find((person) => person.id === userId)?.name ?? null;
    const voids = voidsOf(links);
    const { intake, sequence } = newestIntake(links);
    const counted = evidenceOf(links, analyses);
    return {
      ...head(item, vehicle ?? undefined, people),
      evidence: links.map((link) => {
        const { id: entry, kind, at, value, keyState, faultPresent, how, takenAt, hash } = link;
        const voided = voids.get(entry);
        return {
          id: entry,
          sequence: link.sequence,
          kind,
          at,
          value,
          keyState,
          faultPresent,
          how,
          takenBy: name(link.takenBy),
          takenAt,
          hash,
          voided: voided
            ? { by: name(voided.takenBy), at: voided.takenAt, reason: (voided.value as { reason: string }).reason }
            : null,
        };
      }),
      captures: captures.map((capture) => ({ ...capture, analysis: analyses.get(capture.id)?.result ?? null })),
      intake: { ...(vehicle && { vehicle: identity(vehicle) }), ...intake, sequence },
      system: counted.system ?? null,
      seal: verifyChain(links),
      ...judge(counted, rulesOf(signedIn.shop)),
    };
  }

  async open(me: SignedIn, dto: OpenCaseDto): Promise<{ id: string }> {
    const { user, shop } = me;
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
      await this.audit.note(me, 'case.open', saved.id, manager);
      return { id: saved.id };
    });
  }

  /** Gives the case a system: a version of the shop's own, or a shipped path. It keeps its copy whatever becomes of that. */
  async giveSystem(me: SignedIn, caseId: string, dto: GiveSystemDto, takenAt?: Date): Promise<{ id: string }> {
    await this.findOpen(me, caseId);
    const value = await this.systemOf(me, dto);
    return this.source.transaction(async (manager) => {
      const { id } = await appendEvidence(manager, caseId, {
        kind: 'system',
        at: 'path',
        value,
        takenBy: me.user.id,
        ...(takenAt && { takenAt }),
      });
      return { id };
    });
  }

  private async systemOf(me: SignedIn, { template, line, version }: GiveSystemDto): Promise<CaseSystem> {
    if (line !== undefined && version !== undefined) {
      const profile = await this.systems.version(me, line, version);
      return { shipped: false, name: profile.name, line, version, profile };
    }
    if (!(PATHS as readonly unknown[]).includes(template)) {
      throw new BadRequestException(`Choose a system of the shop, or one of the shipped paths ${PATHS.join(', ')}.`);
    }
    const profile = templateProfile(template as PathKind);
    return { shipped: true, name: profile.name, profile };
  }

  /** The case as a file that the command line reads too. */
  async file(me: SignedIn, id: string): Promise<WrittenCase> {
    const item = await this.find(me, id);
    const { links, analyses } = await this.evidence(this.source.manager, id);
    return writeCase(item.complaint, evidenceOf(links, analyses), rulesOf(me.shop));
  }

  /** Records a verdict: one that the gate allows, or one that carries a lead's reason for ever. */
  async decide(me: SignedIn, caseId: string, dto: DecideDto, takenAt?: Date): Promise<{ id: string }> {
    await this.findOpen(me, caseId);
    return this.source.transaction(async (manager) => {
      await lockChain(manager, caseId);
      const { links, analyses } = await this.evidence(manager, caseId);
      const evidence = evidenceOf(links, analyses);
      const rules = rulesOf(me.shop);
      const { ledger } = judge(evidence, rules);
      const { gate: gates, families } = await this.pool.weigh({ evidence, rules });
      const gate = gates[dto.kind];
      const barred = !gate.allowed;
      if (barred && !dto.overrideReason) {
        throw new ConflictException({ message: ['The evidence doesn’t allow this verdict yet.', ...gate.missing] });
      }
      if (barred && !may(me.user.role, 'override')) throw new ForbiddenException('Only a lead may override the gate.');
      const value: VerdictValue = {
        kind: dto.kind,
        statement: dto.statement,
        gate,
        families: families.slice(0, FAMILIES_KEPT),
        ledger,
        overrideReason: barred ? (dto.overrideReason ?? null) : null,
      };
      const { id } = await appendEvidence(manager, caseId, {
        kind: 'verdict',
        at: 'pump',
        value,
        takenBy: me.user.id,
        ...(takenAt && { takenAt }),
      });
      await manager.getRepository(Case).update(caseId, { stage: 'decided' });
      await this.audit.note(me, barred ? 'verdict.override' : 'verdict.decide', id, manager);
      return { id };
    });
  }

  /** Hands the vehicle back: only once a verdict stands and the recheck is written down. */
  async close(me: SignedIn, caseId: string): Promise<void> {
    await this.find(me, caseId);
    await this.source.transaction(async (manager) => {
      await lockChain(manager, caseId);
      const { stage } = await manager.getRepository(Case).findOneByOrFail({ id: caseId });
      if (stage === 'closed') throw new ConflictException('This case is closed already.');
      if (stage !== 'decided') throw new ConflictException('Give the verdict first.');
      const links = standing(await manager.getRepository(EvidenceRecord).findBy({ caseId }));
      if (!links.some(({ kind, at }) => kind === 'note' && at === 'recheck')) {
        throw new ConflictException('Write down the recheck first: a repair that nobody checked comes back.');
      }
      await manager.getRepository(Case).update(caseId, { stage: 'closed' });
      await this.audit.note(me, 'case.close', caseId, manager);
    });
  }

  async reopen(me: SignedIn, caseId: string): Promise<void> {
    await this.find(me, caseId);
    await this.source.getRepository(Case).update(caseId, { stage: 'open' });
    await this.audit.note(me, 'case.reopen', caseId);
  }

  /** @throws NotFoundException for other shops' cases too: their existence is nobody's business */
  async find({ shop }: SignedIn, id: string): Promise<Case> {
    const item = await this.source.getRepository(Case).findOneBy({ id, shopId: shop.id });
    if (!item) throw new NotFoundException('There is no such case.');
    return item;
  }

  async findOpen(me: SignedIn, id: string): Promise<Case> {
    const item = await this.find(me, id);
    if (item.stage !== 'open')
      throw new ConflictException('This case is decided. Reopen it to add or change evidence.');
    return item;
  }

  /** For what is still written down between the verdict and the closing. */
  async findNotClosed(me: SignedIn, id: string): Promise<Case> {
    const item = await this.find(me, id);
    if (item.stage === 'closed') throw new ConflictException('This case is closed. Reopen it to add anything.');
    return item;
  }

  private async evidence(manager: EntityManager, caseId: string) {
    const [links, captures] = await Promise.all([
      manager.getRepository(EvidenceRecord).find({ where: { caseId }, order: { sequence: 'ASC' } }),
      manager.getRepository(CaptureRecord).findBy({ caseId }),
    ]);
    const records = await manager
      .getRepository(AnalysisRecord)
      .find({ where: { captureId: In(captures.map(({ id }) => id)) }, order: { madeAt: 'ASC' } });
    return { links, captures, analyses: new Map(records.map((record) => [record.captureId, record])) };
  }
}

const FAMILIES_KEPT = 5;

/** What of a vehicle goes into its intake. */
function identity({ model, engine, plate, year }: Vehicle): Intake['vehicle'] {
  return { model, engine, plate, ...(year !== null && { year }) };
}

function head(item: Case, vehicle: Vehicle | undefined, people: readonly User[]) {
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
