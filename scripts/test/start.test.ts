import { spawnSync } from 'node:child_process';
import { chmodSync, mkdtempSync, readFileSync, rmSync, symlinkSync } from 'node:fs';
import { createServer } from 'node:net';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { answers, databasePid, ended, isAlive, launch, serverPid, signIn, start, stopAll, within } from './running.js';

const data = mkdtempSync(join(tmpdir(), 'jarro-start-'));
// Debian's database user has to get through to its own folder.
chmodSync(data, 0o711);
const asRoot = process.getuid?.() === 0;

afterAll(async () => {
  await stopAll();
  rmSync(data, { recursive: true, force: true });
});

const openCase = async (address: string, model: string) => {
  const vehicle = { model, engine: '1.0', plate: 'T1', complaint: 'cranks, no start' };
  const headers = await signIn(address);
  return fetch(`${address}/api/cases`, { method: 'POST', headers, body: JSON.stringify(vehicle) });
};

it('recovers what was stored before everything was killed, starts again, and stops cleanly', async () => {
  const first = await start(data);
  expect((await openCase(first.address, 'Killed In Flight')).status).toBe(201);

  // Nothing gets a chance to tidy up: the script is killed, then the database that it leaves behind.
  const leftOver = databasePid(data);
  first.child.kill('SIGKILL');
  await ended(first.child);
  process.kill(leftOver, 'SIGKILL');
  await within(60_000, () => (isAlive(leftOver) ? undefined : true));
  await within(60_000, async () => ((await answers(first.address)) ? undefined : true));

  const second = await start(data);
  const board = await fetch(`${second.address}/api/cases`, { headers: await signIn(second.address) });
  expect(await board.text()).toContain('Killed In Flight');

  const running = databasePid(data);
  second.child.kill('SIGTERM');
  expect(await ended(second.child)).toBe(0);
  expect(isAlive(running)).toBe(false);
  expect(await answers(second.address)).toBe(false);
});

describe('while it runs', () => {
  let running: Awaited<ReturnType<typeof start>>;
  beforeAll(async () => {
    running = await start(data);
  });
  afterAll(() => stopAll());

  it('refuses a second start on the same folder, names the running one and leaves it alone', async () => {
    const database = databasePid(data);
    const { child, output } = launch(data);
    expect(await ended(child)).toBe(1);
    expect(output().trim()).toBe(
      `Jarro already runs here: ${running.address} (process ${running.child.pid}). Use that one, or stop it first.`,
    );
    expect(databasePid(data)).toBe(database);
    expect(await answers(running.address)).toBe(true);
  });

  it('lets nobody else into the database, and runs it as nobody of importance', () => {
    const pid = databasePid(data);
    const command = readFileSync(`/proc/${pid}/cmdline`, 'utf8').split('\0');
    const argument = (name: string) =>
      command.find((part) => part.startsWith(`--${name}=`))?.slice(name.length + 3) ?? '';
    if (!asRoot) return;
    const uid = Number(/Uid:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1]);
    expect(uid).not.toBe(0);
    const asNobody = (line: string) =>
      spawnSync('setpriv', ['--reuid=65534', '--regid=65534', '--clear-groups', 'sh', '-c', line]);
    const socket = argument('socket');
    expect(socket.length).toBeLessThan(108);
    for (const line of [
      `mariadb --no-defaults --socket=${socket} --user=root --execute='SELECT 1'`,
      ...['root', 'mysql', 'jarro', ''].map(
        (user) =>
          `mariadb --no-defaults --host=127.0.0.1 --port=${argument('port')} --user='${user}' --execute='SELECT 1'`,
      ),
      `ls ${argument('datadir')}`,
      `cat ${data}/*.secret ${socket.replace('db.sock', 'accounts.sql')}`,
    ]) {
      expect([line, asNobody(line).status]).not.toEqual([line, 0]);
    }
    // Root gets in, by the socket, without a word on the command line.
    const accounts = spawnSync(
      'mariadb',
      [
        '--no-defaults',
        `--socket=${socket}`,
        '--user=root',
        '--skip-column-names',
        '--execute=SELECT CONCAT(User, "@", Host) FROM mysql.global_priv ORDER BY 1; SHOW GRANTS FOR jarro@127.0.0.1',
      ],
      { encoding: 'utf8' },
    );
    expect(accounts.stdout).toMatch(/^jarro@127.0.0.1\nmariadb.sys@localhost\nroot@localhost\n/);
    expect(accounts.stdout).not.toMatch(/FILE|SUPER|ALL PRIVILEGES|GRANT OPTION/);
  });

  it('starts a server again that died', async () => {
    const pid = serverPid(running);
    process.kill(pid, 'SIGKILL');
    await within(60_000, async () => (isAlive(pid) || !(await answers(running.address)) ? undefined : true));
    expect(serverPid(running)).not.toBe(pid);
    expect(running.output()).toMatch(/ended unexpectedly \(SIGKILL\). Starting it again/);
    const board = await fetch(`${running.address}/api/cases`, { headers: await signIn(running.address) });
    expect(await board.text()).toContain('Killed In Flight');
  });

  it('gives up a server that dies again and again', async () => {
    for (let died = 1; died < 6; died++) {
      const pid = await within(60_000, async () => ((await answers(running.address)) ? serverPid(running) : undefined));
      process.kill(pid, 'SIGKILL');
      await within(60_000, () => (isAlive(pid) ? undefined : true));
    }
    expect(await ended(running.child)).toBe(1);
    expect(running.output()).toMatch(/ended 6 times; not started again/);
  });
});

it('says in one line that the port asked for is taken', async () => {
  const other = createServer().listen(0, '127.0.0.1');
  await new Promise((resolve) => other.once('listening', resolve));
  const { port } = other.address() as AddressInfo;
  const { child, output } = launch(data, { JARRO_PORT: String(port) });
  expect(await ended(child)).toBe(1);
  expect(output().trim()).toBe(`Port ${port} is taken. Stop what uses it, or set JARRO_PORT to another.`);
  other.close();
});

it('says in one line what to install where it can’t', async () => {
  // A machine with a shell and nothing else: no database, no apt.
  const bin = mkdtempSync(join(tmpdir(), 'jarro-bare-'));
  symlinkSync('/bin/sh', join(bin, 'sh'));
  const { child, output } = launch(data, { PATH: bin });
  expect(await ended(child)).toBe(1);
  expect(output().trim()).toBe(
    'mariadbd is missing. Install the package mariadb-server (on Debian: apt-get install mariadb-server) and start again.',
  );
  rmSync(bin, { recursive: true, force: true });
});
