import { Injectable } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { DataSource, LessThan, type EntityManager } from 'typeorm';
import type { SignedIn } from '../auth/auth.service.js';
import { AuditEntry, User } from '../database/entities.js';

const PAGE = 100;

/** Who did what, in order; nothing here is ever changed. */
@Injectable()
export class AuditService {
  constructor(@InjectDataSource() private readonly source: DataSource) {}

  /** @param manager that of the transaction which does what is noted, so that neither is without the other */
  async note(
    { user, shop }: SignedIn,
    action: string,
    target: string,
    manager: EntityManager = this.source.manager,
  ): Promise<void> {
    await manager.getRepository(AuditEntry).insert({ shopId: shop.id, userId: user.id, action, target });
  }

  /** The shop's newest entries, a page at a time. */
  async list({ shop }: SignedIn, before?: number) {
    const [entries, people] = await Promise.all([
      this.source.getRepository(AuditEntry).find({
        where: { shopId: shop.id, ...(before !== undefined && { id: LessThan(String(before)) }) },
        order: { id: 'DESC' },
        take: PAGE,
      }),
      this.source.getRepository(User).findBy({ shopId: shop.id }),
    ]);
    return entries.map(({ id, action, target, at, userId }) => ({
      id: Number(id),
      action,
      target,
      at,
      by: people.find((person) => person.id === userId)?.name ?? null,
    }));
  }
}
