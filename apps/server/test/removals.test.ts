import { randomUUID } from 'node:crypto';
import { EMPTY_INTAKE, type RemovalValue } from '@jarro/core';
import sharp from 'sharp';
import { DataSource } from 'typeorm';
import { remainderHash } from '../src/database/evidence-chain.js';
import { AuditEntry } from '../src/audit/audit.entities.js';
import { CaptureStore } from '../src/captures/capture-store.js';
import { Case } from '../src/cases/cases.entities.js';
import { ShelfEntry } from '../src/shelf/shelf.entities.js';
import { EvidenceRecord } from '../src/evidence/evidence.entities.js';
import { csvOf, openCase, startServer, upload, type Agent, type TestServer } from './support.js';

// A customer asks for their data to go: it goes from everywhere, and the case still verifies.

const NAME = 'Ottoline Brackwater';
let server: TestServer;
let lead: Agent;
let caseId: string;
let photoId: string;

beforeAll(async () => {
  server = await startServer('removals', { fill: 'people' });
  lead = await server.as('orsa@fennick.demo');
  caseId = await openCase(lead);
  const vehicle = { model: 'Marrow Finch', engine: '2.0 petrol', plate: 'ZQ71 KBX' };
  const intake = { ...EMPTY_INTAKE, vehicle, notes: `${NAME} says it stalls when hot.`, codes: ['P0230'] };
  await lead.put(`/api/cases/${caseId}/intake`).send({ basis: 0, intake }).expect(200);
  const text = `Rang ottoline  brackwater about zq71kbx; brackwaters are many.`;
  await lead.post(`/api/cases/${caseId}/notes`).send({ stage: 'intake', text }).expect(201);
  await upload(lead, caseId, csvOf(), { fileName: `${NAME}.csv` }).expect(201);
  const picture = await sharp({ create: { width: 40, height: 30, channels: 3, background: '#b4472b' } })
    .png()
    .toBuffer();
  const photo = await lead
    .post(`/api/cases/${caseId}/photos`)
    .query({ fileName: 'door.png', caption: `Car of ${NAME}`, stage: 'intake' })
    .set('Content-Type', 'application/octet-stream')
    .send(picture)
    .expect(201);
  photoId = (photo.body as { id: string }).id;
  const { shopId, openedBy } = await server.app.get(DataSource).getRepository(Case).findOneByOrFail({ id: caseId });
  const label = `Pump of ${NAME}`;
  const good = { shopId, caseId, captureId: randomUUID(), label, systemLine: null, systemName: '', turnA: null };
  const numbers = { keyState: 'prime', meanA: 5, ripplePercent: 9 } as const;
  await server.app
    .get(DataSource)
    .getRepository(ShelfEntry)
    .insert({ ...good, numbers, systemKind: 'unknown', addedBy: openedBy });
  const entry = { shopId, userId: openedBy, action: 'shelf.add', target: label };
  await server.app.get(DataSource).getRepository(AuditEntry).insert(entry);
});
afterAll(() => server.close());

const verified = async () =>
  (await lead.get(`/api/cases/${caseId}/verify`).expect(200)).body as {
    intact: boolean;
    problems: string[];
    notSealed: string[];
  };

/** Every text of every table of the database, originals and samples left out. */
async function everything(): Promise<string> {
  const source = server.app.get(DataSource);
  const tables = source.entityMetadatas.map(({ tableName }) => tableName).filter((name) => !/parts|chunks/.test(name));
  const rows = await Promise.all(tables.map((table) => source.query<object[]>(`SELECT * FROM ${table}`)));
  const summaries = await source.query<object[]>('SELECT * FROM case_summaries');
  return JSON.stringify([...rows, summaries]);
}

it('takes plate, pictures and names out of everything, and the chain still verifies', async () => {
  expect(await verified()).toMatchObject({ intact: true, notSealed: [] });
  const asked = { plate: true, photos: [photoId], words: [NAME], reason: `Asked for by letter` };
  await lead.post(`/api/cases/${caseId}/removals`).send(asked).expect(201);

  const left = await everything();
  expect(left).not.toMatch(/ottoline\s+brackwater/i);
  expect(left).not.toMatch(/ZQ71\s*KBX/i);
  // Whole words only, and the trade's terms and codes stay.
  expect(left).toContain('brackwaters are many');
  expect(left).toContain('P0230');
  expect(await server.app.get(DataSource).query('SELECT * FROM photo_parts')).toEqual([]);
  await lead.get(`/api/photos/${photoId}`).expect(404);
  await lead.get(`/api/photos/${photoId}/thumbnail`).expect(404);

  const { intact, problems, notSealed } = await verified();
  expect({ intact, problems }).toEqual({ intact: true, problems: [] });
  expect(notSealed).toEqual([expect.stringMatching(/photo of entry \d+ was taken out on request/)]);
  const { evidence } = (await lead.get(`/api/cases/${caseId}`).expect(200)).body as {
    evidence: { kind: string; value: RemovalValue }[];
  };
  const removal = evidence.find(({ kind }) => kind === 'removal')?.value;
  expect(removal).toMatchObject({ plate: true, complaint: false, photos: [photoId], reason: 'Asked for by letter' });
  expect(Object.keys(removal?.entries ?? {})).toHaveLength(4);
});

it('says so where nothing of it is there', async () => {
  const asked = { plate: false, photos: [], words: ['Nobody'], reason: 'Asked for by letter' };
  const answer = await lead.post(`/api/cases/${caseId}/removals`).send(asked).expect(422);
  expect(answer.text).toContain('nothing was taken out');
});

it('is asked for once more where a capture with these words came in while samples were read', async () => {
  const name = 'Ivo Halloway';
  await upload(lead, caseId, csvOf({ seed: 2 }), { fileName: `${name}.csv` }).expect(201);
  const store = server.app.get(CaptureStore);
  const read = store.contentHash.bind(store);
  const slow = jest.spyOn(store, 'contentHash').mockImplementationOnce(async (record) => {
    await upload(lead, caseId, csvOf({ seed: 3 }), { fileName: `${name} again.csv` }).expect(201);
    return read(record);
  });
  const asked = { plate: false, photos: [], words: [name], reason: 'Asked for by letter' };
  const answer = await lead.post(`/api/cases/${caseId}/removals`).send(asked).expect(409);
  expect(answer.text).toContain('Take them out once more');
  expect(await everything()).toContain(name);
  slow.mockRestore();
  await lead.post(`/api/cases/${caseId}/removals`).send(asked).expect(201);
  expect(await everything()).not.toContain(name);
  expect(await verified()).toMatchObject({ intact: true });
});

it('goes out as a bundle and comes in elsewhere', async () => {
  const there = await startServer('removals_b', { fill: 'people' });
  try {
    const stranger = await there.as('orsa@fennick.demo');
    const bundle = await lead.get(`/api/cases/${caseId}/bundle`).buffer().responseType('blob').expect(200);
    const taken = await stranger
      .post('/api/bundles')
      .set('Content-Type', 'application/octet-stream')
      .send(bundle.body as Buffer)
      .expect(201);
    const { id } = taken.body as { id: string };
    const checked = await stranger.get(`/api/cases/${id}/verify`).expect(200);
    expect(checked.body).toMatchObject({ intact: true });
  } finally {
    await there.close();
  }
});

it('hides no other change: neither of what is left, nor by a removal that somebody put there', async () => {
  const links = server.app.get(DataSource).getRepository(EvidenceRecord);
  const note = await links.findOneByOrFail({ caseId, kind: 'note' });
  await links.update(note.id, { value: 'Something else.' });
  expect((await verified()).problems).toContainEqual(expect.stringContaining(`number ${note.sequence} on`));

  const [last] = await links.find({ where: { caseId }, order: { sequence: 'DESC' }, take: 1 });
  const entries = { [note.id]: remainderHash({ ...note, value: 'Something else.' }) };
  const value: RemovalValue = { reason: 'none', plate: false, complaint: false, photos: [], entries };
  await links.insert({ ...last, id: randomUUID(), sequence: last.sequence + 1, value });
  expect((await verified()).intact).toBe(false);
});
