import type { AuditLine } from '@jarro/api-types';
import { Injectable } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { DataSource, In, LessThan, type EntityManager } from 'typeorm';
import type { SignedIn } from '../auth/signed-in.js';
import { AuditEntry } from '../audit/audit.entities.js';
import { Case } from '../cases/cases.entities.js';
import { EvidenceRecord } from '../evidence/evidence.entities.js';
import { User } from '../people/people.entities.js';

const PAGE = 100;
const LONGEST_TARGET = 190;

/** By whole characters: half of one is no text. */
function shortened(target: string): string {
  const characters = [...target];
  return characters.length > LONGEST_TARGET ? `${characters.slice(0, LONGEST_TARGET - 1).join('')}…` : target;
}

/** Who did what, in order; nothing here is ever changed, but for words that somebody asked to be taken out. */
@Injectable()
export class AuditService {
  constructor(@InjectDataSource() private readonly source: DataSource) {}

  /** What somebody did who isn't signed in, or not yet. */
  async noteOf({ id, shopId }: Pick<User, 'id' | 'shopId'>, action: string, target: string): Promise<void> {
    await this.source.getRepository(AuditEntry).insert({ shopId, userId: id, action, target: shortened(target) });
  }

  /** @param manager that of the transaction which does what is noted, so that neither is without the other */
  async note(
    { user, shop }: SignedIn,
    action: string,
    target: string,
    manager: EntityManager = this.source.manager,
  ): Promise<void> {
    await manager.getRepository(AuditEntry).insert({
      shopId: shop.id,
      userId: user.id,
      action,
      target: shortened(target),
    });
  }

  /** The shop's newest entries, a page at a time. */
  async list({ shop }: SignedIn, before?: number): Promise<AuditLine[]> {
    const [entries, people] = await Promise.all([
      this.source.getRepository(AuditEntry).find({
        where: { shopId: shop.id, ...(before !== undefined && { id: LessThan(String(before)) }) },
        order: { id: 'DESC' },
        take: PAGE,
      }),
      this.source.getRepository(User).findBy({ shopId: shop.id }),
    ]);
    const numbers = await this.caseNumbers(entries.map(({ target }) => target));
    return entries.map(({ id, action, target, at, userId }) => ({
      id: Number(id),
      action,
      target: numbers.has(target) ? `case ${numbers.get(target)}` : target,
      at: at.toISOString(),
      by: people.find((person) => person.id === userId)?.name ?? null,
    }));
  }

  /** Targets that are a case, or a link of one, by the number that people know it by. */
  private async caseNumbers(targets: readonly string[]): Promise<Map<string, number>> {
    if (targets.length === 0) return new Map();
    const links = await this.source.getRepository(EvidenceRecord).find({
      where: { id: In([...targets]) },
      select: { id: true, caseId: true },
    });
    const caseOf = new Map(links.map(({ id, caseId }) => [id, caseId]));
    const ids = [...new Set(targets.map((target) => caseOf.get(target) ?? target))];
    const cases = await this.source
      .getRepository(Case)
      .find({ where: { id: In(ids) }, select: { id: true, number: true } });
    const numbers = new Map(cases.map(({ id, number }) => [id, number]));
    return new Map(
      targets.flatMap((target) => {
        const number = numbers.get(caseOf.get(target) ?? target);
        return number === undefined ? [] : [[target, number] as const];
      }),
    );
  }
}
