import { createConnection } from 'mysql2/promise';
import type { INestApplication } from '@nestjs/common';
import request from 'supertest';
import { ACKNOWLEDGED_CAUTIONS } from '@jarro/core';
import { createApp } from '../src/app.js';
import { DEMO_PASSWORD } from '../src/demo/scenario.js';

export interface TestServer {
  readonly app: INestApplication;
  /** A signed-in browser. */
  as(email: string): Promise<ReturnType<typeof request.agent>>;
  close(): Promise<void>;
}

interface Settings {
  readonly uploadLimitMib: number;
  readonly databasePort: number;
  readonly demo: boolean;
  /** Use the database as it is. */
  readonly keep: boolean;
}

/** The whole application with the demo workshop, on an empty database of its own. */
export async function startServer(
  name: string,
  { uploadLimitMib = 2, databasePort, demo = true, keep = false }: Partial<Settings> = {},
): Promise<TestServer> {
  const url = new URL(process.env.JARRO_TEST_DATABASE_URL ?? '');
  url.pathname = `/jarro_${name}`;
  const database = await createConnection(url.href.replace(url.pathname, ''));
  if (!keep) {
    await database.query(`DROP DATABASE IF EXISTS jarro_${name}`);
    await database.query(`CREATE DATABASE jarro_${name} CHARACTER SET utf8mb4`);
  }
  await database.end();
  if (databasePort !== undefined) url.port = String(databasePort);
  const app = await createApp({
    databaseUrl: url.href,
    host: '127.0.0.1',
    port: 0,
    demo,
    webFolder: __dirname,
    uploadLimitBytes: uploadLimitMib * 1024 * 1024,
  });
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

/** Has every caution of a case acknowledged, as people do at each stage. */
export async function faceCautions(by: ReturnType<typeof request.agent>, caseId: string): Promise<void> {
  for (const caution of ACKNOWLEDGED_CAUTIONS) {
    await by.post(`/api/cases/${caseId}/cautions`).send({ caution }).expect(204);
  }
}
