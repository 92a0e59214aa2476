import { createHash, randomBytes } from 'node:crypto';
import { hash, verify } from '@node-rs/argon2';
import { ForbiddenException, HttpException, HttpStatus, Injectable, UnauthorizedException } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { LessThan, Not, Repository } from 'typeorm';
import { Session, Shop, User, type PressureUnitName } from '../database/entities.js';

export const SESSION_HOURS = 12;
const MOST_FAILURES = 10;
const LOCK_MINUTES = 15;
const MINUTE_MS = 60_000;

/** Argon2id at the OWASP minimum (19 MiB, 2 passes; from memory). */
export function hashPassword(password: string): Promise<string> {
  return hash(password, { memoryCost: 19_456, timeCost: 2, parallelism: 1 });
}

const sha256 = (text: string) => createHash('sha256').update(text).digest('hex');

export interface SignedIn {
  readonly user: User;
  readonly shop: Shop;
}

@Injectable()
export class AuthService {
  /** Verified when no such user exists, so that the answer takes as long. */
  private readonly nobody = hashPassword(randomBytes(16).toString('hex'));

  constructor(
    @InjectRepository(User) private readonly users: Repository<User>,
    @InjectRepository(Session) private readonly sessions: Repository<Session>,
    @InjectRepository(Shop) private readonly shops: Repository<Shop>,
  ) {}

  /** @returns the token for the cookie */
  async signIn(email: string, password: string): Promise<string> {
    const user = await this.users.findOneBy({ email: email.trim().toLowerCase() });
    if (user?.lockedUntil && user.lockedUntil > new Date()) {
      throw new HttpException(
        `Too many wrong passwords. Try again after ${LOCK_MINUTES} minutes.`,
        HttpStatus.TOO_MANY_REQUESTS,
      );
    }
    const right = await verify(user?.passwordHash ?? (await this.nobody), password);
    if (!user?.active || !right) {
      if (user) await this.countFailure(user.id);
      throw new UnauthorizedException('The name or the password is wrong.');
    }
    await this.users.update(user.id, { failedSignIns: 0, lockedUntil: null });
    await this.sessions.delete({ expiresAt: LessThan(new Date()) });
    const token = randomBytes(32).toString('base64url');
    const expiresAt = new Date(Date.now() + SESSION_HOURS * 60 * MINUTE_MS);
    await this.sessions.insert({ tokenHash: sha256(token), userId: user.id, expiresAt });
    return token;
  }

  /**
   * Sets a new password and signs the person out everywhere else.
   * @throws ForbiddenException when the present password is wrong
   */
  async changePassword(user: User, present: string, next: string, keepToken: string | undefined): Promise<void> {
    if (!(await verify(user.passwordHash, present))) throw new ForbiddenException('Your present password is wrong.');
    await this.setPassword(user.id, next, keepToken);
  }

  async setPassword(userId: string, next: string, keepToken?: string): Promise<void> {
    await this.users.update(userId, { passwordHash: await hashPassword(next), failedSignIns: 0, lockedUntil: null });
    await this.sessions.delete({ userId, ...(keepToken && { tokenHash: Not(sha256(keepToken)) }) });
  }

  async chooseUnit(userId: string, pressureUnit: PressureUnitName | null): Promise<void> {
    await this.users.update(userId, { pressureUnit });
  }

  private async countFailure(id: string): Promise<void> {
    await this.users.increment({ id }, 'failedSignIns', 1);
    const { failedSignIns } = await this.users.findOneByOrFail({ id });
    if (failedSignIns < MOST_FAILURES) return;
    await this.users.update(id, { failedSignIns: 0, lockedUntil: new Date(Date.now() + LOCK_MINUTES * MINUTE_MS) });
  }

  async signOut(token: string): Promise<void> {
    await this.sessions.delete({ tokenHash: sha256(token) });
  }

  async findSignedIn(token: string): Promise<SignedIn | undefined> {
    const session = await this.sessions.findOneBy({ tokenHash: sha256(token) });
    if (!session || session.expiresAt < new Date()) return undefined;
    const user = await this.users.findOneBy({ id: session.userId });
    const shop = user && (await this.shops.findOneBy({ id: user.shopId }));
    return user?.active && shop ? { user, shop } : undefined;
  }
}
