import { join } from 'node:path';
import { ROOT } from './lib/paths.mjs';
import { ensureBuilt, ensurePackages } from './lib/prepare.mjs';
import { run } from './lib/shell.mjs';

// The command line. Preparation speaks on standard error: standard output belongs to the answer.
const write = process.stdout.write.bind(process.stdout);
process.stdout.write = process.stderr.write.bind(process.stderr);
ensurePackages();
ensureBuilt(['core', 'command line']);
process.stdout.write = write;
process.exitCode = await run(process.execPath, [join(ROOT, 'apps/cli/dist/main.js'), ...process.argv.slice(2)], {
  cwd: process.cwd(),
});
