import { EMPTY_INTAKE } from '@jarro/core';
import { DataSource, IsNull, Not } from 'typeorm';
import { AnalysisRecord, CaptureChunk, CaptureRecord } from '../../src/captures/captures.entities.js';
import { EvidenceRecord } from '../../src/evidence/evidence.entities.js';
import { AuditEntry } from '../../src/audit/audit.entities.js';
import { CaptureStore } from '../../src/captures/capture-store.js';
import {
  type Agent,
  answerRecheck,
  csvOf,
  finishRepair,
  LONG,
  openCase,
  readVolts,
  startServer,
  type TestServer,
  upload,
  VEHICLE,
} from '../support.js';

// People press at the same moment. Whatever comes of it, a case tells one story.

let server: TestServer;
let lead: Agent;
let technician: Agent;

beforeAll(async () => {
  server = await startServer('races', { fill: 'people' });
  lead = await server.as('orsa@fennick.demo');
  technician = await server.as('jem@fennick.demo');
});
afterAll(() => server.close());

const verdict = { kind: 'replace-pump' as const, statement: 'Noisy.', overrideReason: 'Customer insists, in writing.' };
const DIAGNOSIS = new Set(['voltage', 'capture', 'void', 'system']);

it('leaves one verdict a reopening, and no diagnosis after it', async () => {
  const source = server.app.get(DataSource);
  const small = csvOf({ sampleRateHz: 5000, durationS: 0.3 });
  for (let round = 0; round < (LONG ? 1000 : 8); round++) {
    const id = await openCase(technician);
    const { id: entry } = (await readVolts(technician, id, 'battery', 12.5).expect(201)).body as { id: string };
    const answers = await Promise.all([
      lead.post(`/api/cases/${id}/verdicts`).send(verdict),
      lead.post(`/api/cases/${id}/verdicts`).send({ ...verdict, kind: 'replace-relay' }),
      readVolts(technician, id, 'pump', 12.1),
      upload(technician, id, small),
      technician.post(`/api/cases/${id}/evidence/${entry}/void`).send({ reason: 'Pin off' }),
      technician.post(`/api/cases/${id}/system`).send({ template: 'P2' }),
      lead.put(`/api/cases/${id}/intake`).send({ basis: 0, intake: EMPTY_INTAKE }),
      lead.post(`/api/cases/${id}/reopen`).send({ reason: 'another look is needed' }),
    ]);
    expect(answers.filter(({ status }) => status >= 500)).toEqual([]);
    const links = await source
      .getRepository(EvidenceRecord)
      .find({ where: { caseId: id }, order: { sequence: 'ASC' } });
    const reopened = await source.getRepository(AuditEntry).countBy({ action: 'case.reopen', target: id });
    const verdicts = links.filter(({ kind }) => kind === 'verdict').length;
    expect(verdicts).toBeGreaterThan(0);
    expect(verdicts).toBeLessThanOrEqual(1 + reopened);
    // With one verdict and no reopening, nothing that it should have rested on comes after it.
    if (reopened === 0) {
      const after = links.slice(links.findIndex(({ kind }) => kind === 'verdict') + 1);
      expect(after.filter(({ kind }) => DIAGNOSIS.has(kind))).toEqual([]);
    }
    const detail = await technician.get(`/api/cases/${id}`).expect(200);
    expect(detail.body).toMatchObject({ seal: { intact: true, entries: links.length } });
  }
  // What was refused left no samples behind.
  expect(await source.getRepository(CaptureRecord).countBy({ pendingSince: Not(IsNull()) })).toBe(0);
  const captures = new Set((await source.getRepository(CaptureRecord).find()).map(({ id }) => id));
  const chunks = await source
    .getRepository(CaptureChunk)
    .find({ select: { captureId: true, channel: true, level: true, part: true } });
  expect(chunks.filter(({ captureId }) => !captures.has(captureId))).toEqual([]);
});

it('writes nothing into a case that is being closed', async () => {
  for (let round = 0; round < (LONG ? 50 : 4); round++) {
    const id = await openCase(lead);
    await lead.post(`/api/cases/${id}/verdicts`).send(verdict).expect(201);
    await finishRepair(lead, id, verdict.kind);
    await answerRecheck(lead, id);
    const [closing, note] = await Promise.all([
      lead.post(`/api/cases/${id}/close`).send({}),
      technician.post(`/api/cases/${id}/notes`).send({ stage: 'recheck', text: 'Wait, it drips.' }),
    ]);
    expect(closing.status).toBe(204);
    const source = server.app.get(DataSource);
    const closed = await source.getRepository(AuditEntry).findOneByOrFail({ action: 'case.close', target: id });
    const links = await source
      .getRepository(EvidenceRecord)
      .find({ where: { caseId: id }, order: { sequence: 'ASC' } });
    const last = links.at(-1)!;
    // Either it came before the closing, or it was refused.
    expect(last.kind).toBe('close');
    expect(note.status === 409 || links.at(-2)?.value === 'Wait, it drips.').toBe(true);
    expect(last.takenAt.getTime()).toBeLessThanOrEqual(closed.at.getTime() + 50);
  }
});

it('opens many cases at once, each with a number of its own', async () => {
  const opened = await Promise.all(
    Array.from({ length: LONG ? 120 : 40 }, (_, i) => (i % 2 ? lead : technician).post('/api/cases').send(VEHICLE)),
  );
  expect(opened.map(({ status }) => status).filter((status) => status !== 201)).toEqual([]);
  const rows = await server.app.get(DataSource).query<{ number: number }[]>('SELECT number FROM cases');
  expect(new Set(rows.map(({ number }) => number)).size).toBe(rows.length);
});

it('takes one upload of a job, whoever sends it twice', async () => {
  const id = await openCase(technician);
  const job = '6f1c2a34-0000-4000-8000-000000000002';
  const answers = await Promise.all(Array.from({ length: 4 }, () => upload(technician, id, csvOf(), { job })));
  expect(answers.map(({ status }) => status).sort()).toEqual([201, 409, 409, 409]);
});

it('hides a capture until its link stands, and takes it away where that never comes', async () => {
  const id = await openCase(technician);
  const source = server.app.get(DataSource);
  const captures = source.getRepository(CaptureRecord);
  const before = await captures.count();
  await upload(technician, id, csvOf({ sampleRateHz: 5000, durationS: 0.3 })).expect(201);
  const [stored] = await captures.find({ where: { caseId: id } });
  // As a process leaves it that dies before the link.
  await source.getRepository(AnalysisRecord).delete({ captureId: stored.id });
  await captures.update(stored.id, { pendingSince: new Date(Date.now() - 7_200_000) });
  const { captures: shown } = (await technician.get(`/api/cases/${id}`)).body as { captures: object[] };
  expect(shown).toEqual([]);
  const window = { channel: '0', from: '0', to: '10', columns: '1' };
  await technician.get(`/api/captures/${stored.id}/window`).query(window).expect(404);
  await server.app.get(CaptureStore).sweep();
  expect(await captures.count()).toBe(before);
  expect(await source.getRepository(CaptureChunk).countBy({ captureId: stored.id })).toBe(0);
});
