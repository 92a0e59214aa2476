import { createHash } from 'node:crypto';
import sharp from 'sharp';
import { DataSource } from 'typeorm';
import { sealKey } from '../src/seal/seal-key.js';
import {
  csvOf,
  faceCautions,
  openCase,
  readVolts,
  startServer,
  TEST_SEAL_KEY,
  upload,
  type Agent,
  type TestServer,
} from './support.js';

interface Verified {
  readonly intact: boolean;
  readonly entries: number;
  readonly problems: readonly string[];
  readonly notSealed: readonly string[];
  readonly captures: number;
  readonly photos: number;
}

let server: TestServer;
let lead: Agent;
let source: DataSource;
const file = csvOf({ voltages: true });
const ids = { case: '', reading: '', capture: '', photo: '' };

beforeAll(async () => {
  server = await startServer('seal', { fill: 'people' });
  source = server.app.get(DataSource);
  lead = await server.as('orsa@fennick.demo');
  ids.case = await openCase(lead);
  ids.reading = ((await readVolts(lead, ids.case, 'battery', 12.4).expect(201)).body as { id: string }).id;
  ids.capture = ((await upload(lead, ids.case, file).expect(201)).body as { id: string }).id;
  const picture = await sharp({ create: { width: 40, height: 30, channels: 3, background: '#b4472b' } })
    .png()
    .toBuffer();
  ids.photo = (
    (
      await lead
        .post(`/api/cases/${ids.case}/photos`)
        .query({ fileName: 'leg.png', caption: 'Burnt leg', stage: 'power-path' })
        .set('Content-Type', 'application/octet-stream')
        .send(picture)
        .expect(201)
    ).body as { id: string }
  ).id;
  await lead
    .post(`/api/cases/${ids.case}/verdicts`)
    .send({ kind: 'replace-pump', statement: 'Worn', overrideReason: 'the customer insists on it' })
    .expect(201);
});
afterAll(() => server.close());

const verify = async () => (await lead.get(`/api/cases/${ids.case}/verify`).expect(200)).body as Verified;

it('finds nothing wrong with a case that nobody touched, and has looked at all of it', async () => {
  expect(await verify()).toMatchObject({ intact: true, problems: [], notSealed: [], captures: 1, photos: 1 });
});

/** What somebody with the database's password could do, and what is then said. */
const TAMPERINGS: readonly (readonly [what: string, sql: string, values: () => unknown[], said: RegExp])[] = [
  ['a reading', `UPDATE evidence SET value = '12.6' WHERE id = ?`, () => [ids.reading], /no longer follow/],
  ['when it was taken', 'UPDATE evidence SET takenAt = takenAt + INTERVAL 1 DAY WHERE id = ?', () => [ids.reading], /no longer follow/], // prettier-ignore
  ['the verdict, cut off', `DELETE FROM evidence WHERE kind = 'verdict' AND caseId = ?`, () => [ids.case], /One entry is missing from its end/], // prettier-ignore
  [
    'the stage',
    `UPDATE cases SET stage = 'open' WHERE id = ?`,
    () => [ids.case],
    /Its stage was changed: it was “decided”/,
  ],
  ['the complaint', `UPDATE cases SET complaint = 'noisy' WHERE id = ?`, () => [ids.case], /The complaint was changed/],
  [
    'the plate',
    `UPDATE vehicles SET plate = 'T2' WHERE plate = 'T1'`,
    () => [],
    /plate was changed: it was “T1” and is “T2”/,
  ],
  ['one sample', `UPDATE capture_chunks SET data = INSERT(data, 9, 1, 'x') WHERE captureId = ? AND channel = 1 AND level = 0`, () => [ids.capture], /The samples of “Prime”/], // prettier-ignore
  ['a level drawn from afar', `UPDATE capture_chunks SET data = INSERT(data, 9, 1, 'x') WHERE captureId = ? AND level = 1`, () => [ids.capture], /The samples of “Prime”/], // prettier-ignore
  [
    'the sample rate',
    'UPDATE captures SET sampleRateHz = sampleRateHz * 2 WHERE id = ?',
    () => [ids.capture],
    /The samples of “Prime”/,
  ],
  ['what was measured', `UPDATE analyses SET result = JSON_SET(result, '$.ramp.steady.meanA', 1.5) WHERE captureId = ?`, () => [ids.capture], /What was measured of “Prime” .* was changed/], // prettier-ignore
  [
    'the original file',
    `UPDATE original_parts SET data = INSERT(data, 30, 1, 'x')`,
    () => [],
    /The original file of “Prime” .* was changed/,
  ],
  [
    'the original file, taken away',
    'DELETE FROM original_parts',
    () => [],
    /The original file of “Prime” .* is missing/,
  ],
  ['a photo', `UPDATE photo_parts SET data = INSERT(data, 60, 1, 'x') WHERE photoId = ? AND part = 0`, () => [ids.photo], /The photo “Burnt leg”/], // prettier-ignore
  ['its small picture', `UPDATE photo_parts SET data = INSERT(data, 60, 1, 'x') WHERE photoId = ? AND part = -1`, () => [ids.photo], /The small picture of “Burnt leg”/], // prettier-ignore
  ['the signature', 'DELETE FROM case_seals WHERE caseId = ?', () => [ids.case], /signature of this case is missing/],
  ['what was signed', `UPDATE case_seals SET facts = JSON_SET(facts, '$.plate', 'T2') WHERE caseId = ?`, () => [ids.case], /signature of this case was changed/], // prettier-ignore
];

describe('whoever changes in the database', () => {
  it.each(TAMPERINGS)('%s is found out', async (_what, sql, values, said) => {
    const runner = source.createQueryRunner();
    const tables = ['evidence', 'cases', 'vehicles', 'capture_chunks', 'captures', 'analyses', 'original_parts', 'photo_parts', 'case_seals']; // prettier-ignore
    const table = tables.find((name) => new RegExp(`(UPDATE|FROM) ${name} `).test(`${sql} `))!;
    try {
      await runner.query('SET FOREIGN_KEY_CHECKS = 0');
      await runner.query(`CREATE TABLE kept LIKE ${table}`);
      await runner.query(`INSERT INTO kept SELECT * FROM ${table}`);
      const { affectedRows } = (await runner.query(sql, values())) as { affectedRows: number };
      expect(affectedRows).toBeGreaterThan(0);
      const { intact, problems } = await verify();
      expect(intact).toBe(false);
      expect(problems.join('\n')).toMatch(said);
    } finally {
      await runner.query(`DELETE FROM ${table}`);
      await runner.query(`INSERT INTO ${table} SELECT * FROM kept`);
      await runner.query('DROP TABLE kept');
      await runner.query('SET FOREIGN_KEY_CHECKS = 1');
      await runner.release();
    }
    expect((await verify()).intact).toBe(true);
  });
});

it('says of a signature made with another key what to do', async () => {
  await source.query('UPDATE case_seals SET keyId = ? WHERE caseId = ?', [sealKey('ab'.repeat(32)).id, ids.case]);
  expect((await verify()).problems).toEqual([expect.stringMatching(/another key .* Put the right key back/)]);
  await source.query('UPDATE case_seals SET keyId = ? WHERE caseId = ?', [sealKey(TEST_SEAL_KEY).id, ids.case]);
});

it('shows on the case itself that its end was cut, without anybody asking', async () => {
  const other = await openCase(lead);
  await readVolts(lead, other, 'battery', 12.4).expect(201);
  await source.query('DELETE FROM evidence WHERE caseId = ? ORDER BY sequence DESC LIMIT 1', [other]);
  const { seal } = (await lead.get(`/api/cases/${other}`).expect(200)).body as { seal: object };
  expect(seal).toMatchObject({ intact: false, problems: ['One entry is missing from its end.'] });
});

it('a capture measured anew is a new entry beside the old, and both are sealed', async () => {
  const other = await openCase(lead);
  const { id } = (await upload(lead, other, file).expect(201)).body as { id: string };
  await lead
    .post(`/api/captures/${id}/analyses`)
    .expect(409)
    .expect(/just as it was measured before/);
  // As an earlier version left it, which measured otherwise.
  await source.query(`UPDATE analyses SET result = JSON_SET(result, '$.ramp.steady.meanA', 1.5) WHERE captureId = ?`, [
    id,
  ]);
  const [{ result }] = await source.query<[{ result: string }]>('SELECT result FROM analyses WHERE captureId = ?', [
    id,
  ]);
  const before = JSON.parse(result) as object;
  await lead.post(`/api/captures/${id}/analyses`).expect(201);
  const { captures, evidence } = (await lead.get(`/api/cases/${other}`).expect(200)).body as {
    captures: { analysis: { ramp: { steady: { meanA: number } } } }[];
    evidence: { kind: string; at: string }[];
  };
  expect(captures[0].analysis.ramp.steady.meanA).not.toBe(1.5);
  expect(evidence.at(-1)).toMatchObject({ kind: 'analysis', at: id });
  const kept = await source.query<{ result: string }[]>('SELECT result FROM analyses WHERE captureId = ?', [id]);
  expect(kept.map((row) => JSON.parse(row.result) as object)).toContainEqual(before);
  // The old one was changed here by hand, and only that is found.
  const { problems } = (await lead.get(`/api/cases/${other}/verify`).expect(200)).body as Verified;
  expect(problems).toEqual([expect.stringMatching(/What was measured of “Prime” .* was changed/)]);
});

describe('an original file', () => {
  it('comes back byte for byte, and is kept once however often it is sent', async () => {
    const other = await openCase(lead);
    const again = (await upload(lead, other, file).expect(201)).body as { id: string };
    const back = await lead
      .get(`/api/captures/${again.id}/original`)
      .buffer(true)
      .parse((response, done) => {
        const parts: Buffer[] = [];
        response.on('data', (part: Buffer) => parts.push(part));
        response.on('end', () => done(null, Buffer.concat(parts)));
      });
    expect((back.body as Buffer).equals(file)).toBe(true);
    expect(back.headers['content-disposition']).toContain('a.csv');
    const [{ count }] = await source.query<[{ count: string }]>(
      'SELECT COUNT(*) AS count FROM originals WHERE sha256 = ?',
      [createHash('sha256').update(file).digest('hex')],
    );
    expect(Number(count)).toBe(1);
  });

  it('that no entry ever named goes with the sweep, and nothing else', async () => {
    const { Originals } = await import('../src/captures/originals.js');
    const originals = server.app.get(Originals);
    await originals.keep('f'.repeat(64), 3, () => [Buffer.from('abc')]);
    await source.query(`UPDATE originals SET pendingSince = pendingSince - INTERVAL 2 HOUR WHERE sha256 = ?`, [
      'f'.repeat(64),
    ]);
    await originals.sweep();
    const left = await source.query<{ sha256: string }[]>('SELECT DISTINCT sha256 FROM original_parts');
    expect(left.map(({ sha256 }) => sha256)).toEqual([createHash('sha256').update(file).digest('hex')]);
    await faceCautions(lead, await openCase(lead));
    expect((await verify()).intact).toBe(true);
  });
});
