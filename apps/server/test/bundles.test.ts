import { createHash, randomUUID } from 'node:crypto';
import { buffer } from 'node:stream/consumers';
import { crc32, deflateRawSync } from 'node:zlib';
import sharp from 'sharp';
import { DataSource } from 'typeorm';
import yauzl from 'yauzl';
import { ZipFile } from 'yazl';
import { CaptureChunk, Original } from '../src/captures/captures.entities.js';
import { Originals } from '../src/captures/originals.js';
import { Case } from '../src/cases/cases.entities.js';
import { evidenceHash } from '../src/database/evidence-chain.js';
import { User } from '../src/people/people.entities.js';
import { Job } from '../src/work/jobs.entities.js';
import { bytesOf, csvOf, openCase, readVolts, startServer, upload, type Agent, type TestServer } from './support.js';

// A case out of one shop and into another: all of it as it was, or none of it.

let here: TestServer;
let there: TestServer;
let technician: Agent;
let stranger: Agent;
let bundle: Buffer;
let caseId: string;

beforeAll(async () => {
  here = await startServer('bundles_a', { fill: 'people' });
  there = await startServer('bundles_b', { fill: 'people' });
  technician = await here.as('jem@fennick.demo');
  stranger = await there.as('orsa@fennick.demo');
  caseId = await openCase(technician);
  const added = await upload(technician, caseId, csvOf({ burnt: [{ bar: 3, extraOhm: 2 }] })).expect(201);
  const mark = { captureId: (added.body as { id: string }).id, mark: 'engine', atS: 0.5 };
  await technician.post(`/api/cases/${caseId}/marks`).send(mark).expect(201);
  await readVolts(technician, caseId, 'pump', 12.2).expect(201);
  const picture = await sharp({ create: { width: 40, height: 30, channels: 3, background: '#b4472b' } })
    .png()
    .toBuffer();
  await technician
    .post(`/api/cases/${caseId}/photos`)
    .query({ fileName: 'meter.png', caption: 'Meter', stage: 'power-path' })
    .set('Content-Type', 'application/octet-stream')
    .send(picture)
    .expect(201);
  bundle = await exported(technician, caseId);
});
afterAll(() => Promise.all([here.close(), there.close()]));

async function exported(by: Agent, id: string, originals = true): Promise<Buffer> {
  const answer = await by
    .get(`/api/cases/${id}/bundle`)
    .query({ originals: String(originals) })
    .buffer()
    .parse(bytesOf)
    .expect(200);
  return answer.body as Buffer;
}

const takeIn = (by: Agent, zip: Buffer) =>
  by.post('/api/bundles').set('Content-Type', 'application/octet-stream').send(zip);

interface CaseBody {
  readonly number: number;
  readonly evidence: readonly {
    readonly id: string;
    readonly kind: string;
    readonly hash: string;
    readonly takenBy: string;
  }[];
  readonly captures: readonly { readonly id: string; readonly analysis: object }[];
}
const detail = async (by: Agent, id: string) => (await by.get(`/api/cases/${id}`).expect(200)).body as CaseBody;

/** Parts of a zip by name. */
async function unzip(zip: Buffer): Promise<Map<string, Buffer>> {
  const file = await yauzl.fromBufferPromise(zip, { lazyEntries: true });
  const parts = new Map<string, Buffer>();
  for await (const entry of file.eachEntry())
    parts.set(entry.fileName, await buffer(await file.openReadStreamPromise(entry)));
  return parts;
}

async function zipOf(parts: ReadonlyMap<string, Buffer>): Promise<Buffer> {
  const zip = new ZipFile();
  for (const [name, bytes] of parts) zip.addBuffer(bytes, name);
  zip.end();
  return buffer(zip.outputStream);
}

const casesThere = () => there.app.get(DataSource).getRepository(Case).count();

/** The bundle with one change. */
async function changed(change: (parts: Map<string, Buffer>) => void): Promise<Buffer> {
  const parts = await unzip(bundle);
  change(parts);
  return zipOf(parts);
}

/** The bundle with one more link, sealed as it should be and holding nonsense. */
const sealedAnew = (kind: string, value: unknown) =>
  changed((parts) => {
    const manifest = manifestOf(parts) as unknown as { case: { stage: string }; links: Record<string, unknown>[] };
    const last = manifest.links[manifest.links.length - 1];
    const content = {
      ...{ id: randomUUID(), caseId, sequence: manifest.links.length + 1, kind, at: 'pump', value },
      ...{
        keyState: 'prime',
        faultPresent: true,
        how: null,
        takenBy: last.takenBy,
        takenAt: '2026-01-01T00:00:00.000Z',
      },
    };
    const previousHash = String(last.hash);
    manifest.links.push({ ...content, previousHash, hash: evidenceHash(previousHash, content) });
    if (kind === 'verdict') manifest.case.stage = 'decided';
    parts.set('bundle.json', Buffer.from(JSON.stringify(manifest)));
  });

const flipped = (bytes: Buffer) => Buffer.from(bytes.map((byte, i) => (i === bytes.length >> 1 ? byte ^ 1 : byte)));
const manifestOf = (parts: Map<string, Buffer>) =>
  JSON.parse((parts.get('bundle.json') ?? '').toString()) as Record<string, never>;

describe('a bundle', () => {
  it('holds everything by name, both reports and a case file beside it', async () => {
    const names = [...(await unzip(bundle)).keys()];
    expect(names).toEqual(
      expect.arrayContaining(['bundle.json', 'case.json', 'report-customer.pdf', 'report-technical.pdf']),
    );
    expect(names.filter((name) => name.startsWith('originals/'))).toHaveLength(1);
    expect(names.some((name) => /^captures\/.*\/0-0-0$/.test(name))).toBe(true);
    expect(names.filter((name) => name.startsWith('photos/')).length).toBe(2);
    const small = await unzip(await exported(technician, caseId, false));
    expect([...small.keys()].some((name) => name.startsWith('originals/'))).toBe(false);
  });

  it('refuses what was changed, cut, renamed or blown up, whole', async () => {
    const part = (parts: Map<string, Buffer>, like: RegExp) => [...parts.keys()].find((name) => like.test(name)) ?? '';
    const flip = (like: RegExp) =>
      changed((parts) => parts.set(part(parts, like), flipped(parts.get(part(parts, like)) ?? Buffer.alloc(1))));
    const edit = (change: (manifest: Record<string, never>) => void) =>
      changed((parts) => {
        const manifest = manifestOf(parts);
        change(manifest);
        parts.set('bundle.json', Buffer.from(JSON.stringify(manifest)));
      });
    const set = (target: object, key: string, value: unknown) => Object.assign(target, { [key]: value });
    const link = (manifest: Record<string, never>, i: number) =>
      (manifest.links as unknown as Record<string, unknown>[])[i];
    const hostile: [Buffer, RegExp][] = [
      [await flip(/^captures/), /samples of a capture/],
      [await flip(/^originals/), /original file in it was changed/],
      [await flip(/^photos\/.*\/0$/), /photo in it/],
      [await changed((parts) => parts.delete(part(parts, /^originals/))), /original file that it says it holds/],
      [await changed((parts) => parts.delete(part(parts, /^captures/))), /samples of a capture/],
      [await changed((parts) => parts.delete('bundle.json')), /bundle.json is missing/],
      [await changed((parts) => parts.set('notes.txt', Buffer.from('x'))), /a bundle has no “notes.txt”/],
      [await edit((manifest) => set(link(manifest, 3), 'value', 99)), /was changed/],
      [await edit((manifest) => (manifest.links as unknown as object[]).splice(2, 1)), /was changed/],
      [await edit((manifest) => set(manifest.analyses[0], 'result', { findings: [] })), /what was measured/],
      [
        await edit((manifest) => set(manifest, 'format', 'jarro.bundle/2')),
        /“jarro.bundle\/2”, and this version of Jarro reads jarro.bundle\/1/,
      ],
      [await edit((manifest) => set(manifest.case, 'stage', 'sold')), /case.stage/],
      [await changed((parts) => parts.set('bundle.json', Buffer.from('{"format"'))), /no JSON/],
      [bundle.subarray(0, bundle.length - 400), /no zip|broken/],
      [Buffer.from('not a zip at all'), /no zip/],
      [await sealedAnew('verdict', { kind: 'replace-everything', statement: 5 }), /not what a case holds/],
      [await sealedAnew('voltage', { steps: 'none' }), /not what a case holds/],
      [await sealedAnew('mark', { mark: 'engine', atS: 'late' }), /not what a case holds/],
      [escaping(), /invalid|no “/],
      [bomb(), /too large|unpacks to more/],
      [lying(), /can’t be unpacked|too many bytes|broken/],
    ];
    for (const [zip, why] of hostile) {
      const answer = await takeIn(stranger, zip);
      expect([answer.status, (answer.body as { detail: string }).detail]).toEqual([422, expect.stringMatching(why)]);
      expect((answer.body as { detail: string }).detail).toMatch(/Nothing was stored/);
    }
    expect(await casesThere()).toBe(0);
    expect(await there.app.get(DataSource).getRepository(CaptureChunk).count()).toBe(0);
  });

  it('comes in bit for bit, verifies, and goes out again as it was', async () => {
    const { id } = (await takeIn(stranger, bundle).expect(201)).body as { id: string };
    expect(id).toBe(caseId);
    const [was, is] = [await detail(technician, id), await detail(stranger, id)];
    expect(is.evidence.slice(0, -1)).toEqual(was.evidence);
    expect(is.evidence.at(-1)).toMatchObject({ kind: 'import', takenBy: 'Orsa Tindle' });
    expect(is.captures).toEqual(was.captures);
    const verified = await stranger.get(`/api/cases/${id}/verify`).expect(200);
    expect(verified.body).toMatchObject({ intact: true, captures: 1, photos: 1, notSealed: [] });
    const capture = is.captures[0].id;
    const query = { channel: '0', from: '0', to: '4000', columns: '100' };
    const windows = await Promise.all(
      [technician, stranger].map((by) =>
        by.get(`/api/captures/${capture}/window`).query(query).buffer().parse(bytesOf).expect(200),
      ),
    );
    expect(windows[0].body).toEqual(windows[1].body);
    const [before, after] = [await unzip(bundle), await unzip(await exported(stranger, id))];
    const bytes = (parts: Map<string, Buffer>) =>
      [...parts].filter(([name]) => /^(originals|captures|photos)\//.test(name));
    expect(bytes(after)).toEqual(bytes(before));
    // A second time it is here already.
    const again = await takeIn(stranger, bundle).expect(409);
    expect((again.body as { detail: string }).detail).toMatch(/is here already, as case 1/);
    // It is worked on like any other.
    await readVolts(stranger, id, 'battery', 12.5).expect(201);
  });

  it('is taken in by another process where the one that received it died, and tells only its sender how far it is', async () => {
    const sent = await exported(technician, await secondCase(6));
    const sha256 = createHash('sha256').update(sent).digest('hex');
    await there.app.get(Originals).keep(sha256, sent.length, () => [sent]);
    const { id: userId } = await there.app
      .get(DataSource)
      .getRepository(User)
      .findOneByOrFail({ email: 'orsa@fennick.demo' });
    const id = randomUUID();
    const past = new Date(Date.now() - 60_000);
    await there.app
      .get(DataSource)
      .getRepository(Job)
      .insert({
        ...{ id, kind: 'import', caseId: null, userId, task: { sizeBytes: sent.length, sha256 } },
        ...{ state: 'running', stage: 'checking', share: 0, owner: 'dead', until: past, attempts: 1, changedAt: past },
      } as object);
    const far = async () => (await stranger.get(`/api/jobs/${id}`).expect(200)).body as { state: string; id: string };
    while ((await far()).state !== 'done') await new Promise((resolve) => setTimeout(resolve, 50));
    const verified = await stranger.get(`/api/cases/${(await far()).id}/verify`).expect(200);
    expect(verified.body).toMatchObject({ intact: true, captures: 1 });
    await (await there.as('jem@fennick.demo')).get(`/api/jobs/${id}`).expect(404);
  });

  it('without its originals is taken in as well, and says so', async () => {
    const small = await exported(technician, await secondCase(), false);
    const { id } = (await takeIn(stranger, small).expect(201)).body as { id: string };
    const { evidence } = await detail(stranger, id);
    expect(evidence.at(-1)).toMatchObject({ kind: 'import', value: { originals: false } });
    const verified = await stranger.get(`/api/cases/${id}/verify`).expect(200);
    expect(verified.body).toMatchObject({ intact: true });
    expect((verified.body as { notSealed: string[] }).notSealed).toEqual([
      expect.stringMatching(/original file .* stayed where/),
    ]);
    expect(await there.app.get(DataSource).getRepository(Original).countBy({})).toBeGreaterThan(0);
  });

  it('with any byte of the file changed is refused, and is never a fault of the server’s', async () => {
    const fresh = await startServer('bundles_c', { fill: 'people' });
    const lead = await fresh.as('orsa@fennick.demo');
    for (let k = 0; k < 24; k++) {
      const at = Math.floor(((k + 0.5) / 24) * bundle.length);
      const spoilt = Buffer.from(bundle);
      spoilt[at] ^= 0xff;
      const { status } = await takeIn(lead, spoilt);
      // What stands beside the case (its reports, its file for the shell) isn't read back.
      expect([201, 409, 422]).toContain(status);
    }
    await fresh.close();
  });
});

async function secondCase(seed = 5): Promise<string> {
  const id = await openCase(technician);
  await upload(technician, id, csvOf({ seed })).expect(201);
  return id;
}

/** One stored entry under a name of its own, as the zip format writes it; sizes may lie. */
function rawZip(name: string, data: Buffer, claimed: number, method = 8): Buffer {
  const packed = method === 8 ? deflateRawSync(data) : data;
  const header = (signature: number, extra: Buffer) => {
    const bytes = Buffer.alloc(26);
    bytes.writeUInt16LE(20, 0);
    bytes.writeUInt16LE(method, 4);
    bytes.writeUInt32LE(crc32(data), 10);
    bytes.writeUInt32LE(packed.length, 14);
    bytes.writeUInt32LE(claimed, 18);
    bytes.writeUInt16LE(name.length, 22);
    const head = Buffer.alloc(4);
    head.writeUInt32LE(signature, 0);
    return Buffer.concat([head, extra, bytes]);
  };
  const local = Buffer.concat([header(0x04034b50, Buffer.alloc(0)), Buffer.from(name), packed]);
  const madeBy = Buffer.from([20, 0]);
  const central = Buffer.concat([header(0x02014b50, madeBy), Buffer.alloc(14), Buffer.from(name)]);
  const end = Buffer.alloc(22);
  end.writeUInt32LE(0x06054b50, 0);
  end.writeUInt16LE(1, 8);
  end.writeUInt16LE(1, 10);
  end.writeUInt32LE(central.length, 12);
  end.writeUInt32LE(local.length, 16);
  return Buffer.concat([local, central, end]);
}

/** A name that climbs out of the folder. */
const escaping = () => rawZip('../../bundle.json', Buffer.from('{}'), 2);
/** Some thousand bytes that say they unpack to four gigabytes. */
const bomb = () => rawZip('bundle.json', Buffer.alloc(1_000_000), 4_000_000_000);
/** A part that unpacks to more than it says. */
const lying = () => rawZip('bundle.json', Buffer.alloc(1_000_000), 10);

describe('a case file', () => {
  interface Written {
    readonly readings: readonly { readonly id: string; readonly kind: string }[];
  }
  const written = async (by: Agent, id: string) => (await by.get(`/api/cases/${id}/file`).expect(200)).body as Written;
  const open = (content: unknown) => takeIn(stranger, Buffer.from(JSON.stringify(content)));

  it('opens as a new case, which is written and weighed as the file is; what it can’t bring is named', async () => {
    const first = await openCase(technician);
    await technician.post(`/api/cases/${first}/system`).send({ template: 'P4' }).expect(201);
    await readVolts(technician, first, 'battery', 12.5).expect(201);
    await readVolts(technician, first, 'pump', 9.1).expect(201);
    const file = await written(technician, first);
    const { id } = (await open(file).expect(201)).body as { id: string };
    const again = await written(stranger, id);
    const withoutIds = ({ readings, ...rest }: Written) => ({
      ...rest,
      readings: readings.map(({ id: _, ...one }) => one),
    });
    expect(withoutIds(again)).toEqual(withoutIds(file));
    const opened = (await stranger.get(`/api/cases/${id}`).expect(200)).body as CaseBody & {
      seal: { intact: boolean };
    };
    expect(opened.seal.intact).toBe(true);

    // The shape of a capture can't be brought in without its samples.
    const captured = await written(technician, caseId);
    const { id: other } = (await open(captured).expect(201)).body as { id: string };
    const { evidence } = (await stranger.get(`/api/cases/${other}`).expect(200)).body as {
      evidence: { kind: string; value: unknown }[];
    };
    expect(evidence.findLast(({ kind }) => kind === 'note')?.value).toMatch(/Left out.*capture “/);
  });

  it('is refused whole with every field that is wrong', async () => {
    const before = ((await stranger.get('/api/cases').expect(200)).body as { total: number }).total;
    const file = await written(technician, caseId);
    const bad = { ...file, readings: [{ kind: 'voltage', at: 'nowhere', state: 'prime', value: 12 }] };
    expect((await open(bad).expect(400)).text).toMatch(/readings\[0\]\.at/);
    expect((await open({ format: 'jarro.case/9' }).expect(400)).text).toMatch(/later version/);
    expect((await takeIn(stranger, Buffer.from('{"format": ')).expect(422)).text).toMatch(/no zip and no JSON/);
    expect((await takeIn(stranger, Buffer.alloc(9e6, 32)).expect(422)).text).toMatch(/too large for a case file/);
    expect(((await stranger.get('/api/cases').expect(200)).body as { total: number }).total).toBe(before);
  });
});
