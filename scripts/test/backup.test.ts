import { chmodSync, copyFileSync, existsSync, mkdirSync, mkdtempSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { ended, fillWithDemo, runScript, signIn, start, stopAll } from './running.js';

const folder = mkdtempSync(join(tmpdir(), 'jarro-backup-'));
// Debian's database user has to get through to its own folder.
chmodSync(folder, 0o711);
const [first, second] = ['first', 'second'].map((name) => join(folder, name));
for (const data of [first, second]) mkdirSync(data, { mode: 0o711 });

afterAll(async () => {
  await stopAll();
  rmSync(folder, { recursive: true, force: true });
});

interface Answer {
  readonly cases: readonly { readonly id: string; readonly number: number }[];
}

/** Every case of a running shop, as it is shown and as it verifies. */
async function everything(address: string): Promise<unknown[]> {
  const headers = await signIn(address);
  const get = async (path: string) => (await fetch(`${address}/api/${path}`, { headers })).json() as Promise<unknown>;
  const { cases } = (await get('cases')) as Answer;
  const all = [...cases].sort((a, b) => a.number - b.number);
  return Promise.all(all.flatMap(({ id }) => [get(`cases/${id}`), get(`cases/${id}/verify`)]));
}

it('backs a running shop up and brings all of it back elsewhere, byte for byte', async () => {
  const file = join(folder, 'shop.sql.gz');
  fillWithDemo(first);
  const running = await start(first);
  const before = await everything(running.address);
  expect(before.length).toBeGreaterThan(16);
  const backup = runScript('backup', first, file);
  expect([backup.status, backup.stderr]).toEqual([0, '']);
  expect(statSync(file).mode & 0o077).toBe(0);
  // A backup never replaces one.
  expect(runScript('backup', first, file)).toMatchObject({
    status: 1,
    stderr: expect.stringContaining('is there already') as string,
  });
  running.child.kill('SIGTERM');
  await ended(running.child);

  // What is there is never touched, and what is no backup leaves nothing running.
  expect(runScript('restore', first, file)).toMatchObject({
    status: 1,
    stderr: expect.stringContaining('data here already') as string,
  });
  const broken = join(folder, 'broken.sql.gz');
  writeFileSync(broken, 'no backup');
  expect(runScript('restore', second, broken)).toMatchObject({
    status: 1,
    stderr: expect.stringContaining('could not be read') as string,
  });
  rmSync(join(second, 'mariadb-demo'), { recursive: true, force: true });

  expect(runScript('restore', second, file)).toMatchObject({ status: 0, stderr: '' });
  copyFileSync(join(first, 'seal-demo.key'), join(second, 'seal-demo.key'));
  const restored = await start(second);
  expect(await everything(restored.address)).toEqual(before);
  expect(existsSync(`${file}.part`)).toBe(false);

  // The same at the shell, while it runs.
  expect(runScript('verify', second)).toMatchObject({
    status: 0,
    stdout: expect.stringMatching(/Case 1 of .*: nothing was changed[^]*14 checked, 0 changed\./) as string,
  });
  expect(runScript('verify', second, '99')).toMatchObject({
    status: 1,
    stdout: expect.stringContaining('no case 99') as string,
  });
  expect(runScript('verify', second, 'all')).toMatchObject({
    status: 1,
    stderr: expect.stringContaining('no case’s number') as string,
  });
});
