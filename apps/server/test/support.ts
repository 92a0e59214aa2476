import { execFile } from 'node:child_process';
import { resolve } from 'node:path';
import { buffer } from 'node:stream/consumers';
import { promisify } from 'node:util';
import { createConnection } from 'mysql2/promise';
import type { INestApplication } from '@nestjs/common';
import request from 'supertest';
import { DataSource } from 'typeorm';
import {
  ACKNOWLEDGED_CAUTIONS,
  csvBlocks,
  RECHECK_CHECKS,
  repairPlan,
  simulateCapture,
  type CaptureSpec,
  type Verdict,
} from '@jarro/core';
import { createApp } from '../src/app.js';
import type { Config } from '../src/config.js';
import { seedPeople } from '../src/demo/seed.js';
import { DEMO_PASSWORD } from '../src/demo/scenario.js';
import { sealKey } from '../src/seal/seal-key.js';

export interface TestServer {
  readonly app: INestApplication;
  /** A signed-in browser. */
  as(email: string): Promise<ReturnType<typeof request.agent>>;
  close(): Promise<void>;
}

/** The same for every test's server, as it is for the processes on one database. */
export const TEST_SEAL_KEY = process.env.JARRO_TEST_SEAL_KEY ?? '5e'.repeat(32);

/** `npm run trials` runs the same tests for longer. */
export const LONG = process.env.JARRO_TRIALS === 'long';

interface Settings extends Pick<Config, 'origin' | 'trustProxy' | 'backups'> {
  readonly uploadLimitMib: number;
  readonly databasePort: number;
  /** The demo workshop, its people alone, or an installation that nobody has set up. */
  readonly fill: 'demo' | 'people' | 'nothing';
  /** Use the database as it is. */
  readonly keep: boolean;
}

export function databaseUrl(name: string): URL {
  const url = new URL(process.env.JARRO_TEST_DATABASE_URL ?? '');
  url.pathname = `/jarro_${name}`;
  return url;
}

/** A fresh database. @param dump statements to fill it with */
export async function emptyDatabase(name: string, dump?: string): Promise<URL> {
  const url = databaseUrl(name);
  const server = await createConnection(url.href.replace(url.pathname, ''));
  await server.query(`DROP DATABASE IF EXISTS jarro_${name}`);
  await server.query(`CREATE DATABASE jarro_${name} CHARACTER SET utf8mb4`);
  await server.end();
  if (dump === undefined) return url;
  const database = await createConnection({ uri: url.href, multipleStatements: true });
  await database.query(dump);
  await database.end();
  return url;
}

/** Fills a database as the scripts do, which are modules that a test's sandbox can't take in. */
async function copyDemo(url: URL, from: string): Promise<void> {
  const script =
    "import { copyDatabase } from './scripts/lib/copy-database.mjs'; await copyDatabase(...process.argv.slice(1));";
  const cwd = resolve(__dirname, '../../..');
  await promisify(execFile)(process.execPath, ['--input-type=module', '--eval', script, url.href, from], { cwd });
}

/** The whole application with the demo workshop, on an empty database of its own. */
export async function startServer(
  name: string,
  { uploadLimitMib = 2, databasePort, fill = 'demo', keep = false, ...more }: Partial<Settings> = {},
): Promise<TestServer> {
  const url = keep ? databaseUrl(name) : await emptyDatabase(name);
  // The demo takes its time to be made: where it lies ready, a copy does as well.
  if (fill === 'demo' && process.env.JARRO_TEST_DEMO) await copyDemo(url, process.env.JARRO_TEST_DEMO);
  if (databasePort !== undefined) url.port = String(databasePort);
  const app = await createApp({
    databaseUrl: url.href,
    host: '127.0.0.1',
    port: 0,
    demo: fill === 'demo',
    webFolder: __dirname,
    uploadLimitBytes: uploadLimitMib * 1024 * 1024,
    sealKey: sealKey(TEST_SEAL_KEY),
    ...more,
  });
  if (fill === 'people') await seedPeople(app.get(DataSource));
  await app.listen(0, '127.0.0.1');
  return {
    app,
    async as(email) {
      const agent = request.agent(app.getHttpServer() as string);
      await agent.post('/api/session').send({ email, password: DEMO_PASSWORD }).expect(204);
      return agent;
    },
    close: () => app.close(),
  };
}

export type Agent = Awaited<ReturnType<TestServer['as']>>;

export const VEHICLE = { model: 'Test Vehicle', engine: '1.0', plate: 'T1', complaint: 'cranks, no start' };

/** A case in which evidence may be taken. */
export async function openCase(by: Agent): Promise<string> {
  const { id } = (await by.post('/api/cases').send(VEHICLE).expect(201)).body as { id: string };
  await faceCautions(by, id);
  return id;
}

export function readVolts(by: Agent, id: string, at: string, value: number) {
  return by
    .post(`/api/cases/${id}/evidence`)
    .send({ kind: 'voltage', at, value, keyState: 'prime', faultPresent: true });
}

/** A simulated capture as a scope writes it. */
export function csvOf(spec: Partial<CaptureSpec> = {}): Buffer {
  return Buffer.concat([...csvBlocks(simulateCapture({ sampleRateHz: 20_000, durationS: 0.8, ...spec }).capture)]);
}

export function upload(by: Agent, id: string, body: Buffer, query: Record<string, string> = {}) {
  return by
    .post(`/api/cases/${id}/captures`)
    .query({ fileName: 'a.csv', label: 'Prime', keyState: 'prime', faultPresent: 'true', ...query })
    .set('Content-Type', 'application/octet-stream')
    .send(body);
}

/** Has every caution of a case acknowledged, as people do at each stage. */
export async function faceCautions(by: ReturnType<typeof request.agent>, caseId: string): Promise<void> {
  for (const caution of ACKNOWLEDGED_CAUTIONS) {
    await by.post(`/api/cases/${caseId}/cautions`).send({ caution }).expect(204);
  }
}

/** Ticks every particular of a repair, and ends it. */
export async function finishRepair(by: Agent, id: string, verdict: Verdict): Promise<void> {
  for (const { id: at, asks } of repairPlan(verdict).steps) {
    const value = asks === undefined ? { done: true } : { done: true, said: 'as stated' };
    await by.post(`/api/cases/${id}/repair`).send({ at, value }).expect(201);
  }
  const value = { what: 'Done as planned.', changed: verdict !== 'no-fault-found' };
  await by.post(`/api/cases/${id}/repair`).send({ at: 'done', value }).expect(201);
}

/** Answers what every recheck asks, each in the vehicle's favour. */
export async function answerRecheck(by: Agent, id: string): Promise<void> {
  for (const { at, answers, failsWith, keyState } of RECHECK_CHECKS) {
    const value = answers.find((answer) => !failsWith.includes(answer.value))?.value;
    await by
      .post(`/api/cases/${id}/evidence`)
      .send({ kind: 'check', at, value, keyState, faultPresent: false })
      .expect(201);
  }
}

/** For `parse`: an answer's bytes as they come. */
export function bytesOf(answer: request.Response, done: (error: Error | null, body: unknown) => void): void {
  buffer(answer as unknown as NodeJS.ReadableStream).then(
    (body) => done(null, body),
    (error: Error) => done(error, undefined),
  );
}

/** A window's floats. */
export async function floatsOf(asked: request.Test): Promise<Float32Array> {
  const { body } = (await asked.buffer().parse(bytesOf).expect(200)) as { readonly body: Buffer };
  return new Float32Array(body.buffer.slice(body.byteOffset, body.byteOffset + body.length));
}
