import type { CaseDetail, MathItem } from '@jarro/api-types';
import { csvBlocks } from '@jarro/core';
import { DataSource } from 'typeorm';
import { MathChunk, MathRecord } from '../src/captures/math.entities.js';
import { MathService } from '../src/captures/math.service.js';
import { floatsOf, openCase, startServer, upload, type Agent, type TestServer } from './support.js';

let server: TestServer;
let technician: Agent;
let caseId: string;
let id: string;

const SAMPLES = 300_000;
const feed = Float32Array.from({ length: SAMPLES }, (_, i) => 12 + Math.sin(i / 500));
const current = Float32Array.from({ length: SAMPLES }, (_, i) => (i < 50_000 ? 0.01 : 5 + 0.4 * Math.sin(i / 7)));

beforeAll(async () => {
  server = await startServer('math', { fill: 'people', uploadLimitMib: 32 });
  technician = await server.as('jem@fennick.demo');
  caseId = await openCase(technician);
  const channels = [
    { name: 'Feed voltage', unit: 'V' as const, fileFactor: 1, samples: feed },
    { name: 'Pump current', unit: 'A' as const, fileFactor: 1, samples: current },
  ];
  const file = Buffer.concat([...csvBlocks({ sampleRateHz: 100_000, startS: 0, channels, notes: [] })]);
  id = ((await upload(technician, caseId, file).expect(201)).body as { id: string }).id;
});
afterAll(() => server.close());

const make = (math: object) => technician.post(`/api/captures/${id}/math`).send(math);

const windowOf = (channel: number, from: number, to: number, columns: number) =>
  floatsOf(technician.get(`/api/captures/${id}/math/${channel}/window`).query({ from, to, columns }));

const listed = async () =>
  ((await technician.get(`/api/cases/${caseId}`).expect(200)).body as CaseDetail).captures[0].math;

describe('math channels', () => {
  it('are worked out over every part of a record, and drawn sample by sample and from afar', async () => {
    const watts = (await make({ kind: 'product', of: 0, with: 1 }).expect(201)).body as MathItem;
    expect(watts).toMatchObject({ channel: 0, name: 'Feed voltage × Pump current', unit: 'W' });
    expect(await listed()).toEqual([watts]);
    // Over the border of two stored parts.
    const near = await windowOf(0, 262_140, 262_148, 8);
    for (let i = 0; i < 8; i++) expect(near[2 * i]).toBeCloseTo(feed[262_140 + i] * current[262_140 + i], 2);
    const far = await windowOf(0, 0, SAMPLES, 3);
    const most = feed.reduce((top, volts, i) => Math.max(top, volts * current[i]), 0);
    expect(Math.max(...far)).toBeCloseTo(most, 2);

    const ohms = (await make({ kind: 'ratio', of: 0, with: 1 }).expect(201)).body as MathItem;
    expect(ohms).toMatchObject({ channel: 1, unit: 'Ω' });
    const drawn = await windowOf(1, 0, SAMPLES, 60);
    expect([...drawn.subarray(0, 18)].every(Number.isNaN)).toBe(true);
    expect(drawn.at(-1)).toBeLessThan(3);
  });

  it('are four at most, refused for what makes no sense, and taken away', async () => {
    expect((await make({ kind: 'difference', of: 0, with: 1 }).expect(422)).body).toMatchObject({
      detail: expect.stringContaining('only alike units') as string,
    });
    await make({ kind: 'sum', of: 0, with: 1 }).expect(400);
    for (const cutoffHz of [50, 500]) await make({ kind: 'low-pass', of: 1, cutoffHz }).expect(201);
    expect((await make({ kind: 'low-pass', of: 0, cutoffHz: 50 }).expect(422)).body).toMatchObject({
      detail: expect.stringContaining('Take one away') as string,
    });
    await technician.delete(`/api/captures/${id}/math/2`).expect(204);
    await technician.get(`/api/captures/${id}/math/2/window`).query({ from: 0, to: 9, columns: 3 }).expect(404);
    expect((await listed()).map(({ channel }) => channel)).toEqual([0, 1, 3]);
    const chunks = server.app.get(DataSource).getRepository(MathChunk);
    expect(await chunks.countBy({ captureId: id, channel: 2 })).toBe(0);
  });

  it('leave nothing behind when nobody waits for them any more, or their process died', async () => {
    const records = server.app.get(DataSource).getRepository(MathRecord);
    const before = await records.count();
    const me = { user: { id: 'x' }, shop: { id: 'x' } };
    const gone = AbortSignal.abort();
    const service = server.app.get(MathService);
    const shop = await server.app.get(DataSource).query<{ id: string }[]>('SELECT id FROM shops LIMIT 1');
    me.shop.id = shop[0].id;
    await expect(service.add(me as never, id, { kind: 'low-pass', of: 0, cutoffHz: 50 }, gone)).rejects.toThrow();
    expect(await records.count()).toBe(before);

    const long = new Date(Date.now() - 2 * 3_600_000);
    await records.insert({ captureId: id, channel: 2, kind: 'low-pass', ofChannel: 0, withChannel: null, cutoffHz: 9, pendingSince: long }); // prettier-ignore
    expect((await listed()).map(({ channel }) => channel)).toEqual([0, 1, 3]);
    await service.sweep();
    expect(await records.count()).toBe(before);
  });
});

describe('marks on a record', () => {
  const mark = (body: object) => technician.post(`/api/cases/${caseId}/marks`).send({ captureId: id, ...body });

  it('are links of the chain, at a time of the record, and can be voided', async () => {
    const mine = await mark({ mark: 'disturbed', atS: 1.25, what: 'plug at the tank' }).expect(201);
    const { evidence, seal } = (await technician.get(`/api/cases/${caseId}`).expect(200)).body as CaseDetail;
    expect(seal.intact).toBe(true);
    expect(evidence.at(-1)).toMatchObject({
      kind: 'mark',
      at: id,
      value: { mark: 'disturbed', atS: 1.25, what: 'plug at the tank' },
    });
    await technician
      .post(`/api/cases/${caseId}/evidence/${(mine.body as { id: string }).id}/void`)
      .send({ reason: 'pressed late' })
      .expect(204);
  });

  it.each([
    ['beyond the record', { mark: 'engine', atS: 3.5 }, 422, /runs from 0.000 to 3.000 s/],
    [
      'of another case’s capture',
      { mark: 'engine', atS: 1, captureId: '00000000-0000-4000-8000-000000000000' },
      404,
      /no such capture/,
    ],
    ['without saying what', { mark: 'other', atS: 1 }, 422, /in words/],
  ] as const)('are refused %s', async (_name, body, status, says) => {
    const refused = await mark(body).expect(status);
    expect((refused.body as { detail: string }).detail).toMatch(says);
  });
});
