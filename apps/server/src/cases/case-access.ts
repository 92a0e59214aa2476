import type { CaseStage } from '@jarro/api-types';
import { takesReadings } from '@jarro/core';
import { ConflictException, Inject, Injectable, NotFoundException } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { DataSource, In, type EntityManager } from 'typeorm';
import type { SignedIn } from '../auth/signed-in.js';
import { CONFIG, type Config } from '../config.js';
import { appendLink, type Head, type NewEvidence } from '../database/evidence-chain.js';
import { Case } from './cases.entities.js';
import { EvidenceRecord } from '../evidence/evidence.entities.js';
import { retryDeadlocks } from '../database/retry.js';
import { headOf, signCase } from '../seal/case-seal.js';
import { summarise } from './summaries.js';

/**
 * What somebody is about to do to a case. `diagnosis` changes what a verdict rests on, `reading` is evidence of the diagnosis or
 * of the recheck, `record` what is written down beside it (intake, notes, photos, cautions), `repair` what is done after it, `removal`
 * what somebody asked to be taken out.
 */
export type CaseWork = 'diagnosis' | 'reading' | 'record' | 'repair' | 'close' | 'reopen' | 'removal';

interface StageRule {
  readonly stages: readonly CaseStage[];
  readonly refusal: Partial<Record<CaseStage, string>>;
}

const DECIDED = 'This case is decided. Reopen it to add or change evidence.';
const NOT_REPAIRED =
  'This case is decided. Write the repair down as finished to take readings for the recheck, or reopen the case.';
const CLOSED = 'This case is closed. Reopen it to add anything.';

const RULES: Readonly<Record<CaseWork, StageRule>> = {
  diagnosis: { stages: ['open'], refusal: { decided: DECIDED, closed: DECIDED } },
  reading: { stages: ['open', 'decided'], refusal: { closed: DECIDED } },
  record: { stages: ['open', 'decided'], refusal: { closed: CLOSED } },
  repair: { stages: ['decided'], refusal: { open: 'Give the verdict first.', closed: CLOSED } },
  close: { stages: ['decided'], refusal: { open: 'Give the verdict first.', closed: 'This case is closed already.' } },
  removal: { stages: ['open', 'decided', 'closed'], refusal: {} },
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
  constructor(
    @InjectDataSource() private readonly source: DataSource,
    @Inject(CONFIG) private readonly config: Config,
  ) {}

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
    await refuseUnrepaired(this.source.manager, item, work);
    return item;
  }

  /**
   * Changes a case in one transaction that begins by locking its row and ends by signing it. Keep what is slow outside of it.
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
        await refuseUnrepaired(manager, item, work);
        // Written, not only locked: nodes of a cluster know of one another's writes alone.
        await manager.query('UPDATE cases SET version = version + 1 WHERE id = ?', [id]);
        const last = await headOf(manager, id);
        let head = last;
        const changed = await change({
          item,
          manager,
          head: last,
          append: async (added) => {
            const link = await appendLink(manager, id, head, added);
            head = link;
            return link;
          },
          setStage: async (stage) => {
            await manager.getRepository(Case).update(id, { stage });
          },
        });
        await signCase(manager, this.config.sealKey, id, head);
        await summarise(manager, id);
        return changed;
      }),
    );
  }
}

function refuseStage({ stage }: Case, work: CaseWork): void {
  const { stages, refusal } = RULES[work];
  if (!stages.includes(stage)) throw new ConflictException(refusal[stage]);
}

/** Between verdict and repair nothing is read: it would belong to neither. */
async function refuseUnrepaired(manager: EntityManager, { id, stage }: Case, work: CaseWork): Promise<void> {
  if (work !== 'reading' || stage === 'open') return;
  const links = await manager
    .getRepository(EvidenceRecord)
    .find({ where: { caseId: id, kind: In(['verdict', 'repair', 'void']) }, order: { sequence: 'ASC' } });
  if (!takesReadings(links, stage)) throw new ConflictException(NOT_REPAIRED);
}

function noCase(): NotFoundException {
  return new NotFoundException('There is no such case.');
}
