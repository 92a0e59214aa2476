import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { gunzipSync } from 'node:zlib';
import { checkCase, diagnose } from '@jarro/core';
import { emptyDatabase, startServer, type Agent, type TestServer } from './support.js';

// A shop's database as version 0.1 left it: a closed job, notes that look like JSON, and a capture taken with a clamp
// factor a hundred times too large, whose case that version couldn't open any more. It is never made anew: every later
// version has to bring it along.

interface Detail {
  readonly number: number;
  readonly stage: string;
  readonly seal: { readonly intact: boolean; readonly entries: number };
  readonly ledger: { readonly doubts: readonly string[]; readonly lines: readonly object[] };
  readonly evidence: readonly {
    readonly id: string;
    readonly kind: string;
    readonly value: unknown;
    readonly voided: object | null;
  }[];
  readonly captures: readonly { readonly id: string; readonly samples: number }[];
}

let server: TestServer;
let lead: Agent;
const cases = new Map<number, Detail & { readonly id: string }>();

beforeAll(async () => {
  const dump = gunzipSync(readFileSync(join(__dirname, 'fixtures', 'shop-0.1.sql.gz'))).toString();
  await emptyDatabase('earlier', dump);
  server = await startServer('earlier', { fill: 'nothing', keep: true });
  lead = await server.as('orsa@fennick.demo');
  const board = (await lead.get('/api/cases').expect(200)).body as { cases: { id: string; number: number }[] };
  for (const { id, number } of board.cases) {
    cases.set(number, { id, ...((await lead.get(`/api/cases/${id}`).expect(200)).body as Detail) });
  }
});
afterAll(() => server.close());

it('opens every case with its seal intact, notes that look like JSON included, and says what no seal covers', async () => {
  expect([...cases.keys()].sort()).toEqual([1, 2, 3]);
  for (const { seal } of cases.values()) expect(seal.intact).toBe(true);
  const { id } = cases.get(1)!;
  const verified = (await lead.get(`/api/cases/${id}/verify`).expect(200)).body as {
    intact: boolean;
    notSealed: string[];
  };
  expect(verified.intact).toBe(true);
  expect(verified.notSealed.join()).toMatch(/original file of “.*” .* was not kept/);
  const notes = cases.get(2)!.evidence.filter(({ kind }) => kind === 'note');
  expect(notes.map(({ value }) => value)).toEqual(['12.6', 'true', '{"a":1}', '"quoted"', 'plain words']);
});

it('shows and weighs the closed job as before', async () => {
  const { id, stage, captures, evidence } = cases.get(1)!;
  expect(stage).toBe('closed');
  expect(evidence.filter(({ voided }) => voided)).toHaveLength(1);
  const window = { channel: '0', from: '0', to: String(captures[0].samples), columns: '10' };
  await lead.get(`/api/captures/${captures[0].id}/window`).query(window).expect(200);
  const photo = evidence.find(({ kind }) => kind === 'photo')!;
  await lead.get(`/api/photos/${photo.id}`).expect(200);
  const written = (await lead.get(`/api/cases/${id}/file`).expect(200)).body as object;
  const checked = checkCase(written);
  if (!('case' in checked)) throw new Error(JSON.stringify(checked.problems));
  const { system, readings, rules } = checked.case;
  expect(diagnose(system, readings, { rules }).families[0]).toMatchObject({ family: 'pump-electrical' });
});

it('opens the case that a wrong clamp factor had locked, says so, and lets the capture be voided', async () => {
  const { id, ledger, captures } = cases.get(3)!;
  expect(ledger.doubts.join()).toMatch(/A capture's mean of \d+ A can't be/);
  expect(ledger.lines.length).toBeGreaterThan(0);
  await lead
    .post(`/api/cases/${id}/evidence/${captures[0].id}/void`)
    .send({ reason: 'Clamp factor wrong' })
    .expect(204);
  const after = (await lead.get(`/api/cases/${id}`).expect(200)).body as Detail;
  expect(after.ledger.doubts).toEqual([]);
  expect(after.seal.intact).toBe(true);
});
