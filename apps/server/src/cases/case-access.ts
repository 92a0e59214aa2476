import { ConflictException, Injectable, NotFoundException } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { DataSource, type EntityManager } from 'typeorm';
import type { SignedIn } from '../auth/signed-in.js';
import { appendLink, type Head, type NewEvidence } from '../database/evidence-chain.js';
import { Case, EvidenceRecord, type CaseStage } from '../database/entities.js';
import { retryDeadlocks } from '../database/retry.js';

/**
 * What somebody is about to do to a case. `diagnosis` is evidence that a verdict rests on, `record` what is written down
 * beside it (intake, notes, photos, cautions).
 */
export type CaseWork = 'diagnosis' | 'record' | 'close' | 'reopen';

interface StageRule {
  readonly stages: readonly CaseStage[];
  readonly refusal: Partial<Record<CaseStage, string>>;
}

const DECIDED = 'This case is decided. Reopen it to add or change evidence.';
const CLOSED = 'This case is closed. Reopen it to add anything.';

const RULES: Readonly<Record<CaseWork, StageRule>> = {
  diagnosis: { stages: ['open'], refusal: { decided: DECIDED, closed: DECIDED } },
  record: { stages: ['open', 'decided'], refusal: { closed: CLOSED } },
  close: { stages: ['decided'], refusal: { open: 'Give the verdict first.', closed: 'This case is closed already.' } },
  reopen: { stages: ['decided', 'closed'], refusal: { open: 'This case is open.' } },
};

/** A case while its row is locked: nobody else writes to it until the change is done. */
export interface HeldCase {
  readonly item: Case;
  readonly manager: EntityManager;
  /** The chain's newest link; absent before the first. */
  readonly head: Head | undefined;
  readonly append: (added: NewEvidence) => Promise<EvidenceRecord>;
  readonly setStage: (stage: CaseStage) => Promise<void>;
}

/** The one way to a case: whose it is, what its stage allows, and who comes first when several write at once. */
@Injectable()
export class CaseAccess {
  constructor(@InjectDataSource() private readonly source: DataSource) {}

  /** @throws NotFoundException for other shops' cases too: their existence is nobody's business */
  async find({ shop }: SignedIn, id: string): Promise<Case> {
    const item = await this.source.getRepository(Case).findOneBy({ id, shopId: shop.id });
    if (!item) throw noCase();
    return item;
  }

  /** Refuses early what can't be done now; `write` asks again, under the lock. */
  async check(me: SignedIn, id: string, work: CaseWork): Promise<Case> {
    const item = await this.find(me, id);
    refuseStage(item, work);
    return item;
  }

  /**
   * Changes a case in one transaction that begins by locking its row. Keep what is slow outside of it.
   * @param change may run more than once, where the database gave the first time up
   */
  write<T>(me: SignedIn, id: string, work: CaseWork, change: (held: HeldCase) => Promise<T>): Promise<T> {
    return retryDeadlocks(() =>
      this.source.transaction(async (manager) => {
        const item = await manager
          .getRepository(Case)
          .findOne({ where: { id, shopId: me.shop.id }, lock: { mode: 'pessimistic_write' } });
        if (!item) throw noCase();
        refuseStage(item, work);
        const [last] = await manager.getRepository(EvidenceRecord).find({
          where: { caseId: id },
          order: { sequence: 'DESC' },
          take: 1,
          select: { sequence: true, hash: true },
        });
        let head: Head | undefined = last;
        return change({
          item,
          manager,
          head,
          append: async (added) => {
            const link = await appendLink(manager, id, head, added);
            head = link;
            return link;
          },
          setStage: async (stage) => {
            await manager.getRepository(Case).update(id, { stage });
          },
        });
      }),
    );
  }
}

function refuseStage({ stage }: Case, work: CaseWork): void {
  const { stages, refusal } = RULES[work];
  if (!stages.includes(stage)) throw new ConflictException(refusal[stage]);
}

function noCase(): NotFoundException {
  return new NotFoundException('There is no such case.');
}
