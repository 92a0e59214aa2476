import { createHash } from 'node:crypto';
import { chmodSync, existsSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { ROOT, STATE, toolPath } from './paths.mjs';
import { fail, hasCommand, runQuietly, say } from './shell.mjs';

/** Installs the npm packages when the lockfile isn't the one they were installed from. */
export function ensurePackages() {
  const lock = readFileSync(join(ROOT, 'package-lock.json'));
  const stamp = createHash('sha256').update(lock).update(process.version).digest('hex');
  const stampFile = join(ROOT, 'node_modules', '.jarro-stamp');
  if (existsSync(stampFile) && readFileSync(stampFile, 'utf8') === stamp) return;
  say('Installing packages (once, about two minutes) ...');
  runQuietly('npm ci', 'npm', ['ci', '--no-audit', '--no-fund']);
  writeFileSync(stampFile, stamp);
}

/** Installs a Debian package for a missing command, leaving no system service running. */
export function ensureCommand(command, debianPackage) {
  if (hasCommand(command)) return;
  if (process.getuid?.() !== 0 || !hasCommand('apt-get')) {
    fail(
      `${command} is missing. Install the package ${debianPackage} (on Debian: apt-get install ${debianPackage}) and start again.`,
    );
  }
  say(`Installing ${debianPackage} (once) ...`);
  withoutServices(() => {
    const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
    runQuietly('apt-get update', 'apt-get', ['update', '-qq'], { env });
    const args = ['install', '-y', '-qq', '--no-install-recommends', debianPackage];
    runQuietly(`Installing ${debianPackage}`, 'apt-get', args, { env });
  });
}

/** Debian starts a database as soon as it is installed unless this file says no. */
function withoutServices(install) {
  const policy = '/usr/sbin/policy-rc.d';
  const mine = !existsSync(policy);
  if (mine) {
    writeFileSync(policy, '#!/bin/sh\nexit 101\n');
    chmodSync(policy, 0o755);
  }
  try {
    install();
  } finally {
    if (mine) rmSync(policy, { force: true });
  }
}

/** Compiles a package as its tsconfig.build.json says. */
const compile = (folder) => ['tsc', '-p', `${folder}/tsconfig.build.json`];
const BUILDS = [
  { name: 'core', folder: 'packages/core', commands: [compile('packages/core')] },
  { name: 'answer types', folder: 'apps/api-types', commands: [compile('apps/api-types')] },
  { name: 'command line', folder: 'apps/cli', commands: [compile('apps/cli')] },
  {
    name: 'server',
    folder: 'apps/server',
    commands: [compile('apps/server'), ['rolldown', '-c', 'apps/server/rolldown.config.js', '--logLevel', 'warn']],
  },
  { name: 'interface', folder: 'apps/web', commands: [['vite', 'build', 'apps/web', '--logLevel', 'warn']] },
];

/** Builds the parts whose sources (or those of a part before them) changed since their last build. */
export function ensureBuilt(names = BUILDS.map(({ name }) => name)) {
  let upstream = '';
  for (const { name, folder, commands } of BUILDS.filter((build) => names.includes(build.name))) {
    const stamp = createHash('sha256')
      .update(upstream)
      .update(fingerprint(join(ROOT, folder)))
      .digest('hex');
    const stampFile = join(STATE, `built-${folder.replace('/', '-')}`);
    const output = join(ROOT, folder, 'dist');
    if (name === 'core' || name === 'answer types') upstream = stamp;
    if (existsSync(output) && existsSync(stampFile) && readFileSync(stampFile, 'utf8') === stamp) continue;
    say(`Building ${name} ...`);
    rmSync(output, { recursive: true, force: true });
    for (const [tool, ...args] of commands) {
      // Whoever starts this, what is built is for use: a test's NODE_ENV would make a development build.
      runQuietly(`Building ${name}`, process.execPath, [toolPath(tool), ...args], {
        env: { ...process.env, NODE_ENV: 'production' },
      });
    }
    writeFileSync(stampFile, stamp);
  }
}

/** Names, sizes and times of all source files below a folder. */
function fingerprint(folder) {
  return readdirSync(folder, { recursive: true, withFileTypes: true })
    .filter((entry) => entry.isFile() && !/\/(dist|node_modules|test)(\/|$)/.test(entry.parentPath))
    .map((entry) => {
      const path = join(entry.parentPath, entry.name);
      const { size, mtimeMs } = statSync(path);
      return `${path}:${size}:${mtimeMs}`;
    })
    .sort()
    .join('\n');
}
