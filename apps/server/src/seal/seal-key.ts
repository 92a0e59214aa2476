import { createHash, createHmac, randomBytes, timingSafeEqual } from 'node:crypto';
import { readFileSync, writeFileSync } from 'node:fs';

/** Signs what the database holds, with a secret that is not in the database. */
export interface SealKey {
  /** Tells one key from another without giving it away. */
  readonly id: string;
  /** HMAC-SHA-256 (RFC 2104) of a text, as hexadecimal digits. */
  sign(text: string): string;
  verify(text: string, signature: string): boolean;
}

const KEY_BYTES = 32;

/** @param digits 64 hexadecimal digits @throws Error when they are anything else */
export function sealKey(digits: string): SealKey {
  if (!/^[0-9a-f]{64}$/i.test(digits)) throw new Error('A seal key is 64 hexadecimal digits.');
  const secret = Buffer.from(digits, 'hex');
  const sign = (text: string) => createHmac('sha256', secret).update(text).digest('hex');
  return {
    id: createHash('sha256').update('seal key').update(secret).digest('hex').slice(0, 16),
    sign,
    verify: (text, signature) => {
      const [own, other] = [Buffer.from(sign(text)), Buffer.from(signature)];
      return own.length === other.length && timingSafeEqual(own, other);
    },
  };
}

/** Reads the key's file, for its owner alone to read; makes one where there is none. */
export function readSealKeyFile(path: string): string {
  try {
    writeFileSync(path, `${randomBytes(KEY_BYTES).toString('hex')}\n`, { flag: 'wx', mode: 0o600 });
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== 'EEXIST') throw error;
  }
  return readFileSync(path, 'utf8').trim();
}
