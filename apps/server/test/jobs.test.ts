import { randomUUID } from 'node:crypto';
import { DataSource } from 'typeorm';
import { Original } from '../src/captures/captures.entities.js';
import { EvidenceRecord } from '../src/evidence/evidence.entities.js';
import { User } from '../src/people/people.entities.js';
import { Job } from '../src/work/jobs.entities.js';
import { Jobs, LeaseLost } from '../src/work/jobs.js';
import { csvOf, openCase, startServer, upload, type Agent, type TestServer } from './support.js';

let server: TestServer;
let other: TestServer;
let technician: Agent;
let caseId: string;

/** Two processes' worth of application on one database. */
beforeAll(async () => {
  server = await startServer('jobs', { fill: 'people', uploadLimitMib: 64 });
  other = await startServer('jobs', { fill: 'nothing', keep: true });
  technician = await server.as('jem@fennick.demo');
  caseId = await openCase(technician);
});
afterAll(async () => {
  await server.close();
  await other.close();
});

const jobs = () => server.app.get(DataSource).getRepository(Job);
const links = () => server.app.get(DataSource).getRepository(EvidenceRecord).countBy({ caseId, kind: 'capture' });
const ended = async (id: string) => {
  for (;;) {
    const job = await jobs().findOneByOrFail({ id });
    if (job.state === 'done' || job.state === 'failed') return job;
    await new Promise((resolve) => setTimeout(resolve, 20));
  }
};

/** The job of a file that came in before, as a process left it that died. */
async function leftBehind(changes: Partial<Job>): Promise<string> {
  const [kept] = await jobs().find({ where: { caseId, state: 'done' }, order: { changedAt: 'DESC' }, take: 1 });
  const id = randomUUID();
  const { kind, userId } = kept;
  const task = kept.task as object;
  const long = new Date(Date.now() - 60_000);
  const left = { id, kind, caseId, userId, task, stage: 'measuring', share: 0.4, owner: 'dead', until: long } as const;
  await jobs().insert({ ...left, state: 'running', attempts: 1, changedAt: long, ...changes } as object);
  return id;
}

it('does what a process left behind that died, once, and for whom it was begun', async () => {
  await upload(technician, caseId, csvOf()).expect(201);
  const before = await links();
  const id = await leftBehind({});
  const { state, outcome, attempts } = await ended(id);
  expect({ state, attempts }).toEqual({ state: 'done', attempts: 2 });
  expect(await links()).toBe(before + 1);
  const link = await server.app
    .get(DataSource)
    .getRepository(EvidenceRecord)
    .findOneByOrFail({ id: (outcome as { id: string }).id });
  const jem = await server.app.get(DataSource).getRepository(User).findOneByOrFail({ email: 'jem@fennick.demo' });
  expect(link.takenBy).toBe(jem.id);
});

it('gives up what ended process after process, and says what to do', async () => {
  const before = await links();
  const { state, outcome } = await ended(await leftBehind({ attempts: 3 }));
  expect(state).toBe('failed');
  expect(outcome).toEqual({ status: 422, detail: expect.stringContaining('shorter record') as string });
  expect(await links()).toBe(before);
});

it('counts nothing of a process whose job another has by now', async () => {
  const table = server.app.get(Jobs);
  const id = await leftBehind({ owner: 'new', until: new Date(Date.now() + 60_000) });
  const stale = { ...(await jobs().findOneByOrFail({ id })), owner: 'old' };
  await expect(table.report(stale, 'storing', 0.5)).rejects.toThrow(LeaseLost);
  await expect(table.finish(stale, {}, server.app.get(DataSource).manager)).rejects.toThrow(LeaseLost);
  await table.fail(stale, { status: 500, detail: '' });
  expect((await jobs().findOneByOrFail({ id })).state).toBe('running');
  await jobs().delete({ id });
});

it('draws a report as a job, for whoever waits or for a process that died, and keeps no copy', async () => {
  const originals = () => server.app.get(DataSource).getRepository(Original).count();
  const before = await originals();
  const job = randomUUID();
  const choice = { kind: 'technical', paper: 'A4' } as const;
  await technician
    .get(`/api/cases/${caseId}/report.pdf`)
    .query({ ...choice, job })
    .expect(200);
  expect((await technician.get(`/api/jobs/${job}`).expect(200)).body).toMatchObject({ state: 'done', id: caseId });
  expect(await originals()).toBe(before);
  await technician
    .get(`/api/cases/${caseId}/report.pdf`)
    .query({ ...choice, job })
    .expect(409);
  const left = await ended(await leftBehind({ kind: 'report', task: choice, stage: 'checking' }));
  expect(left).toMatchObject({ state: 'done', attempts: 2, outcome: { id: caseId } });
});

it('stops a file that is measured or waits its turn, and keeps nothing of it', async () => {
  const before = await links();
  const large = csvOf({ sampleRateHz: 100_000, durationS: 8 });
  const ids = [randomUUID(), randomUUID(), randomUUID()];
  const sending = ids.map((job) => upload(technician, caseId, large, { job }).then(({ status }) => status));
  for (const id of ids) {
    while (!['waiting', 'running'].includes((await jobs().findOneBy({ id }))?.state ?? '')) {
      await new Promise((resolve) => setTimeout(resolve, 10));
    }
    await technician.delete(`/api/jobs/${id}`).expect(204);
  }
  expect(await Promise.all(sending)).toEqual([409, 409, 409]);
  for (const id of ids) expect((await ended(id)).state).toBe('failed');
  expect(await links()).toBe(before);
});
