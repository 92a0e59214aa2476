import { createHash, randomBytes } from 'node:crypto';
import { hash, verify } from '@node-rs/argon2';
import { ForbiddenException, Injectable, UnauthorizedException } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { IsNull, LessThan, Not, Repository } from 'typeorm';
import type { Colleague, PressureUnitName } from '@jarro/api-types';
import { Session } from './auth.entities.js';
import { Shop, User } from '../people/people.entities.js';
import { AuditService } from '../audit/audit.service.js';
import { Attempts } from './attempts.js';
import type { SignedIn } from './signed-in.js';

export const SESSION_HOURS = 12;
const MINUTE_MS = 60_000;
const MOST_PIN_MISSES = 5;

/** Argon2id at the OWASP minimum (19 MiB, 2 passes; from memory). */
export function hashPassword(password: string): Promise<string> {
  return hash(password, { memoryCost: 19_456, timeCost: 2, parallelism: 1 });
}

const sha256 = (text: string) => createHash('sha256').update(text).digest('hex');

@Injectable()
export class AuthService {
  /** Verified when no such user exists, so that the answer takes as long. */
  private readonly nobody = hashPassword(randomBytes(16).toString('hex'));

  constructor(
    @InjectRepository(User) private readonly users: Repository<User>,
    @InjectRepository(Session) private readonly sessions: Repository<Session>,
    private readonly attempts: Attempts,
    private readonly audit: AuditService,
  ) {}

  /**
   * @param address whence it comes, for the limits and the log
   * @returns the token for the cookie
   */
  async signIn(email: string, password: string, address: string | undefined): Promise<string> {
    const name = email.trim().toLowerCase();
    await this.attempts.take('address', address);
    await this.attempts.take('account', address, name);
    const user = await this.users.findOneBy({ email: name });
    const right = await verify(user?.passwordHash ?? (await this.nobody), password);
    if (!user?.active || !right) {
      if (user) await this.audit.noteOf(user, 'session.refused', address ?? '');
      throw new UnauthorizedException('The name or the password is wrong.');
    }
    await this.attempts.giveBack('address', address);
    await this.attempts.giveBack('account', address, name);
    await this.users.update(user.id, { pinMisses: 0 });
    const token = randomBytes(32).toString('base64url');
    const expiresAt = new Date(Date.now() + SESSION_HOURS * 60 * MINUTE_MS);
    await this.sessions.insert({ tokenHash: sha256(token), userId: user.id, expiresAt });
    await this.audit.noteOf(user, 'session.in', address ?? '');
    return token;
  }

  /**
   * Sets a new password and signs the person out everywhere else.
   * @throws ForbiddenException when the present password is wrong
   */
  async changePassword(
    user: User,
    { present, next }: { readonly present: string; readonly next: string },
    keepToken: string | undefined,
    address: string | undefined,
  ): Promise<void> {
    await this.checkPassword(user, present, address);
    await this.setPassword(user.id, next, keepToken);
  }

  private async checkPassword(user: User, password: string, address: string | undefined): Promise<void> {
    await this.attempts.take('present', address, user.id);
    if (!(await verify(user.passwordHash, password))) throw new ForbiddenException('Your present password is wrong.');
    await this.attempts.giveBack('present', address, user.id);
  }

  async setPassword(userId: string, next: string, keepToken?: string): Promise<void> {
    // Whoever gets a new password sets a new code: the old one may be known to the same people.
    await this.users.update(userId, { passwordHash: await hashPassword(next), pinHash: null });
    await this.endSessions(userId, keepToken);
  }

  /** Signs somebody out wherever they are signed in. */
  async endSessions(userId: string, keepToken?: string): Promise<void> {
    await this.sessions.delete({ userId, ...(keepToken && { tokenHash: Not(sha256(keepToken)) }) });
  }

  /**
   * Sets the short code that changes the person at a shared tablet, or takes it away.
   * @throws ForbiddenException when the password is wrong
   */
  async setPin(user: User, pin: string | null, password: string, address: string | undefined): Promise<void> {
    await this.checkPassword(user, password, address);
    await this.users.update(user.id, { pinHash: pin === null ? null : await hashPassword(pin), pinMisses: 0 });
  }

  /** Who may take over a device of this shop with a short code. */
  async colleagues({ user, shop }: SignedIn): Promise<Colleague[]> {
    const people = await this.users.find({
      where: { shopId: shop.id, active: true, pinHash: Not(IsNull()), id: Not(user.id) },
      order: { name: 'ASC' },
    });
    return people.map(({ id, name, role }) => ({ id, name, role }));
  }

  /**
   * Hands a signed-in device over to a colleague, until the sign-in it began with runs out. A few wrong codes in a row, by
   * whomever, and only the password helps: four digits are soon guessed.
   * @returns the token for the cookie, and until when it holds
   */
  async handOver(me: SignedIn, token: string, to: string, pin: string): Promise<{ token: string; expiresAt: Date }> {
    const counted = await this.users.update(
      { id: to, shopId: me.shop.id, active: true, pinHash: Not(IsNull()), pinMisses: LessThan(MOST_PIN_MISSES) },
      { pinMisses: () => 'pinMisses + 1' },
    );
    if (!counted.affected) {
      throw new ForbiddenException('This code can’t be used any more, or there is none. Sign in with the password.');
    }
    const next = await this.users.findOneByOrFail({ id: to });
    if (!(await verify(next.pinHash ?? '', pin))) {
      await this.audit.noteOf(next, 'session.refused', 'code');
      throw new ForbiddenException('That is not the code.');
    }
    await this.users.update(to, { pinMisses: 0 });
    const tokenHash = sha256(token);
    const session = await this.sessions.findOneBy({ tokenHash });
    if (!session) throw new UnauthorizedException('Sign in first.');
    const { expiresAt } = session;
    const fresh = randomBytes(32).toString('base64url');
    await this.sessions.insert({ tokenHash: sha256(fresh), userId: to, expiresAt });
    await this.sessions.delete({ tokenHash });
    await this.audit.noteOf(next, 'session.over', me.user.name);
    return { token: fresh, expiresAt };
  }

  async chooseUnit(userId: string, pressureUnit: PressureUnitName | null): Promise<void> {
    await this.users.update(userId, { pressureUnit });
  }

  async signOut(token: string, address: string | undefined): Promise<void> {
    const signedIn = await this.findSignedIn(token);
    await this.sessions.delete({ tokenHash: sha256(token) });
    if (signedIn) await this.audit.noteOf(signedIn.user, 'session.out', address ?? '');
  }

  /** One query: every request begins with it. */
  async findSignedIn(token: string): Promise<SignedIn | undefined> {
    const found = await this.sessions
      .createQueryBuilder('session')
      .innerJoinAndMapOne('session.user', User, 'user', 'user.id = session.userId AND user.active')
      .innerJoinAndMapOne('session.shop', Shop, 'shop', 'shop.id = user.shopId')
      .where('session.tokenHash = :hash AND session.expiresAt > :now', { hash: sha256(token), now: new Date() })
      .getOne();
    return found ? (found as Session & SignedIn) : undefined;
  }
}
