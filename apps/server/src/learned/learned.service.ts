import type { Learned } from '@jarro/api-types';
import type { FoundCounts, Verdict } from '@jarro/core';
import { Injectable } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { DataSource } from 'typeorm';
import type { SignedIn } from '../auth/signed-in.js';
import type { Shop } from '../people/people.entities.js';
import { rulesOf } from '../people/shop-rules.js';

/** The newest verdict of each of a shop's closed cases, as far as the evidence allowed it. */
const PROVEN = `FROM case_summaries s
  JOIN evidence v ON v.caseId = s.caseId AND v.kind = 'verdict'
    AND v.sequence = (SELECT MAX(n.sequence) FROM evidence n WHERE n.caseId = s.caseId AND n.kind = 'verdict')
  WHERE s.shopId = ? AND s.stage = 'closed' AND JSON_VALUE(v.value, '$.overrideReason') IS NULL`;

/** What a shop's own closed cases teach: for people to look at, and for the weights where the house counts them. */
@Injectable()
export class LearnedService {
  constructor(@InjectDataSource() private readonly source: DataSource) {}

  /** Proven, closed cases by what was found. */
  async found({ id }: Pick<Shop, 'id'>): Promise<FoundCounts> {
    // Not called `kind`: the links' own column of that name would be grouped by.
    const rows = await this.source.query<{ decided: Verdict; count: string }[]>(
      `SELECT JSON_VALUE(v.value, '$.kind') AS decided, COUNT(*) AS count ${PROVEN} GROUP BY decided`,
      [id],
    );
    return Object.fromEntries(rows.map(({ decided, count }) => [decided, Number(count)]));
  }

  /** The same, where the house's weights count them; undefined where they don't. */
  async counted(shop: Shop): Promise<FoundCounts | undefined> {
    return rulesOf(shop).ownCases === 'counted' ? this.found(shop) : undefined;
  }

  async learned({ shop }: SignedIn): Promise<Learned> {
    const [found, [counts], efforts] = await Promise.all([
      this.found(shop),
      this.source.query<Record<'closed' | 'overridden' | 'comebacks' | 'saved' | 'quoted', string | null>[]>(
        `SELECT COUNT(*) AS closed,
           SUM(s.comebackOf IS NOT NULL) AS comebacks,
           SUM(JSON_VALUE(v.value, '$.overrideReason') IS NOT NULL) AS overridden,
           SUM(i.value IS NOT NULL AND JSON_VALUE(i.value, '$.condemnedBy') <> '') AS quoted,
           SUM(i.value IS NOT NULL AND JSON_VALUE(i.value, '$.condemnedBy') <> '' AND s.verdict <> 'replace-pump') AS saved
         FROM case_summaries s
         LEFT JOIN evidence v ON v.caseId = s.caseId AND v.kind = 'verdict'
           AND v.sequence = (SELECT MAX(n.sequence) FROM evidence n WHERE n.caseId = s.caseId AND n.kind = 'verdict')
         LEFT JOIN evidence i ON i.caseId = s.caseId AND i.kind = 'intake'
           AND i.sequence = (SELECT MAX(n.sequence) FROM evidence n WHERE n.caseId = s.caseId AND n.kind = 'intake')
         WHERE s.shopId = ? AND s.stage = 'closed'`,
        [shop.id],
      ),
      this.source.query<{ readings: string; minutes: string | null }[]>(
        `SELECT COUNT(e.id) AS readings, TIMESTAMPDIFF(SECOND, MIN(e.takenAt), v.takenAt) / 60 AS minutes
         FROM case_summaries s
         JOIN evidence v ON v.caseId = s.caseId AND v.kind = 'verdict'
           AND v.sequence = (SELECT MIN(n.sequence) FROM evidence n WHERE n.caseId = s.caseId AND n.kind = 'verdict')
         JOIN evidence e ON e.caseId = s.caseId AND e.sequence < v.sequence AND e.keyState IS NOT NULL
         WHERE s.shopId = ? AND s.stage <> 'open' GROUP BY s.caseId, v.takenAt`,
        [shop.id],
      ),
    ]);
    return {
      found,
      closed: Number(counts.closed),
      overridden: Number(counts.overridden ?? 0),
      comebacks: Number(counts.comebacks ?? 0),
      quoted: Number(counts.quoted ?? 0),
      saved: Number(counts.saved ?? 0),
      decided: efforts.length,
      medianReadings: middle(efforts.map(({ readings }) => Number(readings))),
      medianMinutes: middle(efforts.map(({ minutes }) => Number(minutes ?? 0))),
      counted: rulesOf(shop).ownCases === 'counted',
    };
  }
}

function middle(values: readonly number[]): number | null {
  if (values.length === 0) return null;
  const sorted = [...values].sort((a, b) => a - b);
  const half = sorted.length >> 1;
  return sorted.length % 2 ? sorted[half] : (sorted[half - 1] + sorted[half]) / 2;
}
