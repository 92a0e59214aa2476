import type { Person } from '@jarro/api-types';
import { checkHouseRules, DEFAULT_HOUSE_RULES, type HouseRules } from '@jarro/core';
import { BadRequestException, ConflictException, Injectable, NotFoundException } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { DataSource, type EntityManager } from 'typeorm';
import { AuthService, hashPassword } from '../auth/auth.service.js';
import type { SignedIn } from '../auth/signed-in.js';
import { Session } from '../auth/auth.entities.js';
import { Shop, User } from './people.entities.js';
import { codeOf } from '../database/retry.js';
import { AuditService } from '../audit/audit.service.js';
import { rulesOf } from './shop-rules.js';
import type { AddPersonDto, ChangePersonDto, ChangeShopDto } from './people.dto.js';

@Injectable()
export class PeopleService {
  constructor(
    @InjectDataSource() private readonly source: DataSource,
    private readonly auth: AuthService,
    private readonly audit: AuditService,
  ) {}

  async list({ shop }: SignedIn): Promise<Person[]> {
    const people = await this.source.getRepository(User).find({ where: { shopId: shop.id }, order: { name: 'ASC' } });
    return people.map(({ id, name, email, role, active }) => ({ id, name, email, role, active }));
  }

  async add(me: SignedIn, { name, email, role, password }: AddPersonDto): Promise<{ id: string }> {
    return this.source.transaction(async (manager) => {
      const id = await addUser(manager, me.shop.id, { name, email, role, password });
      await this.audit.note(me, 'person.add', `${email} as ${role}`, manager);
      return { id };
    });
  }

  /** @throws ConflictException when the shop would be left without a lead */
  async change(me: SignedIn, id: string, { role, active, password }: ChangePersonDto): Promise<void> {
    await this.source.transaction(async (manager) => {
      const users = manager.getRepository(User);
      // The shop's row is the queue: two leads can't take each other's role at once.
      await manager.query('SELECT id FROM shops WHERE id = ? FOR UPDATE', [me.shop.id]);
      const person = await users.findOneBy({ id, shopId: me.shop.id });
      if (!person) throw new NotFoundException('There is no such person in this shop.');
      const next = { role: role ?? person.role, active: active ?? person.active };
      const leads = await users.countBy({ shopId: me.shop.id, role: 'lead', active: true });
      const staysLead = next.role === 'lead' && next.active;
      if (person.role === 'lead' && person.active && !staysLead && leads === 1) {
        throw new ConflictException('A shop needs a lead. Make someone else a lead first.');
      }
      await users.update(id, next);
      // Whoever comes back signs in anew.
      if (person.active && !next.active) await manager.getRepository(Session).delete({ userId: id });
      await this.audit.note(
        me,
        'person.change',
        `${person.email}: ${next.role}, ${next.active ? 'active' : 'left'}`,
        manager,
      );
    });
    if (password !== undefined) {
      await this.auth.setPassword(id, password);
      await this.audit.note(me, 'person.password', id);
    }
  }

  /** @throws ConflictException when somebody saved in between */
  async changeShop(me: SignedIn, { version, rules: given, ...changes }: ChangeShopDto): Promise<void> {
    const problems = checkHouseRules({ ...given });
    if (problems.length > 0) throw new BadRequestException({ message: problems.map(({ message }) => message) });
    const rules = Object.fromEntries(
      Object.keys(DEFAULT_HOUSE_RULES).map((rule) => [rule, given[rule as keyof HouseRules]]),
    ) as unknown as HouseRules;
    const { affected } = await this.source
      .createQueryBuilder()
      .update(Shop)
      .set({ ...changes, rules, version: () => 'version + 1' })
      .where('id = :id AND version = :version', { id: me.shop.id, version })
      .execute();
    if (!affected)
      throw new ConflictException('Someone changed the shop’s settings meanwhile. Look at theirs, then save yours.');
    await this.audit.note(
      me,
      'shop.change',
      whatChanged({ ...me.shop, rules: rulesOf(me.shop) }, { ...changes, rules }),
    );
  }
}

type Settings = Pick<Shop, 'name' | 'town' | 'pressureUnit' | 'labourRate' | 'currency'> & {
  readonly rules: HouseRules;
};

/** The settings that differ, each with what it was and is. */
function whatChanged(before: Settings, after: Settings): string {
  const flat = ({ rules, ...settings }: Settings): Record<string, string | number> => ({ ...settings, ...rules });
  const was = flat(before);
  const differ = Object.entries(flat(after)).filter(([name, is]) => was[name] !== is);
  return differ.map(([name, is]) => `${name}: ${was[name]} to ${is}`).join('; ') || 'nothing';
}

export async function addUser(
  manager: EntityManager,
  shopId: string,
  person: Pick<User, 'name' | 'email' | 'role'> & { readonly password: string },
): Promise<string> {
  const { name, email, role } = person;
  try {
    const user = await manager.getRepository(User).save({
      shopId,
      name,
      email: email.trim().toLowerCase(),
      role,
      passwordHash: await hashPassword(person.password),
    });
    return user.id;
  } catch (error) {
    if (codeOf(error) === 'ER_DUP_ENTRY') {
      throw new ConflictException('Someone signs in with that e-mail address already.');
    }
    throw error;
  }
}
