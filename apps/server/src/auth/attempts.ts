import { createHash } from 'node:crypto';
import { isIPv6 } from 'node:net';
import { HttpException, HttpStatus, Injectable } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { DataSource } from 'typeorm';
import { retryDeadlocks } from '../database/retry.js';

const WINDOW_MINUTES = 15;

/** What can be guessed, and how often from one place before it has to wait. */
const LIMITS = {
  /** One account's password. */
  account: 10,
  /** Any account's password: a shop's people share an address. */
  address: 60,
  /** One's own present password. */
  present: 10,
  'set-up': 10,
} as const;
type Guess = keyof typeof LIMITS;

/**
 * Counts guesses in the database, each before it is judged, so that neither guesses at the same time nor several server
 * processes get more of them. Never by an account alone: then anybody could lock its owner out.
 */
@Injectable()
export class Attempts {
  constructor(@InjectDataSource() private readonly source: DataSource) {}

  /**
   * Takes one of the guesses that are left.
   * @param of what is guessed: an account's name, a person's id
   * @throws HttpException 429 when none is left, whether there is such an account or not
   */
  async take(guess: Guess, address: string | undefined, of = ''): Promise<void> {
    const name = nameOf(guess, address, of);
    const count = await retryDeadlocks(() => this.countUp(name));
    if (count <= LIMITS[guess]) return;
    throw new HttpException(
      `Too many wrong tries from here. Wait ${WINDOW_MINUTES} minutes, then try again.`,
      HttpStatus.TOO_MANY_REQUESTS,
    );
  }

  /** One atomic statement; LAST_INSERT_ID carries what this connection counted, whoever counts beside it. */
  private async countUp(name: string): Promise<number> {
    const { insertId } = await this.source.query<{ insertId: number }>(
      `INSERT INTO attempts (name, count, until) VALUES (?, LAST_INSERT_ID(1), UTC_TIMESTAMP(3) + INTERVAL ? MINUTE)
       ON DUPLICATE KEY UPDATE count = LAST_INSERT_ID(IF(until < UTC_TIMESTAMP(3), 1, count + 1)),
         until = IF(until < UTC_TIMESTAMP(3), VALUES(until), until)`,
      [name, WINDOW_MINUTES],
    );
    return insertId;
  }

  /** Gives a guess back that was right. */
  async giveBack(guess: Guess, address: string | undefined, of = ''): Promise<void> {
    await retryDeadlocks(() =>
      this.source.query('UPDATE attempts SET count = count - 1 WHERE name = ? AND count > 0', [
        nameOf(guess, address, of),
      ]),
    );
  }
}

/** Whoever has one IPv6 address has the whole /64 (RFC 4291, 2.5.4); an IPv4 address in IPv6's clothes is one address. */
function networkOf(address: string): string {
  if (!isIPv6(address) || address.includes('.')) return address;
  const [before, after = ''] = address.split('::');
  const groups = (text: string) => text.split(':').filter(Boolean);
  const missing = 8 - groups(before).length - groups(after).length;
  return [...groups(before), ...Array<string>(missing).fill('0'), ...groups(after)].slice(0, 4).join(':');
}

/** Hashed: neither addresses nor mistyped names are kept. */
function nameOf(guess: Guess, address: string | undefined, of: string): string {
  const from = networkOf(address ?? '');
  return createHash('sha256')
    .update(JSON.stringify([guess, from, of]))
    .digest('hex');
}
