import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';

/** The repository's root and the ignored folder in which a checkout keeps its own state. */
export const ROOT = fileURLToPath(new URL('../..', import.meta.url));
export const STATE = join(ROOT, '.jarro');
/** Where the databases are kept: the same folder, unless JARRO_DATA names another. */
export const DATA = process.env.JARRO_DATA ?? STATE;
for (const folder of [STATE, DATA]) mkdirSync(folder, { recursive: true });

/**
 * A package's command. Two packages bring a `tsc`: version 7 of TypeScript compiles and checks six times as fast, and
 * version 6 lies beside it for ESLint, which can't read with the other.
 */
export const toolPath = (name) =>
  name === 'tsc' ? join(ROOT, 'node_modules/typescript-7/bin/tsc') : join(ROOT, 'node_modules/.bin', name);
