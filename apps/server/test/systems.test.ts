import { DEFAULT_HOUSE_RULES, emptyProfile, readProfile, templateProfile, type SystemProfile } from '@jarro/core';
import { faceCautions, startServer, type TestServer } from './support.js';

type Agent = Awaited<ReturnType<TestServer['as']>>;

let server: TestServer;
let jem: Agent;

beforeAll(async () => {
  server = await startServer('systems');
  jem = await server.as('jem@fennick.demo');
});
afterAll(() => server.close());

const own: SystemProfile = { ...templateProfile('P4'), name: 'Pewter 1.8' };
const keep = async (profile: object = own) =>
  ((await jem.post('/api/systems').send({ profile }).expect(201)).body as { id: string }).id;
const history = async (id: string) =>
  (await jem.get(`/api/systems/${id}`).expect(200)).body as {
    retired: boolean;
    versions: { version: number; profile: SystemProfile; madeBy: string }[];
  };

it('keeps every version of a system, and a case keeps the one that it was given', async () => {
  const id = await keep();
  const vehicle = { model: 'M', engine: '1.8', plate: 'P', complaint: 'stalls' };
  const { id: caseId } = (await jem.post('/api/cases').send(vehicle).expect(201)).body as { id: string };
  await jem.post(`/api/cases/${caseId}/system`).send({ line: id, version: 7 }).expect(404);
  await jem.post(`/api/cases/${caseId}/system`).send({}).expect(400);
  await jem.post(`/api/cases/${caseId}/system`).send({ line: id, version: 1 }).expect(201);

  const next = { ...own, stations: own.stations.filter(({ kind }) => kind !== 'cutoff-switch') };
  await jem.put(`/api/systems/${id}`).send({ basis: 1, profile: next }).expect(200);
  await jem.put(`/api/systems/${id}`).send({ basis: 1, profile: own }).expect(409);
  const { versions } = await history(id);
  expect(versions.map(({ version }) => version)).toEqual([2, 1]);
  expect(versions[0].profile.stations).toHaveLength(own.stations.length - 1);
  expect(versions[1]).toMatchObject({ profile: own, madeBy: 'Jem Wackett' });

  const given = (await jem.get(`/api/cases/${caseId}`).expect(200)).body as { system: object; seal: object };
  expect(given).toMatchObject({
    system: { shipped: false, line: id, version: 1, profile: own },
    seal: { intact: true },
  });
  await faceCautions(jem, caseId);
  const cutoff = { kind: 'voltage', at: 'cutoff', value: 12, keyState: 'prime', faultPresent: true };
  await jem.post(`/api/cases/${caseId}/evidence`).send(cutoff).expect(201);
  await jem.post(`/api/cases/${caseId}/system`).send({ line: id, version: 2 }).expect(201);
  await jem.post(`/api/cases/${caseId}/evidence`).send(cutoff).expect(422);
});

it('retires a system and brings it back', async () => {
  const id = await keep({ ...own, name: 'Old one' });
  await jem.post(`/api/systems/${id}/retire`).send({ retired: true }).expect(204);
  expect((await history(id)).retired).toBe(true);
  const systems = (await jem.get('/api/systems').expect(200)).body as object[];
  expect(systems).toContainEqual(expect.objectContaining({ id, retired: true }));
  await jem.post(`/api/systems/${id}/retire`).send({ retired: false }).expect(204);
  expect((await history(id)).retired).toBe(false);
});

describe('a system that can’t be is refused field by field, and nothing of it is kept', () => {
  const [battery, pump, plug, ground] = emptyProfile().stations;
  const named = { ...emptyProfile(), name: 'N' };
  it.each<[string, unknown, RegExp]>([
    ['no object', 'path', /one JSON object/],
    ['no stations', { ...named, stations: undefined }, /stations: List the stations/],
    ['no pump', { ...named, stations: [battery, plug, ground] }, /There is no pump/],
    ['no ground', { ...named, stations: [battery, pump] }, /isn’t closed/],
    [
      'a number that is text',
      { ...named, stations: [battery, { ...pump, accessMinutes: '5' }, ground] },
      /stations\[1\].accessMinutes/,
    ],
    ['two of one id', { ...named, stations: [battery, pump, ground, ground] }, /Two stations are called "ground"/],
    ['a winding that takes all', { ...named, pump: { ...named.pump, windingOhm: 9 } }, /pump.windingOhm/],
    [
      'a falling table',
      {
        ...named,
        commandTable: [
          [50, 0],
          [10, 100],
        ],
      },
      /commandTable\[1\]: The rows must rise/,
    ],
    ['an upside-down window', { ...named, currentWindows: { idle: { minA: 8, maxA: 4 } } }, /currentWindows.idle/],
    [
      '500 stations',
      {
        ...named,
        stations: [battery, ...Array.from({ length: 500 }, (_, i) => ({ ...plug, id: `c${i}` })), pump, ground],
      },
      /at most 60 stations; this one has 503/,
    ],
  ])('%s', async (_name, profile, message) => {
    const before = ((await jem.get('/api/systems')).body as object[]).length;
    const answer = await jem.post('/api/systems').send({ profile }).expect(400);
    expect((answer.body as { detail: string }).detail).toMatch(message);
    expect(((await jem.get('/api/systems')).body as object[]).length).toBe(before);
    const read = readProfile(profile);
    expect('problems' in read && read.problems.length > 0).toBe(true);
  });
});

it('the demo’s own verdicts pass the gate by themselves', async () => {
  const board = await jem.get('/api/cases').expect(200);
  const { cases } = board.body as { cases: { id: string; verdict: string | null }[] };
  const decided = cases.filter(({ verdict }) => verdict);
  expect(decided).toHaveLength(5);
  for (const { id } of decided) {
    const { evidence } = (await jem.get(`/api/cases/${id}`)).body as { evidence: { kind: string; value: object }[] };
    const verdict = evidence.find(({ kind }) => kind === 'verdict')?.value;
    expect(verdict).toMatchObject({ gate: { allowed: true, missing: [] }, overrideReason: null });
  }
  expect(((await jem.get('/api/session')).body as { shop: object }).shop).toMatchObject({ rules: DEFAULT_HOUSE_RULES });
});
