import type { BoardPage } from '@jarro/api-types';
import { DataSource } from 'typeorm';
import { SUMMARISE_ALL } from '../src/cases/summaries.js';
import { SuspectKeeper } from '../src/cases/suspect-keeper.js';
import { ifFree, withLease } from '../src/database/lease.js';
import { WorkPool } from '../src/work/work-pool.js';
import { csvOf, faceCautions, readVolts, startServer, upload, type Agent, type TestServer } from './support.js';

// The board answers from a row a case; that row has to say what the evidence says, whatever was done.

let server: TestServer;
let source: DataSource;
let jem: Agent;
let orsa: Agent;

beforeAll(async () => {
  server = await startServer('board', { fill: 'people' });
  source = server.app.get(DataSource);
  jem = await server.as('jem@fennick.demo');
  orsa = await server.as('orsa@fennick.demo');
});
afterAll(() => server.close());

const find = async (by: Agent, query: Record<string, string> = {}) =>
  (await by.get('/api/cases').query(query).expect(200)).body as BoardPage;
const numbers = ({ cases }: BoardPage) => cases.map(({ number }) => number);

async function open(by: Agent, model: string, plate: string, complaint: string): Promise<string> {
  const { id } = (await by.post('/api/cases').send({ model, engine: '1.6', plate, complaint }).expect(201)).body as {
    id: string;
  };
  await faceCautions(by, id);
  return id;
}

it('follows what is read, voided, decided, mistyped and put right, as if counted anew', async () => {
  const id = await open(jem, 'Tolva Corrie', 'TC17', 'cranks, no start');
  const { id: slip } = (await readVolts(jem, id, 'battery', 12.1).expect(201)).body as { id: string };
  await readVolts(jem, id, 'battery', 12.4).expect(201);
  await upload(jem, id, csvOf()).expect(201);
  await jem.post(`/api/cases/${id}/evidence/${slip}/void`).send({ reason: 'pin off' }).expect(204);
  await orsa
    .post(`/api/cases/${id}/verdicts`)
    .send({ kind: 'replace-pump', statement: 'Worn', overrideReason: 'the customer insists on it' })
    .expect(201);
  const [item] = (await find(jem)).cases;
  expect(item).toMatchObject({ readings: 1, captures: 1, verdict: 'replace-pump', stage: 'decided' });
  const kept = await source.query<object[]>('SELECT * FROM case_summaries');
  await source.query('DELETE FROM case_summaries');
  await source.query(SUMMARISE_ALL);
  const anew = await source.query<object[]>('SELECT * FROM case_summaries');
  const but = (rows: object[]) => rows.map((row) => ({ ...row, changedAt: null, suspect: null, weighedVersion: null }));
  expect(but(anew)).toEqual(but(kept));
});

it('finds by words, by stage and by who opened it, page by page, and takes no word for a pattern', async () => {
  await open(jem, 'Marrow Finch', 'MF12', 'dies after ten minutes, 50% of the time');
  await open(orsa, 'Marrow Teal', 'MT9', 'lean at speed');
  expect(numbers(await find(jem, { search: 'marrow' }))).toEqual([3, 2]);
  expect(numbers(await find(jem, { search: 'finch mf12 ten' }))).toEqual([2]);
  expect(numbers(await find(jem, { search: '50%' }))).toEqual([2]);
  expect(numbers(await find(jem, { search: 'm_rrow' }))).toEqual([]);
  expect(numbers(await find(jem, { stage: 'decided' }))).toEqual([1]);
  expect(numbers(await find(jem, { mine: 'true' }))).toEqual([2, 1]);
  expect(await find(jem, { search: 'marrow', page: '2' })).toMatchObject({ cases: [], total: 2, pages: 1 });
  await jem.get('/api/cases').query({ stage: 'lost' }).expect(400);
});

it('shows what each open case’s evidence speaks for most, weighed when nobody waits for it', async () => {
  const keeper = server.app.get(SuspectKeeper);
  const weighAll = async () => {
    while (await keeper.weighNext(0)) continue;
  };
  const id = await open(jem, 'Tolva Dipper', 'TD19', 'cranks, no start');
  const suspectOf = async () => (await find(jem, { search: 'Dipper' })).cases[0].suspect;
  await weighAll();
  expect(await suspectOf()).toBeNull();
  for (const [at, volts] of [
    ['battery', 12.5],
    ['fuse', 12.45],
    ['relay', 4.2],
    ['pump', 4],
    ['ground-pin', 0.02],
  ] as const) {
    await readVolts(jem, id, at, volts).expect(201);
  }
  await weighAll();
  expect(await suspectOf()).toBe('relay-contact');
  const named = await find(jem, { suspect: 'relay-contact' });
  expect(named.cases.map(({ vehicle }) => vehicle?.model)).toContain('Tolva Dipper');
  expect((await find(jem, { suspect: 'fuse' })).total).toBe(0);
  // A decided case is no suspicion any more.
  const verdict = { kind: 'replace-relay', statement: 'Contact burnt.' };
  await jem.post(`/api/cases/${id}/verdicts`).send(verdict).expect(201);
  expect(await suspectOf()).toBeNull();
  expect(await keeper.weighNext(0)).toBe(false);
});

it('leaves to another process what that is at, and does it where nobody is', async () => {
  const done: string[] = [];
  const weigh = (who: string) => ifFree(source, 'suspects', () => Promise.resolve(void done.push(who)));
  await withLease(source, 'suspects', () => weigh('beside another'));
  expect(done).toEqual([]);
  await weigh('alone');
  expect(done).toEqual(['alone']);
});

it('keeps a case due whose weighing was broken off by a stop', async () => {
  const id = await open(jem, 'Tolva Wren', 'TW2', 'cranks, no start');
  await readVolts(jem, id, 'battery', 12.5).expect(201);
  const keeper = server.app.get(SuspectKeeper);
  await server.app.get(WorkPool).onApplicationShutdown();
  await expect(keeper.weighNext(0)).rejects.toThrow(/stopping/);
  const [{ due }] = await source.query<{ due: string }[]>(
    'SELECT weighedVersion < version AS due FROM case_summaries WHERE caseId = ?',
    [id],
  );
  expect(Number(due)).toBe(1);
});
