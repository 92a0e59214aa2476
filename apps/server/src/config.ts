import { resolve } from 'node:path';
import { readSealKeyFile, sealKey, type SealKey } from './seal/seal-key.js';

/** Settings of one server process, read once from the environment. */
export interface Config {
  readonly databaseUrl: string;
  readonly host: string;
  readonly port: number;
  /** Demo data and its sign-in; only ever on loopback. */
  readonly demo: boolean;
  /** Folder of the built interface. */
  readonly webFolder: string;
  readonly uploadLimitBytes: number;
  /** Signs every case; the same for all processes on one database. */
  readonly sealKey: SealKey;
  /** Where people reach Jarro, as `https://jarro.example`, when that isn't this machine's own address. */
  readonly origin?: URL;
  /** Proxies in front whose word on the caller's address is believed, as Express's `trust proxy` takes it. */
  readonly trustProxy?: string | number;
  /** Where backups are kept every day, and how many; none are where no folder is named. */
  readonly backups?: { readonly folder: string; readonly kept: number };
}

export const CONFIG = Symbol('CONFIG');

const MEBIBYTE = 1024 * 1024;
/** A telephone's picture, with room. */
export const PHOTO_LIMIT_BYTES = 20 * MEBIBYTE;
/** A record over this is over the samples that can be read, whatever its format. */
const MOST_UPLOAD_MIB = 4096;

/** @throws Error naming the missing or wrong setting, so that a wrong start fails at once */
export function readConfig(env: NodeJS.ProcessEnv): Config {
  const databaseUrl = env.JARRO_DATABASE_URL;
  if (!databaseUrl) throw new Error('JARRO_DATABASE_URL is not set; start Jarro with npm start or npm run serve.');
  const host = env.JARRO_HOST ?? '127.0.0.1';
  const demo = env.JARRO_DEMO === '1';
  if (demo && host !== '127.0.0.1')
    throw new Error('The demo runs on 127.0.0.1 only; unset JARRO_HOST or use npm run serve.');
  const origin = readOrigin(env.JARRO_ORIGIN);
  const proxies = env.JARRO_TRUST_PROXY;
  const backupFolder = env.JARRO_BACKUP_FOLDER;
  return {
    databaseUrl,
    host,
    port: readWhole(env.JARRO_PORT, 'JARRO_PORT', 8420, 0, 65_535),
    demo,
    webFolder: env.JARRO_WEB ?? new URL('../../web/dist', import.meta.url).pathname,
    uploadLimitBytes:
      readWhole(env.JARRO_UPLOAD_LIMIT_MIB, 'JARRO_UPLOAD_LIMIT_MIB', 256, 1, MOST_UPLOAD_MIB) * MEBIBYTE,
    sealKey: readSealKey(env.JARRO_SEAL_KEY, env.JARRO_SEAL_KEY_FILE),
    ...(origin && { origin }),
    ...(proxies && { trustProxy: /^\d+$/.test(proxies) ? Number(proxies) : proxies }),
    ...(backupFolder && {
      backups: {
        folder: resolve(backupFolder),
        kept: readWhole(env.JARRO_BACKUPS_KEPT, 'JARRO_BACKUPS_KEPT', 14, 1, 3650),
      },
    }),
  };
}

function readSealKey(digits: string | undefined, file: string | undefined): SealKey {
  if (!digits && !file) {
    throw new Error(
      'Neither JARRO_SEAL_KEY nor JARRO_SEAL_KEY_FILE is set; start Jarro with npm start or npm run serve, which keep a key.',
    );
  }
  try {
    return sealKey(digits ?? readSealKeyFile(file ?? ''));
  } catch (error) {
    const where = digits ? 'JARRO_SEAL_KEY' : `JARRO_SEAL_KEY_FILE=${file}`;
    throw new Error(`${where} can't be used: ${error instanceof Error ? error.message : String(error)}`, {
      cause: error,
    });
  }
}

function readWhole(text: string | undefined, name: string, usual: number, least: number, most: number): number {
  if (text === undefined || text === '') return usual;
  const value = Number(text);
  if (/^\d+$/.test(text) && value >= least && value <= most) return value;
  throw new Error(`${name}=${text} can't be used: give a whole number from ${least} to ${most}.`);
}

function readOrigin(text: string | undefined): URL | undefined {
  if (!text) return undefined;
  const url = URL.canParse(text) ? new URL(text) : undefined;
  if (url && /^https?:$/.test(url.protocol) && url.pathname === '/' && !url.search) return url;
  throw new Error(`JARRO_ORIGIN=${text} can't be used: give scheme and host alone, as in https://jarro.example.`);
}
