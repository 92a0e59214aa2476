import { mkdtempSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { gunzipSync } from 'node:zlib';
import type { BackupState } from '@jarro/api-types';
import { DataSource } from 'typeorm';
import { BackupsService } from '../src/backups/backups.service.js';
import { dump, load } from '../src/backups/dump.js';
import { Job } from '../src/work/jobs.entities.js';
import { emptyDatabase, openCase, readVolts, startServer, type Agent, type TestServer } from './support.js';

const folder = mkdtempSync(join(tmpdir(), 'jarro-backups-'));
const KEPT = 2;
const OLD = ['jarro-2025-01-01T020000.sql.gz', 'jarro-2025-01-02T020000.sql.gz'];
let server: TestServer;
let lead: Agent;

beforeAll(async () => {
  for (const name of [...OLD, 'mine.txt']) writeFileSync(join(folder, name), '');
  server = await startServer('backups', { fill: 'people', backups: { folder, kept: KEPT } });
  lead = await server.as('orsa@fennick.demo');
  // One of today may have begun with the server.
  await over();
});
afterAll(async () => {
  await server.close();
  rmSync(folder, { recursive: true, force: true });
});

const state = async (of = lead) => (await of.get('/api/backups').expect(200)).body as BackupState;
const jobs = () => server.app.get(DataSource).getRepository(Job);
const at = (day: number, hour: number) => new Date(2026, 2, day, hour, 0);

async function over(of = lead): Promise<BackupState> {
  for (;;) {
    const now = await state(of);
    if (!now.running) return now;
    await new Promise((resolve) => setTimeout(resolve, 20));
  }
}

it('writes everything down when a lead asks, and lets the oldest go', async () => {
  const id = await openCase(lead);
  const entry = (await readVolts(lead, id, 'battery', 12.47).expect(201)).body as { id: string };
  await jobs().delete({ kind: 'backup' });
  for (const name of readdirSync(folder)) if (!OLD.includes(name) && name !== 'mine.txt') rmSync(join(folder, name));
  await lead.post('/api/backups').expect(202);
  const { files, kept, problem } = await over();
  expect({ kept, problem, held: files.length }).toEqual({ kept: KEPT, problem: null, held: KEPT });
  expect(files[1].name).toBe(OLD[1]);
  // What isn't its own is left alone.
  expect(readdirSync(folder).sort()).toEqual([OLD[1], files[0].name, 'mine.txt'].sort());
  const path = join(folder, files[0].name);
  expect(statSync(path).mode & 0o077).toBe(0);
  expect(gunzipSync(readFileSync(path)).toString('latin1')).toContain(entry.id);

  const elsewhere = await emptyDatabase('backups_restored');
  await load(elsewhere.href, path);
  const restored = await startServer('backups_restored', { fill: 'nothing', keep: true });
  const again = await restored.as('orsa@fennick.demo');
  expect((await again.get(`/api/cases/${id}`).expect(200)).body).toEqual(
    (await lead.get(`/api/cases/${id}`).expect(200)).body,
  );
  await restored.close();
});

it('begins one a day, after the hour, whichever process comes first', async () => {
  const service = server.app.get(BackupsService);
  await service.beginDaily(at(8, 1));
  expect(await jobs().existsBy({ id: 'jarro-2026-03-08T010000' })).toBe(false);
  await service.beginDaily(at(8, 3));
  await service.beginDaily(at(8, 4));
  await over();
  await service.beginDaily(at(8, 5));
  expect((await jobs().findBy({ kind: 'backup' })).map((job) => job.id)).not.toContain('jarro-2026-03-08T040000');
  expect((await state()).files[0].name).not.toBe('jarro-2026-03-08T050000.sql.gz');
  expect(await jobs().findOneBy({ id: 'jarro-2026-03-08T030000' })).toMatchObject({ state: 'done' });
});

it('goes on with what a process left that died, and stops when told', async () => {
  const { userId } = await jobs().findOneByOrFail({ id: 'jarro-2026-03-08T030000' });
  const leave = (id: string, changes: Partial<Job>) =>
    jobs().insert({
      ...{ id, kind: 'backup', caseId: null, userId, task: {}, stage: 'storing', share: 0.4, attempts: 1 },
      ...{ state: 'running', owner: 'dead', until: new Date(Date.now() - 60_000), changedAt: new Date() },
      ...changes,
    } as object);
  await leave('jarro-2099-03-09T020000', {});
  server.app.get(BackupsService);
  expect((await over()).files[0].name).toBe('jarro-2099-03-09T020000.sql.gz');

  // One that another process has: it is told by its row.
  await leave('jarro-2099-03-10T020000', {
    until: new Date(Date.now() + 60_000),
    changedAt: new Date(Date.now() + 1000),
  });
  expect((await state()).running).toEqual({ stage: 'storing', share: 0.4 });
  await lead.delete('/api/backups/running').expect(204);
  expect(await jobs().findOneBy({ id: 'jarro-2099-03-10T020000' })).toMatchObject({ cancelled: true });
  await jobs().delete({ id: 'jarro-2099-03-10T020000' });
});

it('leaves nothing half written, replaces nothing, and says why', async () => {
  const { href } = new URL(process.env.JARRO_TEST_DATABASE_URL ?? '');
  const file = join(folder, 'other.sql.gz');
  await expect(dump(href.replace(/[^/]*$/, 'jarro_nowhere'), file)).rejects.toThrow(/mariadb-dump: .*jarro_nowhere/);
  await expect(dump(href, file, { gone: AbortSignal.abort() })).rejects.toThrow(/abort/i);
  expect(readdirSync(folder).filter((name) => name.startsWith('other'))).toEqual([]);
  writeFileSync(file, 'mine');
  await expect(dump(href, file)).rejects.toThrow(/never replaces/);
  expect(readFileSync(file, 'utf8')).toBe('mine');
});

it('says what is wrong with a folder that can’t be written', async () => {
  const backups = { folder: join(folder, 'mine.txt', 'below'), kept: KEPT };
  const other = await startServer('backups_nowhere', { fill: 'people', backups });
  const orsa = await other.as('orsa@fennick.demo');
  await over(orsa);
  await other.app.get(DataSource).getRepository(Job).delete({ kind: 'backup' });
  await orsa.post('/api/backups').expect(202);
  expect(await over(orsa)).toMatchObject({
    files: [],
    problem: expect.stringMatching(/^Nothing was backed up\. .*ENOTDIR/) as string,
  });
  await other.close();
});
