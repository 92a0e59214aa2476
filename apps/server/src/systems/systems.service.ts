import type { SystemHistory, SystemItem, SystemVersionItem } from '@jarro/api-types';
import { readProfile, type SystemProfile } from '@jarro/core';
import { BadRequestException, ConflictException, Injectable, NotFoundException } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { DataSource, In, type EntityManager } from 'typeorm';
import type { SignedIn } from '../auth/signed-in.js';
import { SystemLine, SystemVersion } from './systems.entities.js';
import { User } from '../people/people.entities.js';
import { AuditService } from '../audit/audit.service.js';

/** A shop's own systems: each a line of versions, none of which ever changes. */
@Injectable()
export class SystemsService {
  constructor(
    @InjectDataSource() private readonly source: DataSource,
    private readonly audit: AuditService,
  ) {}

  /** The newest version of every line. */
  async list({ shop }: SignedIn): Promise<SystemItem[]> {
    const lines = await this.source.getRepository(SystemLine).findBy({ shopId: shop.id });
    const versions = await this.source
      .getRepository(SystemVersion)
      .find({ where: { lineId: In(lines.map(({ id }) => id)) }, order: { version: 'ASC' } });
    const newest = new Map(versions.map((version) => [version.lineId, version]));
    const names = await this.names(shop.id);
    return lines
      .map((line) => ({ line, version: newest.get(line.id) }))
      .flatMap(({ line: { id, retired }, version }) => (version ? [{ id, retired, ...shown(version, names) }] : []))
      .sort((a, b) => a.profile.name.localeCompare(b.profile.name));
  }

  async versions(me: SignedIn, lineId: string): Promise<SystemHistory> {
    const { id, retired } = await this.find(me, lineId);
    const versions = await this.source
      .getRepository(SystemVersion)
      .find({ where: { lineId }, order: { version: 'DESC' } });
    const names = await this.names(me.shop.id);
    return { id, retired, versions: versions.map((version) => shown(version, names)) };
  }

  async add(me: SignedIn, content: unknown): Promise<{ id: string; version: number }> {
    const profile = checked(content);
    return this.source.transaction(async (manager) => {
      const { id } = await manager.getRepository(SystemLine).save({ shopId: me.shop.id, retired: false });
      await this.store(manager, me, id, 1, profile);
      return { id, version: 1 };
    });
  }

  /** Keeps a changed system as its next version. @throws ConflictException when somebody kept one in between */
  async change(me: SignedIn, lineId: string, basis: number, content: unknown): Promise<{ version: number }> {
    const profile = checked(content);
    await this.find(me, lineId);
    return this.source.transaction(async (manager) => {
      // The line's row is the queue for versions.
      await manager.query('SELECT id FROM system_lines WHERE id = ? FOR UPDATE', [lineId]);
      const newest = await this.newest(manager, lineId);
      if (newest.version !== basis) {
        throw new ConflictException(
          `Version ${newest.version} was kept meanwhile. Yours isn’t lost: duplicate it, or look at theirs and keep yours after it.`,
        );
      }
      await this.store(manager, me, lineId, basis + 1, profile);
      return { version: basis + 1 };
    });
  }

  /** A retired system is offered to no new case; cases that have it keep it. */
  async retire(me: SignedIn, lineId: string, retired: boolean): Promise<void> {
    await this.find(me, lineId);
    await this.source.getRepository(SystemLine).update(lineId, { retired });
    await this.audit.note(me, retired ? 'system.retire' : 'system.return', lineId);
  }

  /** A version to give to a case. @throws ConflictException when the system is retired */
  async version(me: SignedIn, lineId: string, version: number): Promise<SystemProfile> {
    const { retired } = await this.find(me, lineId);
    if (retired) throw new ConflictException('This system is retired. Bring it back, or choose another.');
    const found = await this.source.getRepository(SystemVersion).findOneBy({ lineId, version });
    if (!found) throw new NotFoundException('This system has no such version.');
    return found.profile;
  }

  private async store(manager: EntityManager, me: SignedIn, lineId: string, version: number, profile: SystemProfile) {
    const made = { madeBy: me.user.id, madeAt: new Date() };
    await manager.getRepository(SystemVersion).insert({ lineId, version, profile: profile as never, ...made });
    await this.audit.note(me, 'system.keep', `${profile.name}, version ${version}`, manager);
  }

  private async newest(manager: EntityManager, lineId: string): Promise<SystemVersion> {
    const [newest] = await manager
      .getRepository(SystemVersion)
      .find({ where: { lineId }, order: { version: 'DESC' }, take: 1 });
    return newest;
  }

  private async find({ shop }: SignedIn, id: string): Promise<SystemLine> {
    const line = await this.source.getRepository(SystemLine).findOneBy({ id, shopId: shop.id });
    if (!line) throw new NotFoundException('There is no such system.');
    return line;
  }

  private async names(shopId: string): Promise<ReadonlyMap<string, string>> {
    const people = await this.source.getRepository(User).findBy({ shopId });
    return new Map(people.map(({ id, name }) => [id, name]));
  }
}

function shown(
  { version, profile, madeBy, madeAt }: SystemVersion,
  names: ReadonlyMap<string, string>,
): SystemVersionItem {
  return { version, profile, madeBy: names.get(madeBy) ?? null, madeAt: madeAt.toISOString() };
}

function checked(content: unknown): SystemProfile {
  const read = readProfile(content);
  if ('profile' in read) return read.profile;
  const message = read.problems.map(({ field, message: text }) => (field ? `${field}: ${text}` : text));
  throw new BadRequestException({ message });
}
