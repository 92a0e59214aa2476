import type { CloseValue, ReopenValue } from '@jarro/api-types';
import {
  checkLeftIn,
  checkRepair,
  checkTakenOut,
  DONE,
  handOver,
  recheckQuestion,
  repairState,
  stageGuide,
  type ChainLink,
} from '@jarro/core';
import { ConflictException, Injectable } from '@nestjs/common';
import type { EntityManager } from 'typeorm';
import { AuditService } from '../audit/audit.service.js';
import type { SignedIn } from '../auth/signed-in.js';
import { CaseAccess } from '../cases/case-access.js';
import { CasesService } from '../cases/cases.service.js';
import { groundOf } from '../cases/judge.js';
import { EvidenceRecord } from '../evidence/evidence.entities.js';
import { WorkPool } from '../work/work-pool.js';
import type { LeftInDto, ReopenDto, RepairDto, TakenOutDto } from './repairs.dto.js';

/** Somebody who adds readings as fast as they are compared isn't done yet. */
const MOST_TRIES = 5;

@Injectable()
export class RepairsService {
  constructor(
    private readonly access: CaseAccess,
    private readonly cases: CasesService,
    private readonly pool: WorkPool,
    private readonly audit: AuditService,
  ) {}

  /**
   * Keeps a particular, a fitted part, or the end of the repair.
   * @param takenAt for what was done before it was written down; now when absent
   * @throws ConflictException once it is finished, and for its end while particulars are open
   */
  repair(me: SignedIn, caseId: string, { at, value }: RepairDto, takenAt?: Date): Promise<{ id: string }> {
    return this.access.write(me, caseId, 'repair', async ({ item, manager, append }) => {
      const state = repairState(await linksOf(manager, caseId), item.stage);
      if (!state) throw new ConflictException('Give the verdict first.');
      if (state.done)
        throw new ConflictException('This repair is finished. Reopen the case if it has to be done again.');
      if (state.plan.opensFuel) await refuseUncautioned(manager, caseId);
      const kept = checkRepair(at, value, state.plan.steps);
      if (at === DONE && state.open.length > 0) {
        throw new ConflictException({
          message: ['Tick each particular, or say why it was left out.', ...state.open.map(({ text }) => text)],
        });
      }
      const { id } = await append({
        kind: 'repair',
        at,
        value: kept,
        takenBy: me.user.id,
        ...(takenAt && { takenAt }),
      });
      return { id };
    });
  }

  leftIn(me: SignedIn, caseId: string, { at, what }: LeftInDto): Promise<{ id: string }> {
    const value = checkLeftIn(at, { what });
    return this.access.write(me, caseId, 'record', async ({ append }) => {
      const { id } = await append({ kind: 'left-in', at, value, takenBy: me.user.id });
      return { id };
    });
  }

  takenOut(me: SignedIn, caseId: string, { at, how }: TakenOutDto, takenAt?: Date): Promise<{ id: string }> {
    return this.access.write(me, caseId, 'record', async ({ manager, append }) => {
      const value = checkTakenOut(at, { how }, await linksOf(manager, caseId));
      const { id } = await append({ kind: 'taken-out', at, value, takenBy: me.user.id, ...(takenAt && { takenAt }) });
      return { id };
    });
  }

  /**
   * Hands the vehicle back, once everything stands. The tests before and after are compared before the case is locked; what
   * came in meanwhile is compared too.
   * @param takenAt for a hand-over of before it was written down; now when absent
   * @throws ConflictException naming what is open or fails
   */
  async close(me: SignedIn, caseId: string, takenAt?: Date): Promise<void> {
    for (let tries = 0; tries < MOST_TRIES; tries++) {
      const { complaint, stage } = await this.access.check(me, caseId, 'close');
      const { links, analyses, goods } = await this.cases.evidence(caseId);
      const question = recheckQuestion(groundOf(complaint, links, analyses, goods), stage);
      const compared = question && (await this.pool.recheck(question));
      const { needs, ready, fails } = handOver(links, stage, compared);
      if (!ready) {
        const open = needs.filter(({ state }) => state !== 'met').map(({ text }) => text);
        throw new ConflictException({ message: [fails ? FAILED : NOT_READY, ...open] });
      }
      const closed = await this.access.write(me, caseId, 'close', async ({ manager, head, append, setStage }) => {
        if (head?.hash !== links.at(-1)?.hash) return false;
        const value: CloseValue = { needs: needs.map(({ text }) => text), repeats: compared?.repeats ?? [] };
        await append({ kind: 'close', at: 'case', value, takenBy: me.user.id, ...(takenAt && { takenAt }) });
        await setStage('closed');
        await this.audit.note(me, 'case.close', caseId, manager);
        return true;
      });
      if (closed) return;
    }
    throw new ConflictException('Readings keep coming in. Look at what was added, then close the case.');
  }

  async reopen(me: SignedIn, caseId: string, { reason }: ReopenDto): Promise<void> {
    await this.access.write(me, caseId, 'reopen', async ({ manager, append, setStage }) => {
      const value: ReopenValue = { reason };
      await append({ kind: 'reopen', at: 'case', value, takenBy: me.user.id });
      await setStage('open');
      await this.audit.note(me, 'case.reopen', caseId, manager);
    });
  }
}

/** @throws ConflictException before the cautions of opening fuel lines and the tank were acknowledged */
async function refuseUncautioned(manager: EntityManager, caseId: string): Promise<void> {
  const seen = await manager.getRepository(EvidenceRecord).findBy({ caseId, kind: 'caution' });
  const ahead = stageGuide('repair').cautions.filter((one) => one.acknowledge && !seen.some(({ at }) => at === one.id));
  if (ahead.length === 0) return;
  const names = ahead.map(({ name }) => name.toLowerCase()).join(', ');
  throw new ConflictException(`This can hurt someone: acknowledge the cautions of the repair first (${names}).`);
}

const NOT_READY = 'The vehicle can’t be handed back yet.';
const FAILED = 'The recheck fails: reopen the case, with what it taught.';

function linksOf(manager: EntityManager, caseId: string): Promise<readonly (EvidenceRecord & ChainLink)[]> {
  return manager.getRepository(EvidenceRecord).find({ where: { caseId }, order: { sequence: 'ASC' } });
}
