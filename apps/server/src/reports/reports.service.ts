import { createHash } from 'node:crypto';
import { buffer } from 'node:stream/consumers';
import {
  caseBench,
  caseReport,
  comparedLadders,
  recheckQuestion,
  type ComparedLadders,
  type HouseRules,
  type RecheckQuestion,
  type Report,
} from '@jarro/core';
import { Injectable, type OnModuleInit } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { DataSource } from 'typeorm';
import type { SignedIn } from '../auth/signed-in.js';
import { Originals } from '../captures/originals.js';
import { CaseAccess } from '../cases/case-access.js';
import { peopleOf } from '../cases/case-head.js';
import { Vehicle } from '../cases/cases.entities.js';
import { CasesService } from '../cases/cases.service.js';
import { groundOf } from '../cases/judge.js';
import { User } from '../people/people.entities.js';
import { VerifyService } from '../seal/verify.service.js';
import { JobRunner, type Running } from '../work/job-runner.js';
import { caseOf } from '../work/jobs.entities.js';
import { Jobs } from '../work/jobs.js';
import { WorkPool } from '../work/work-pool.js';
import type { Paper } from './paper.js';
import type { ReportKind } from './render-report.js';

/** Which report is asked for. */
export interface ReportChoice {
  readonly kind: ReportKind;
  readonly paper: Paper;
}

/** A report that was drawn; the PDF lies among the originals until whoever asked has it. */
interface Drawn {
  /** The case's. */
  readonly id: string;
  readonly number: number;
  readonly sha256: string;
}

@Injectable()
export class ReportsService implements OnModuleInit {
  constructor(
    @InjectDataSource() private readonly source: DataSource,
    private readonly access: CaseAccess,
    private readonly cases: CasesService,
    private readonly seals: VerifyService,
    private readonly pool: WorkPool,
    private readonly originals: Originals,
    private readonly jobs: Jobs,
    private readonly runner: JobRunner,
  ) {}

  onModuleInit(): void {
    this.runner.handle('report', (running) => this.draw(running));
  }

  /**
   * A case's report as a PDF; everything it rests on is verified for it, which takes minutes where its records are large.
   * @param id of the job that does it
   * @param gone stops it when nobody waits for it any more
   */
  async pdf(
    me: SignedIn,
    caseId: string,
    { kind, paper }: ReportChoice,
    id: string,
    gone: AbortSignal,
  ): Promise<{ number: number; bytes: Buffer }> {
    await this.access.find(me, caseId);
    await this.jobs.receive({ id, kind: 'report', caseId, userId: me.user.id }, () => Promise.resolve({ kind, paper }));
    const { number, sha256 } = await this.runner.result<Drawn>(id, gone);
    const bytes = await buffer(this.originals.read(sha256));
    await this.originals.discard(sha256);
    return { number, bytes };
  }

  private async draw({ job, me, gone, report }: Running): Promise<void> {
    const caseId = caseOf(job);
    const told = await this.report(me, caseId, async (share) => {
      gone.throwIfAborted();
      await report('checking', share);
    });
    await report('storing');
    const pdf = await this.print(told, job.task as ReportChoice);
    gone.throwIfAborted();
    const sha256 = createHash('sha256').update(pdf).digest('hex');
    await this.originals.keep(sha256, pdf.length, () => [pdf]);
    await this.jobs.finish(job, { id: caseId, number: told.number, sha256 } satisfies Drawn, this.source.manager);
  }

  /** @returns a PDF */
  async print(report: Report, choice: ReportChoice): Promise<Buffer> {
    return Buffer.from(await this.pool.report({ report, ...choice }));
  }

  /** What a report tells. @param step is told how much of what it rests on was verified, 0 to 1 */
  async report(me: SignedIn, caseId: string, step?: (share: number) => Promise<void>): Promise<Report> {
    const item = await this.access.find(me, caseId);
    const { number, complaint, stage, openedAt, vehicleId, shopId } = item;
    const { links, captures, analyses, goods } = await this.cases.evidence(caseId);
    const [vehicle, users, seal] = await Promise.all([
      this.source.getRepository(Vehicle).findOneByOrFail({ id: vehicleId }),
      this.source.getRepository(User).findBy({ shopId }),
      this.seals.verify(me, caseId, step),
    ]);
    const question = recheckQuestion(groundOf(complaint, links, analyses, goods), stage);
    const path = question && pathOf(question, me.shop.rules);
    const names = peopleOf(item, users);
    return caseReport({
      shop: me.shop,
      ...{ number, complaint, stage },
      vehicle: [[vehicle.year, vehicle.model].filter(Boolean).join(' '), vehicle.engine].filter(Boolean).join(', '),
      plate: vehicle.plate,
      openedAt: openedAt.toISOString(),
      links: links.map((link) => ({ ...link, takenBy: names.get(link.takenBy) ?? null })),
      captures: captures.map(({ id, label, fileName }) => ({
        ...{ id, label, fileName },
        analysis: analyses.get(id)?.result ?? null,
      })),
      recheck: question && (await this.pool.recheck(question)),
      ...(path && { path }),
      unit: me.user.pressureUnit ?? me.shop.pressureUnit,
      sealProblems: seal.problems,
    });
  }
}

/** The staircases before and after the repair; each takes a millisecond. */
function pathOf({ before, after }: RecheckQuestion, rules: HouseRules): ComparedLadders | undefined {
  return comparedLadders(caseBench(before, rules).ladders, caseBench(after, rules).ladders);
}
