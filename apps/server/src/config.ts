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
}

export const CONFIG = Symbol('CONFIG');

const MEBIBYTE = 1024 * 1024;
/** A telephone's picture, with room. */
export const PHOTO_LIMIT_BYTES = 20 * MEBIBYTE;

/** @throws Error naming the missing or wrong setting, so that a wrong start fails at once */
export function readConfig(env: NodeJS.ProcessEnv): Config {
  const databaseUrl = env.JARRO_DATABASE_URL;
  if (!databaseUrl) throw new Error('JARRO_DATABASE_URL is not set; start Jarro with npm start or npm run serve.');
  const host = env.JARRO_HOST ?? '127.0.0.1';
  const demo = env.JARRO_DEMO === '1';
  if (demo && host !== '127.0.0.1')
    throw new Error('The demo runs on 127.0.0.1 only; unset JARRO_HOST or use npm run serve.');
  return {
    databaseUrl,
    host,
    port: Number(env.JARRO_PORT ?? 8420),
    demo,
    webFolder: env.JARRO_WEB ?? new URL('../../web/dist', import.meta.url).pathname,
    uploadLimitBytes: Number(env.JARRO_UPLOAD_LIMIT_MIB ?? 256) * MEBIBYTE,
  };
}
