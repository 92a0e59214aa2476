import type { BoardCase, BoardPage, CaseStage, VerdictKind } from '@jarro/api-types';
import { ENTRY_KINDS } from '@jarro/core';
import { Injectable } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { DataSource, In, Not } from 'typeorm';
import type { SignedIn } from '../auth/signed-in.js';
import { Case, User, Vehicle } from '../database/entities.js';
import { head } from './case-head.js';

const PAGE = 60;

type Counted = Pick<BoardCase, 'captures' | 'readings' | 'verdict'>;

const NOTHING: Counted = { captures: 0, readings: 0, verdict: null };

/** The shop's cases a page at a time. Counted by the database: no piece of evidence is carried here for it. */
@Injectable()
export class Board {
  constructor(@InjectDataSource() private readonly source: DataSource) {}

  /** Open cases first, then the newest. @param page from 1 on */
  async page({ shop }: SignedIn, page: number): Promise<BoardPage> {
    const { open, total } = await this.totals(shop.id);
    const skip = (page - 1) * PAGE;
    const cases = await this.cases(shop.id, 'open', skip, PAGE);
    if (cases.length < PAGE) {
      const rest = Math.max(0, skip - open);
      cases.push(...(await this.cases(shop.id, 'done', rest, PAGE - cases.length)));
    }
    const [vehicles, people, counted] = await Promise.all([
      this.source.getRepository(Vehicle).findBy({ id: In(cases.map(({ vehicleId }) => vehicleId)) }),
      this.source.getRepository(User).findBy({ id: In(cases.map(({ openedBy }) => openedBy)) }),
      this.count(cases.map(({ id }) => id)),
    ]);
    const vehicleById = new Map(vehicles.map((vehicle) => [vehicle.id, vehicle]));
    return {
      total,
      pages: Math.max(1, Math.ceil(total / PAGE)),
      cases: cases.map((item) => ({
        ...head(item, vehicleById.get(item.vehicleId), people),
        ...(counted.get(item.id) ?? NOTHING),
      })),
    };
  }

  private async totals(shopId: string): Promise<{ open: number; total: number }> {
    const rows = await this.source.query<{ stage: CaseStage; count: string }[]>(
      'SELECT stage, COUNT(*) AS count FROM cases WHERE shopId = ? GROUP BY stage',
      [shopId],
    );
    const open = Number(rows.find(({ stage }) => stage === 'open')?.count ?? 0);
    return { open, total: rows.reduce((sum, { count }) => sum + Number(count), 0) };
  }

  private cases(shopId: string, which: 'open' | 'done', skip: number, take: number): Promise<Case[]> {
    const stage = which === 'open' ? 'open' : Not('open' as const);
    return this.source.getRepository(Case).find({ where: { shopId, stage }, order: { number: 'DESC' }, skip, take });
  }

  /** What stands in each case, by kind; the newest verdict. */
  private async count(ids: readonly string[]): Promise<ReadonlyMap<string, Counted>> {
    if (ids.length === 0) return new Map();
    const [rows, verdicts] = await Promise.all([
      this.source.query<{ caseId: string; captures: string; readings: string }[]>(
        `SELECT caseId, SUM(kind = 'capture') AS captures, SUM(kind IN (?) AND keyState IS NOT NULL) AS readings
         FROM evidence WHERE caseId IN (?)
         AND id NOT IN (SELECT at FROM evidence WHERE kind = 'void' AND caseId IN (?)) GROUP BY caseId`,
        [ENTRY_KINDS, ids, ids],
      ),
      this.source.query<{ caseId: string; verdict: VerdictKind }[]>(
        `SELECT caseId, JSON_VALUE(value, '$.kind') AS verdict FROM evidence
         WHERE kind = 'verdict' AND caseId IN (?) ORDER BY sequence`,
        [ids],
      ),
    ]);
    const verdictOf = new Map(verdicts.map(({ caseId, verdict }) => [caseId, verdict]));
    return new Map(
      rows.map(({ caseId, captures, readings }) => [
        caseId,
        { captures: Number(captures), readings: Number(readings), verdict: verdictOf.get(caseId) ?? null },
      ]),
    );
  }
}
