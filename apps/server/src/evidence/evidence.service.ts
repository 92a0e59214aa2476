import {
  ACKNOWLEDGED_CAUTIONS,
  cautionsBefore,
  checkEntry,
  NOT_POSSIBLE,
  checkIntake,
  checkMark,
  findPlace,
  InputError,
  isVoidable,
  phasesOf,
  profileOf,
  voidsOf,
  type HowTaken,
  type Intake,
  type RecordMark,
} from '@jarro/core';
import { ConflictException, Injectable, NotFoundException } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { DataSource, In, type EntityManager } from 'typeorm';
import type { SignedIn } from '../auth/signed-in.js';
import { CaseAccess } from '../cases/case-access.js';
import { EvidenceRecord } from './evidence.entities.js';
import { CaptureRecord } from '../captures/captures.entities.js';
import { User } from '../people/people.entities.js';
import { Vehicle } from '../cases/cases.entities.js';
import { AuditService } from '../audit/audit.service.js';
import { hasArrived, timeOf } from './may-have-waited.js';
import type { AcknowledgeDto, AddEntryDto, AddMarkDto, AddNoteDto } from './evidence.dto.js';

/** Everything that is added to a case's chain by hand. */
@Injectable()
export class EvidenceService {
  constructor(
    @InjectDataSource() private readonly source: DataSource,
    private readonly access: CaseAccess,
    private readonly audit: AuditService,
  ) {}

  /**
   * Keeps an entry; one that was sent before and arrived is left as it is.
   * @param takenAt for what was read before it was written down; now when absent
   */
  async add(me: SignedIn, caseId: string, dto: AddEntryDto, takenAt = timeOf(dto)): Promise<{ id: string }> {
    const { kind, at, keyState, faultPresent } = dto;
    // Asked before the case's stage is: it may have been decided since the entry came in and its answer got lost.
    await this.access.find(me, caseId);
    if (await hasArrived(this.source.manager, caseId, dto)) return { id: dto.id ?? '' };
    const value = checkEntry(kind, at, dto.value, keyState);
    const how = howTaken(dto);
    return this.access.write(me, caseId, 'reading', async ({ manager, append }) => {
      if (await hasArrived(manager, caseId, dto)) return { id: dto.id ?? '' };
      await this.checkAgainstCase(manager, caseId, dto);
      const { id } = await append({
        ...(dto.id && { id: dto.id }),
        kind,
        at,
        value,
        keyState,
        faultPresent,
        takenBy: me.user.id,
        ...(how && { how }),
        ...(takenAt && { takenAt }),
      });
      return { id };
    });
  }

  /** @throws InputError for a station that the case's path hasn't, and before its cautions were acknowledged */
  private async checkAgainstCase(
    manager: EntityManager,
    caseId: string,
    { kind, at, value }: AddEntryDto,
  ): Promise<void> {
    const links = await manager
      .getRepository(EvidenceRecord)
      .find({ where: { caseId, kind: In(['system', 'intake', 'caution', 'void']) }, order: { sequence: 'ASC' } });
    const acknowledged = new Set(links.filter((link) => link.kind === 'caution').map((link) => link.at));
    // What wasn't done hurt nobody.
    const ahead = value === NOT_POSSIBLE ? [] : cautionsBefore(kind, at).filter(({ id }) => !acknowledged.has(id));
    if (ahead.length > 0) {
      const names = ahead.map(({ name }) => name.toLowerCase()).join(', ');
      throw new InputError(`This can hurt someone: acknowledge the cautions of its stage first (${names}).`);
    }
    const place = findPlace(kind, at, profileOf(links));
    if ('message' in place) throw new InputError(place.message);
  }

  /** Keeps a note; one that was sent before and arrived is left as it is. */
  async addNote(me: SignedIn, caseId: string, dto: AddNoteDto, takenAt = timeOf(dto)): Promise<{ id: string }> {
    const { stage, text } = dto;
    const note = { ...(dto.id && { id: dto.id }), kind: 'note', at: stage } as const;
    await this.access.find(me, caseId);
    if (await hasArrived(this.source.manager, caseId, note)) return { id: dto.id ?? '' };
    return this.access.write(me, caseId, 'record', async ({ manager, append }) => {
      if (await hasArrived(manager, caseId, note)) return { id: dto.id ?? '' };
      const { id } = await append({ ...note, value: text, takenBy: me.user.id, ...(takenAt && { takenAt }) });
      return { id };
    });
  }

  /** @throws InputError for a moment outside of the record; NotFoundException when the case has no such capture */
  addMark(me: SignedIn, caseId: string, { captureId, mark, atS, what }: AddMarkDto): Promise<{ id: string }> {
    return this.access.write(me, caseId, 'record', async ({ manager, append }) => {
      const record = await manager.getRepository(CaptureRecord).findOneBy({ id: captureId, caseId });
      if (!record) throw new NotFoundException('There is no such capture in this case.');
      const value: RecordMark = { mark, atS, ...(what !== undefined && { what }) };
      checkMark(value, record);
      const { id } = await append({ kind: 'mark', at: captureId, value, takenBy: me.user.id });
      return { id };
    });
  }

  /** Once a case and caution; a second time changes nothing. */
  async acknowledge(me: SignedIn, caseId: string, { caution }: AcknowledgeDto, takenAt?: Date): Promise<void> {
    if (!ACKNOWLEDGED_CAUTIONS.includes(caution)) throw new InputError(`There is no caution "${caution}".`);
    await this.access.write(me, caseId, 'record', async ({ manager, append }) => {
      const known = await manager.getRepository(EvidenceRecord).existsBy({ caseId, kind: 'caution', at: caution });
      if (known) return;
      await append({
        kind: 'caution',
        at: caution,
        value: true,
        takenBy: me.user.id,
        ...(takenAt && { takenAt }),
      });
    });
  }

  /**
   * Saves the whole intake as a new link; every earlier one stays on record.
   * @throws ConflictException when somebody saved one in between
   */
  async saveIntake(
    me: SignedIn,
    caseId: string,
    { basis, intake }: { readonly basis: number; readonly intake: Intake },
    takenAt?: Date,
  ): Promise<{ sequence: number }> {
    checkIntake(intake);
    return this.access.write(me, caseId, 'record', async ({ item, manager, append }) => {
      const [newest] = await manager
        .getRepository(EvidenceRecord)
        .find({ where: { caseId, kind: 'intake' }, order: { sequence: 'DESC' }, take: 1 });
      if ((newest?.sequence ?? 0) !== basis) {
        const other = await manager.getRepository(User).findOneBy({ id: newest?.takenBy ?? '' });
        throw new ConflictException(
          `${other?.name ?? 'Someone'} saved this intake meanwhile. Nothing of yours is lost: choose what holds, then save again.`,
        );
      }
      if (intake.vehicle) {
        const { model, engine, plate, year = null } = intake.vehicle;
        await manager.getRepository(Vehicle).update(item.vehicleId, { model, engine, plate, year });
      }
      const codes = [...new Set(intake.codes.map((code) => code.trim().toUpperCase()))];
      const { sequence } = await append({
        kind: 'intake',
        at: 'intake',
        value: { ...intake, codes },
        takenBy: me.user.id,
        ...(takenAt && { takenAt }),
      });
      return { sequence };
    });
  }

  /** A wrong entry stays on record: its void is a link of its own, with the reason. */
  async void(me: SignedIn, caseId: string, id: string, reason: string): Promise<void> {
    await this.access.write(me, caseId, 'reading', async ({ item, manager, append }) => {
      const links = await manager.getRepository(EvidenceRecord).find({ where: { caseId }, order: { sequence: 'ASC' } });
      const target = links.find((link) => link.id === id);
      if (!target || !isVoidable(target) || voidsOf(links).has(id)) {
        throw new NotFoundException('That entry is not in this case, or was voided already.');
      }
      const { done } = phasesOf(links, item.stage);
      if (done && target.sequence < done.sequence) {
        throw new ConflictException('The verdict rests on this entry. Reopen the case to void it.');
      }
      await append({ kind: 'void', at: id, value: { reason }, takenBy: me.user.id });
      await this.audit.note(me, 'evidence.void', id, manager);
    });
  }
}

/** What was said of how it was taken, without what is usual; undefined when all was. */
function howTaken(dto: AddEntryDto): HowTaken | undefined {
  const { reference, unloaded, trust, helped, boosted, pierced, commandPercent } = dto;
  const how = {
    ...(reference && reference !== 'battery-' && { reference }),
    ...(unloaded && { unloaded }),
    ...(trust && trust !== 'normal' && { trust }),
    ...(helped && { helped }),
    ...(boosted !== undefined && { boosted }),
    ...(pierced && { pierced }),
    ...(commandPercent !== undefined && { commandPercent }),
  };
  return Object.keys(how).length > 0 ? how : undefined;
}
