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
import { Injectable } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { DataSource } from 'typeorm';
import type { SignedIn } from '../auth/signed-in.js';
import { CaseAccess } from '../cases/case-access.js';
import { peopleOf } from '../cases/case-head.js';
import { Vehicle } from '../cases/cases.entities.js';
import { CasesService } from '../cases/cases.service.js';
import { groundOf } from '../cases/judge.js';
import { User } from '../people/people.entities.js';
import { VerifyService } from '../seal/verify.service.js';
import { WorkPool } from '../work/work-pool.js';
import type { Paper } from './paper.js';
import type { ReportKind } from './render-report.js';

@Injectable()
export class ReportsService {
  constructor(
    @InjectDataSource() private readonly source: DataSource,
    private readonly access: CaseAccess,
    private readonly cases: CasesService,
    private readonly seals: VerifyService,
    private readonly pool: WorkPool,
  ) {}

  /** A case's report as a PDF; everything it rests on is verified for it. */
  async pdf(
    me: SignedIn,
    caseId: string,
    kind: ReportKind,
    paper: Paper,
  ): Promise<{ number: number; bytes: Uint8Array }> {
    const report = await this.report(me, caseId);
    return { number: report.number, bytes: await this.pool.report({ report, kind, paper }) };
  }

  async report(me: SignedIn, caseId: string): Promise<Report> {
    const item = await this.access.find(me, caseId);
    const { number, complaint, stage, openedAt, vehicleId, shopId } = item;
    const { links, captures, analyses, goods } = await this.cases.evidence(caseId);
    const [vehicle, users, seal] = await Promise.all([
      this.source.getRepository(Vehicle).findOneByOrFail({ id: vehicleId }),
      this.source.getRepository(User).findBy({ shopId }),
      this.seals.verify(me, caseId),
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
