import { connect, createServer, type Server, type Socket } from 'node:net';
import type { AddressInfo } from 'node:net';
import { DataSource } from 'typeorm';
import { EvidenceRecord } from '../src/evidence/evidence.entities.js';
import { faceCautions, startServer, type TestServer } from './support.js';

/** A line to the database that can be cut and mended: to the server the same as a database that dies and comes back. */
class Line {
  private readonly sockets = new Set<Socket>();
  private server: Server | undefined;
  private isStalled = false;

  constructor(
    private readonly toPort: number,
    private port = 0,
  ) {}

  async open(): Promise<number> {
    this.isStalled = false;
    this.server = createServer((near) => {
      const far = connect(this.toPort, '127.0.0.1');
      for (const [socket, other] of [
        [near, far],
        [far, near],
      ]) {
        this.sockets.add(socket);
        socket.on('error', () => other.destroy());
        socket.on('close', () => this.sockets.delete(socket));
        // Written by hand: a pipe whose other end drains would start a paused socket again.
        socket.on('data', (bytes) => {
          if (!this.isStalled) other.write(bytes);
        });
        socket.on('end', () => other.end());
      }
    });
    await new Promise<void>((resolve) => this.server!.listen(this.port, '127.0.0.1', resolve));
    this.port = (this.server.address() as AddressInfo).port;
    return this.port;
  }

  /** Keeps every line open, takes new ones, and lets nothing through: what was sent meanwhile is lost. */
  stall(): void {
    this.isStalled = true;
  }

  async cut(): Promise<void> {
    const closed = new Promise((resolve) => this.server!.close(resolve));
    for (const socket of this.sockets) socket.destroy();
    await closed;
  }
}

let line: Line;
let server: TestServer;

beforeAll(async () => {
  line = new Line(Number(new URL(process.env.JARRO_TEST_DATABASE_URL ?? '').port));
  server = await startServer('outage', { fill: 'people', databasePort: await line.open() });
});
afterAll(async () => {
  // Cut first: a server that waits for a stalled line would never close.
  await line.cut();
  await server.close();
});

it('says so while the database is away, loses nothing that it confirmed, and goes on when it is back', async () => {
  const technician = await server.as('jem@fennick.demo');
  const opened = await technician
    .post('/api/cases')
    .send({ model: 'Test Vehicle', engine: '1.0', plate: 'T1', complaint: 'cranks, no start' })
    .expect(201);
  const { id } = opened.body as { id: string };
  await faceCautions(technician, id);
  const add = (value: number) =>
    technician
      .post(`/api/cases/${id}/evidence`)
      .send({ kind: 'voltage', at: 'battery', value, keyState: 'prime', faultPresent: true });

  const inFlight = Array.from({ length: 12 }, (_, i) => add(12 + i / 100).then((answer) => answer));
  await Promise.race(inFlight);
  await line.cut();
  const answers = await Promise.all(inFlight);
  expect(answers.map(({ status }) => status).every((status) => status === 201 || status === 503)).toBe(true);
  const away = await add(13).expect(503);
  expect(away.type).toBe('application/problem+json');
  expect((away.body as { detail: string }).detail).toMatch(/Nothing was lost/);
  await technician.get('/api/health').expect(503);

  await line.open();
  await eventually(async () => (await technician.get('/api/health')).status === 200);
  await add(12.9).expect(201);
  const stored = await server.app.get(DataSource).getRepository(EvidenceRecord).findBy({ caseId: id });
  const values = new Set(stored.map(({ value }) => value));
  answers.forEach(({ status }, i) => {
    if (status === 201) expect(values.has(12 + i / 100)).toBe(true);
  });
  expect(values.has(13)).toBe(false);
});

it('soon says that it isn’t well when the database hangs', async () => {
  const technician = await server.as('jem@fennick.demo');
  line.stall();
  const asked = performance.now();
  await technician.get('/api/health').expect(503);
  expect(performance.now() - asked).toBeLessThan(30_000);
  await line.cut();
  await line.open();
  await eventually(async () => (await technician.get('/api/health')).status === 200);
});

async function eventually(holds: () => Promise<boolean>): Promise<void> {
  for (let tries = 0; tries < 600; tries++) {
    if (await holds()) return;
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
  throw new Error('It did not come back within a minute.');
}
