import type { CaseDetail, ComebackValue, VerdictValue } from '@jarro/api-types';
import {
  newestIntake,
  PATHS,
  presentEvidence,
  systemOf,
  templateProfile,
  verdictGrounds,
  voidsOf,
  writeCase,
  type CaseSystem,
  type KnownGood,
  type PathKind,
  type WrittenCase,
} from '@jarro/core';
import { BadRequestException, ConflictException, ForbiddenException, Inject, Injectable } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { DataSource, In, IsNull, Not } from 'typeorm';
import type { SignedIn } from '../auth/signed-in.js';
import { may } from '../auth/permissions.js';
import { CONFIG, type Config } from '../config.js';
import { checkSeal, signCase } from '../seal/case-seal.js';
import { AnalysisRecord, CaptureRecord } from '../captures/captures.entities.js';
import { mathOf } from '../captures/math.service.js';
import { Case, Vehicle } from './cases.entities.js';
import { EvidenceRecord } from '../evidence/evidence.entities.js';
import { User } from '../people/people.entities.js';
import { appendLink } from '../database/evidence-chain.js';
import { retryDeadlocks } from '../database/retry.js';
import { SystemsService } from '../systems/systems.service.js';
import { WorkPool } from '../work/work-pool.js';
import { AuditService } from '../audit/audit.service.js';
import { CaseAccess } from './case-access.js';
import { head, peopleOf, vehicleOf } from './case-head.js';
import type { DecideDto, GiveSystemDto, OpenCaseDto } from './cases.dto.js';
import { LearnedService } from '../learned/learned.service.js';
import { ShelfEntry } from '../shelf/shelf.entities.js';
import { rulesOf } from '../people/shop-rules.js';
import { groundOf, judge } from './judge.js';
import { summarise } from './summaries.js';

@Injectable()
export class CasesService {
  constructor(
    @InjectDataSource() private readonly source: DataSource,
    private readonly access: CaseAccess,
    private readonly audit: AuditService,
    private readonly systems: SystemsService,
    private readonly learned: LearnedService,
    private readonly pool: WorkPool,
    @Inject(CONFIG) private readonly config: Config,
  ) {}

  /** One case with all its evidence and what it amounts to. */
  async detail(signedIn: SignedIn, id: string): Promise<CaseDetail> {
    const item = await this.access.find(signedIn, id);
    const { links, captures, analyses, goods } = await this.evidence(id);
    const [vehicle, users, math] = await Promise.all([
      this.source.getRepository(Vehicle).findOneBy({ id: item.vehicleId }),
      this.source.getRepository(User).findBy({ shopId: item.shopId }),
      mathOf(this.source, captures),
    ]);
    const people = peopleOf(item, users);
    const name = (userId: string) => people.get(userId) ?? null;
    const voids = voidsOf(links);
    const { intake, sequence } = newestIntake(links);
    const present = presentEvidence(groundOf(item.complaint, links, analyses, goods), item.stage);
    return {
      ...head(item, vehicle ?? undefined, people),
      comebackOf: await this.numbered(item.comebackOf),
      comebacks: await this.comebacksOf(item),
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
          takenAt: takenAt.toISOString(),
          hash,
          voided: voided
            ? {
                by: name(voided.takenBy),
                at: voided.takenAt.toISOString(),
                reason: (voided.value as { reason: string }).reason,
              }
            : null,
        };
      }),
      captures: captures.map(({ pendingSince: _, caseId: __, pyramidLevels: ___, ...capture }) => ({
        ...capture,
        analysis: analyses.get(capture.id)?.result ?? null,
        math: math.get(capture.id) ?? [],
      })),
      intake: { ...(vehicle && { vehicle: vehicleOf(vehicle) }), ...intake, sequence },
      system: systemOf(links) ?? null,
      goods,
      seal: await checkSeal(this.source.manager, this.config.sealKey, id, links),
      ...judge(present, rulesOf(signedIn.shop)),
    };
  }

  private async numbered(id: string | null): Promise<CaseDetail['comebackOf']> {
    const before = id === null ? null : await this.source.getRepository(Case).findOneBy({ id });
    return before && { id: before.id, number: before.number };
  }

  private async comebacksOf({ id }: Case): Promise<CaseDetail['comebacks']> {
    const later = await this.source.getRepository(Case).find({ where: { comebackOf: id }, order: { number: 'ASC' } });
    return later.map((one) => ({ id: one.id, number: one.number }));
  }

  /** @param openedAt for what was opened before it was written down; now when absent */
  async open(me: SignedIn, dto: OpenCaseDto, openedAt?: Date): Promise<{ id: string }> {
    const { user, shop } = me;
    const { complaint, year, comebackOf, ...vehicle } = dto;
    const before = comebackOf === undefined ? undefined : await this.access.find(me, comebackOf);
    return retryDeadlocks(() =>
      this.source.transaction(async (manager) => {
        // The shop's row is the queue for case numbers. Locked first: rows that refer to it share-lock it, and two that
        // did would wait for one another.
        await manager.query('SELECT id FROM shops WHERE id = ? FOR UPDATE', [shop.id]);
        const { id: vehicleId } = await manager
          .getRepository(Vehicle)
          .save({ ...vehicle, year: year ?? null, shopId: shop.id });
        const [{ next }] = await manager.query<[{ next: string | number }]>(
          'SELECT COALESCE(MAX(number), 0) + 1 AS next FROM cases WHERE shopId = ?',
          [shop.id],
        );
        const saved = await manager.getRepository(Case).save({
          number: Number(next),
          shopId: shop.id,
          vehicleId,
          complaint,
          stage: 'open',
          openedBy: user.id,
          comebackOf: before?.id ?? null,
          ...(openedAt && { openedAt }),
        });
        const value: ComebackValue | undefined = before && { caseId: before.id, number: before.number };
        const link =
          value &&
          (await appendLink(manager, saved.id, undefined, { kind: 'comeback', at: 'case', value, takenBy: user.id }));
        await signCase(manager, this.config.sealKey, saved.id, link);
        await summarise(manager, saved.id);
        await this.audit.note(me, 'case.open', saved.id, manager);
        return { id: saved.id };
      }),
    );
  }

  /** Gives the case a system: a version of the shop's own, or a shipped path. It keeps its copy whatever becomes of that. */
  async giveSystem(me: SignedIn, caseId: string, dto: GiveSystemDto, takenAt?: Date): Promise<{ id: string }> {
    const value = await this.chosenSystem(me, dto);
    return this.access.write(me, caseId, 'diagnosis', async ({ append }) => {
      const { id } = await append({
        kind: 'system',
        at: 'path',
        value,
        takenBy: me.user.id,
        ...(takenAt && { takenAt }),
      });
      return { id };
    });
  }

  private async chosenSystem(me: SignedIn, { template, line, version }: GiveSystemDto): Promise<CaseSystem> {
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
    const item = await this.access.find(me, id);
    const { links, analyses, goods } = await this.evidence(id);
    const found = await this.learned.counted(me.shop);
    const ground = { ...groundOf(item.complaint, links, analyses, goods), ...(found && { found }) };
    const evidence = presentEvidence(ground, item.stage);
    return writeCase(item.complaint, evidence, rulesOf(me.shop));
  }

  /**
   * Records a verdict: one that the gate allows, or one that carries a lead's reason for ever. Weighing takes a while, so
   * it is done before the case is locked; evidence that came in meanwhile is weighed too, before anything is decided.
   */
  async decide(me: SignedIn, caseId: string, dto: DecideDto, takenAt?: Date): Promise<{ id: string }> {
    for (let tries = 0; tries < MOST_WEIGHINGS; tries++) {
      const item = await this.access.check(me, caseId, 'diagnosis');
      const weighed = await this.weigh(me, item, dto);
      const decided = await this.access.write(
        me,
        caseId,
        'diagnosis',
        async ({ manager, head: last, append, setStage }) => {
          if (last?.hash !== weighed.head) return undefined;
          const { value, barred } = weighed;
          const { id } = await append({
            kind: 'verdict',
            at: 'pump',
            value,
            takenBy: me.user.id,
            ...(takenAt && { takenAt }),
          });
          await setStage('decided');
          await this.audit.note(me, barred ? 'verdict.override' : 'verdict.decide', id, manager);
          return { id };
        },
      );
      if (decided) return decided;
    }
    throw new ConflictException('Evidence keeps coming in. Look at what was added, then decide.');
  }

  /** What the verdict would rest on, and whether the gate or a lead lets it pass. */
  private async weigh(me: SignedIn, { id, complaint, stage }: Case, { kind, statement, overrideReason }: DecideDto) {
    const { links, analyses, goods } = await this.evidence(id);
    const found = await this.learned.counted(me.shop);
    const ground = { ...groundOf(complaint, links, analyses, goods), ...(found && { found }) };
    const evidence = presentEvidence(ground, stage);
    const rules = rulesOf(me.shop);
    const { ledger } = judge(evidence, rules);
    const diagnosis = await this.pool.weigh({ evidence, rules });
    const gate = diagnosis.gate[kind];
    const barred = !gate.allowed;
    if (barred && !overrideReason) {
      throw new ConflictException({ message: ['The evidence doesn’t allow this verdict yet.', ...gate.missing] });
    }
    if (barred && !may(me.user.role, 'override')) throw new ForbiddenException('Only a lead may override the gate.');
    const value: VerdictValue = {
      kind,
      statement,
      gate,
      families: diagnosis.families.slice(0, FAMILIES_KEPT),
      ledger,
      grounds: verdictGrounds(evidence, diagnosis, kind, rules, me.shop.pressureUnit),
      overrideReason: barred ? (overrideReason ?? null) : null,
    };
    return { head: links.at(-1)?.hash, value, barred };
  }

  /** The shop's known-goods of a system of its own; never those of the case itself. */
  private async knownGoods(caseId: string, line: string | undefined): Promise<KnownGood[]> {
    if (line === undefined) return [];
    // A line belongs to one shop.
    const entries = await this.source
      .getRepository(ShelfEntry)
      .findBy({ systemLine: line, retired: false, caseId: Not(caseId) });
    return entries.map(({ numbers }) => numbers);
  }

  /** A case's links and captures, with the newest analysis of each, and the known-goods that its pump is rated by. */
  async evidence(caseId: string) {
    const { manager } = this.source;
    const [links, captures] = await Promise.all([
      manager.getRepository(EvidenceRecord).find({ where: { caseId }, order: { sequence: 'ASC' } }),
      manager.getRepository(CaptureRecord).findBy({ caseId, pendingSince: IsNull() }),
    ]);
    const records = await manager
      .getRepository(AnalysisRecord)
      .find({ where: { captureId: In(captures.map(({ id }) => id)) }, order: { madeAt: 'ASC' } });
    const analyses = new Map(records.map((record) => [record.captureId, record]));
    return { links, captures, analyses, goods: await this.knownGoods(caseId, systemOf(links)?.line) };
  }
}

const FAMILIES_KEPT = 5;
/** Somebody who adds evidence as fast as it is weighed isn't done yet. */
const MOST_WEIGHINGS = 5;
