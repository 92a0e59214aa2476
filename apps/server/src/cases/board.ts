import type { BoardCase, BoardPage, CaseStage, VerdictKind } from '@jarro/api-types';
import { Injectable } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { DataSource } from 'typeorm';
import type { SignedIn } from '../auth/signed-in.js';
import type { BoardDto } from './cases.dto.js';

const PAGE = 60;

interface Row extends Omit<BoardCase, 'openedAt' | 'vehicle' | 'verdict' | 'repaired' | 'isComeback'> {
  readonly repaired: number;
  readonly isComeback: number | string;
  readonly openedAt: Date;
  readonly verdict: VerdictKind | null;
  readonly stage: CaseStage;
  readonly model: string;
  readonly year: number | null;
  readonly engine: string;
  readonly plate: string;
}

/** The shop's cases a page at a time, searched and filtered by their summaries: no evidence is read for it. */
@Injectable()
export class Board {
  constructor(@InjectDataSource() private readonly source: DataSource) {}

  /** Open cases first, then the newest. */
  async page(
    { shop, user }: SignedIn,
    { page = 1, search, stage, mine, by, verdict, suspect, olderDays }: BoardDto,
  ): Promise<BoardPage> {
    const words = search?.split(/\s+/).filter(Boolean) ?? [];
    const where = [
      's.shopId = ?',
      ...(stage ? ['s.stage = ?'] : []),
      ...(mine ? ['s.openedBy = ?'] : []),
      ...(by ? ['s.openedBy = ?'] : []),
      ...(verdict ? ['s.verdict = ?'] : []),
      // What is suspected is decided by the verdict.
      ...(suspect ? ['s.isOpen AND s.suspect = ?'] : []),
      ...(olderDays !== undefined ? ['s.openedAt < UTC_TIMESTAMP(3) - INTERVAL ? DAY'] : []),
      ...words.map(() => "CONCAT_WS(' ', s.number, s.model, s.year, s.engine, s.plate, s.complaint) LIKE ?"),
    ].join(' AND ');
    const values = [
      shop.id,
      ...(stage ? [stage] : []),
      ...(mine ? [user.id] : []),
      ...(by ? [by] : []),
      ...(verdict ? [verdict] : []),
      ...(suspect ? [suspect] : []),
      ...(olderDays !== undefined ? [olderDays] : []),
      ...words.map((word) => `%${word.replace(/[\\%_]/g, '\\$&')}%`),
    ];
    // Both go through the shop's summaries; side by side they take no longer than one.
    const [rows, total] = await Promise.all([
      this.source.query<Row[]>(
        `SELECT s.caseId AS id, s.version, s.number, s.complaint, s.stage, s.openedAt, users.name AS openedBy, s.model,
           s.year, s.engine, s.plate, s.captures, s.readings, s.verdict, IF(s.isOpen, s.suspect, NULL) AS suspect,
           s.repaired, s.comebackOf IS NOT NULL AS isComeback
         FROM case_summaries s LEFT JOIN users ON users.id = s.openedBy
         WHERE ${where} ORDER BY s.isOpen DESC, s.number DESC LIMIT ? OFFSET ?`,
        [...values, PAGE, (page - 1) * PAGE],
      ),
      this.count(where, values),
    ]);
    return {
      total,
      pages: Math.max(1, Math.ceil(total / PAGE)),
      cases: rows.map(({ model, year, engine, plate, openedAt, repaired, isComeback, ...row }) => ({
        ...row,
        repaired: Boolean(repaired),
        isComeback: Boolean(Number(isComeback)),
        openedAt: openedAt.toISOString(),
        vehicle: { model, year, engine, plate },
      })),
    };
  }

  private async count(where: string, values: readonly (string | number)[]): Promise<number> {
    const [{ total }] = await this.source.query<[{ total: string }]>(
      `SELECT COUNT(*) AS total FROM case_summaries s WHERE ${where}`,
      [...values],
    );
    return Number(total);
  }
}
