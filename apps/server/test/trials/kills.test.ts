import { ACKNOWLEDGED_CAUTIONS } from '@jarro/core';
import { DataSource, IsNull } from 'typeorm';
import { brokenLinks } from '../../src/database/evidence-chain.js';
import { dataSourceOptions } from '../../src/database/data-source.js';
import { CaptureChunk, CaptureRecord } from '../../src/captures/captures.entities.js';
import { EvidenceRecord } from '../../src/evidence/evidence.entities.js';
import { csvOf, emptyDatabase, LONG, startServer, VEHICLE } from '../support.js';
import { CAPTURE_QUERY, signedIn, startProcess, type Client } from './server-process.js';

it('loses nothing that it acknowledged when it is killed under load', async () => {
  const url = await emptyDatabase('kills');
  // The people, then the built server alone.
  const seed = await startServer('kills', { fill: 'people', keep: true });
  await seed.close();
  const acknowledged = new Set<string>();
  const capture = csvOf({ sampleRateHz: 10_000, durationS: 0.4 });
  let server = await startProcess(url.href);
  for (let round = 0; round < (LONG ? 50 : 3); round++) {
    const client = await signedIn(() => server.address);
    const { body } = await client.send('POST', '/cases', VEHICLE);
    const { id } = body as { id: string };
    for (const caution of ACKNOWLEDGED_CAUTIONS) await client.send('POST', `/cases/${id}/cautions`, { caution });
    const load = Array.from({ length: 6 }, (_, i) => press(client, id, i, capture, acknowledged));
    const before = acknowledged.size;
    await pause(150 + ((round * 97) % 500));
    // A busy machine is slow: it is killed once it is at work.
    while (acknowledged.size < before + 3) await pause(20);
    await server.kill();
    await Promise.all(load);
    server = await startProcess(url.href);
  }
  await server.stop();

  const source = await new DataSource(dataSourceOptions(url.href)).initialize();
  const links = await source.getRepository(EvidenceRecord).find({ order: { caseId: 'ASC', sequence: 'ASC' } });
  const stored = new Set(links.map(({ id }) => id));
  expect(acknowledged.size).toBeGreaterThan(5);
  expect([...acknowledged].filter((id) => !stored.has(id))).toEqual([]);
  for (const caseId of new Set(links.map((link) => link.caseId))) {
    expect(brokenLinks(links.filter((link) => link.caseId === caseId))).toEqual([]);
  }
  // Every capture that is there is there whole.
  for (const { id, samples } of await source.getRepository(CaptureRecord).findBy({ pendingSince: IsNull() })) {
    const [first] = await source.getRepository(CaptureChunk).findBy({ captureId: id, channel: 0, level: 0 });
    expect(first.data.length).toBe(samples * 4);
    expect(stored.has(id)).toBe(true);
  }
  await source.destroy();
});

const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

/** Somebody who keeps entering until nothing answers any more. */
async function press(client: Client, id: string, seat: number, capture: Buffer, acknowledged: Set<string>) {
  for (let i = 0; ; i++) {
    const { status, body } =
      seat === 0
        ? await client.upload(`/cases/${id}/captures?fileName=a.csv&${CAPTURE_QUERY}`, capture)
        : await client.send('POST', `/cases/${id}/evidence`, {
            kind: 'voltage',
            at: 'battery',
            value: 12 + i / 1000,
            keyState: 'prime',
            faultPresent: true,
          });
    if (status === 0) return;
    expect([201, 503]).toContain(status);
    if (status === 201) acknowledged.add((body as { id: string }).id);
  }
}
