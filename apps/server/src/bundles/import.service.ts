import { createHash, randomUUID } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { open, readFile } from 'node:fs/promises';
import type { AnalysisValue, CaptureValue, ImportValue, PhotoValue } from '@jarro/api-types';
import {
  caseReport,
  DEFAULT_HOUSE_RULES,
  entriesOf,
  findMeasure,
  InputError,
  presentEvidence,
  readMark,
  recheckQuestion,
  type CaseGround,
  type Entry,
} from '@jarro/core';
import { ConflictException, Inject, Injectable, type OnModuleInit } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { Readable } from 'node:stream';
import { DataSource, type EntityManager } from 'typeorm';
import { AuditService } from '../audit/audit.service.js';
import type { SignedIn } from '../auth/signed-in.js';
import { AnalysisRecord, CaptureRecord } from '../captures/captures.entities.js';
import { analysisHash, ContentHash } from '../captures/content-hash.js';
import { Originals } from '../captures/originals.js';
import { Case, Vehicle } from '../cases/cases.entities.js';
import { judge } from '../cases/judge.js';
import { summarise } from '../cases/summaries.js';
import { CONFIG, type Config } from '../config.js';
import { appendLink, brokenLinks, removedFrom, type Removed } from '../database/evidence-chain.js';
import { EvidenceRecord } from '../evidence/evidence.entities.js';
import { log } from '../http/log.js';
import { signCase } from '../seal/case-seal.js';
import { Uploads } from '../uploads/uploads.js';
import { JobRunner, type Running } from '../work/job-runner.js';
import { Jobs } from '../work/jobs.js';
import { WorkPool } from '../work/work-pool.js';
import { BundleError, MANIFEST, PLACES, type Bundle, type BundledCapture } from './bundle.js';
import { CaseFileService } from './case-file.service.js';
import { readManifest } from './bundle.dto.js';
import { BundleZip } from './read-bundle.js';

/** A case may hold several of the largest records, each with its levels beside it. */
const TIMES_AN_UPLOAD = 8;
/** Two thousand readings, each with a long sweep. */
const MOST_CASE_FILE_BYTES = 8 * 1024 * 1024;

/** A bundle that came in; its content is kept among the originals until it is swept away. */
interface ImportTask {
  readonly sizeBytes: number;
  readonly sha256: string;
}

/** A stored part of a capture, by its place in the zip. */
interface Chunk {
  readonly name: string;
  readonly channel: number;
  readonly level: number;
  readonly part: number;
}

@Injectable()
export class ImportService implements OnModuleInit {
  constructor(
    @InjectDataSource() private readonly source: DataSource,
    @Inject(CONFIG) private readonly config: Config,
    private readonly uploads: Uploads,
    private readonly originals: Originals,
    private readonly audit: AuditService,
    private readonly pool: WorkPool,
    private readonly caseFiles: CaseFileService,
    private readonly jobs: Jobs,
    private readonly runner: JobRunner,
  ) {}

  onModuleInit(): void {
    this.runner.handle('import', (running) => this.takeIn(running));
  }

  /**
   * Takes a case in: every seal in it is checked first, then all of it is stored, or nothing. A case file, which has no seals,
   * makes a new case at once.
   * @param id of the job that does it
   * @param gone stops it when nobody waits for it any more
   * @throws BundleError for whatever isn't a whole, unchanged bundle; ConflictException for a case that is here already
   */
  async import(
    me: SignedIn,
    id = randomUUID() as string,
    body: Readable,
    promisedBytes: number | undefined,
    gone: AbortSignal,
  ): Promise<{ id: string }> {
    const advice = 'Export it without the original files.';
    await using upload = await this.uploads.receive(body, promisedBytes, this.limitBytes, advice);
    const { path, sizeBytes, sha256 } = upload;
    if (!(await isZip(path))) return await this.caseFiles.open(me, await textOf(path, sizeBytes));
    await this.jobs.receive({ id, kind: 'import', caseId: null, userId: me.user.id }, async () => {
      await this.originals.keep(sha256, sizeBytes, () => createReadStream(path));
      return { sizeBytes, sha256 } satisfies ImportTask;
    });
    return await this.runner.result(id, gone);
  }

  private get limitBytes(): number {
    return TIMES_AN_UPLOAD * this.config.uploadLimitBytes;
  }

  private async takeIn({ job, me, gone, report }: Running): Promise<void> {
    const { sizeBytes, sha256 } = job.task as ImportTask;
    await report('checking');
    const content = Readable.from(this.originals.read(sha256));
    await using file = await this.uploads.receive(content, undefined, sizeBytes, '');
    using zip = await BundleZip.open(file.path, this.limitBytes);
    const bundle = readManifest((await zip.bytes(MANIFEST)).toString('utf8'));
    const links = checkChain(bundle);
    await this.checkSense(bundle, links);
    const known = await this.source.getRepository(Case).findOneBy({ id: bundle.case.id });
    if (known) throw new ConflictException(alreadyHere(known.shopId === me.shop.id ? known.number : undefined));
    const chunks = new Map(bundle.captures.map(({ id }) => [id, chunksOf(zip, id)]));
    const removed = removedFrom(links);
    for (const [done, link] of links.entries()) {
      gone.throwIfAborted();
      await checkBytes(zip, bundle, link, chunks.get(link.id) ?? [], removed);
      await report('checking', done / links.length);
    }
    await report('storing');
    const kept = await this.keepOriginals(zip, bundle, links);
    gone.throwIfAborted();
    await this.source.transaction(async (manager) => {
      await this.store(me, manager, { zip, bundle, links, chunks, kept });
      await this.jobs.finish(job, { id: bundle.case.id }, manager);
    });
  }

  /**
   * Whoever writes a bundle can seal nonsense: everything that is ever shown or weighed of a case is worked out once, and what
   * can't be is refused here rather than at every look at it.
   */
  private async checkSense(
    { case: { complaint, stage, number, openedAt }, captures, analyses }: Bundle,
    links: readonly EvidenceRecord[],
  ): Promise<void> {
    const results = new Map(analyses.map(({ captureId, result }) => [captureId, result]));
    const ground: CaseGround = { complaint, links, measuredOf: (id) => results.get(id) };
    try {
      entriesOf(links).forEach(refuseShapeless);
      for (const { value } of links.filter(({ kind }) => kind === 'mark')) readMark(value);
      judge(presentEvidence(ground, stage), DEFAULT_HOUSE_RULES);
      const question = recheckQuestion(ground, stage);
      caseReport({
        shop: { name: '', town: '' },
        ...{ number, complaint, stage, openedAt, vehicle: '', plate: '' },
        links: links.map((link) => ({ ...link, takenBy: null })),
        captures: captures.map(({ id, label, fileName }) => ({
          id,
          label,
          fileName,
          analysis: results.get(id) ?? null,
        })),
        recheck: question && (await this.pool.recheck(question)),
        unit: 'kPa',
        sealProblems: [],
      });
    } catch (error) {
      log.warn({ err: error }, 'a bundle whose entries make no sense');
      throw new BundleError('its entries are not what a case holds.');
    }
  }

  /** @returns hashes of those that are in the bundle */
  private async keepOriginals(zip: BundleZip, bundle: Bundle, links: readonly EvidenceRecord[]): Promise<string[]> {
    const named = links.filter(({ kind }) => kind === 'capture').map(({ value }) => (value as CaptureValue).sha256);
    const kept: string[] = [];
    for (const sha256 of new Set(named)) {
      const name = PLACES.original.of(sha256);
      if (!zip.has(name)) {
        const sealed = links.some(
          ({ kind, value }) =>
            kind === 'capture' && (value as CaptureValue).sha256 === sha256 && (value as CaptureValue).contentSha256,
        );
        if (bundle.originals && sealed) throw new BundleError('an original file that it says it holds is missing.');
        continue;
      }
      const { sha256: found, sizeBytes } = await zip.digest(name);
      if (found !== sha256) throw new BundleError('an original file in it was changed.');
      const content = await zip.stream(name);
      await this.originals.keep(sha256, sizeBytes, () => content as AsyncIterable<Buffer>);
      kept.push(sha256);
    }
    return kept;
  }

  private async store(
    me: SignedIn,
    manager: EntityManager,
    { zip, bundle, links, chunks, kept }: Checked,
  ): Promise<void> {
    const { id, complaint, stage, openedAt, openedBy } = bundle.case;
    const { id: vehicleId } = await manager.getRepository(Vehicle).save({ ...bundle.vehicle, shopId: me.shop.id });
    // Numbered at the very end, so that nobody who opens a case waits for all of this.
    const waiting = -1 - Math.floor(Math.random() * 2 ** 30);
    await manager.getRepository(Case).insert({
      ...{ id, shopId: me.shop.id, vehicleId, complaint, stage, openedBy },
      number: waiting,
      openedAt: new Date(openedAt),
      people: bundle.people,
    });
    for (const link of links) await manager.getRepository(EvidenceRecord).insert(link as never);
    for (const capture of bundle.captures) {
      const { channels, ...facts } = capture;
      await manager
        .getRepository(CaptureRecord)
        .insert({ ...facts, channels: [...channels], caseId: id, pendingSince: null });
      for (const { name, channel, level, part } of chunks.get(capture.id) ?? []) {
        await manager.query(
          'INSERT INTO capture_chunks (captureId, channel, level, part, data) VALUES (?, ?, ?, ?, ?)',
          [...[capture.id, channel, level, part, await zip.bytes(name)]],
        );
      }
    }
    for (const { captureId, coreVersion, result, madeAt } of bundle.analyses) {
      await manager
        .getRepository(AnalysisRecord)
        .insert({ captureId, coreVersion, result: result as never, madeAt: new Date(madeAt) });
    }
    for (const [name, photoId, part] of photoParts(zip)) {
      await manager.query('INSERT INTO photo_parts (photoId, part, data) VALUES (?, ?, ?)', [
        photoId,
        part,
        await zip.bytes(name),
      ]);
    }
    for (const sha256 of kept) await this.originals.confirm(manager, sha256);
    const value: ImportValue = {
      ...{
        shop: bundle.shop.name,
        number: bundle.case.number,
        exportedAt: bundle.exportedAt,
        originals: bundle.originals,
      },
    };
    const last = links.at(-1);
    const head = await appendLink(manager, id, last, { kind: 'import', at: 'case', value, takenBy: me.user.id });
    await manager.query('SELECT id FROM shops WHERE id = ? FOR UPDATE', [me.shop.id]);
    const [{ next }] = await manager.query<[{ next: string | number }]>(
      'SELECT GREATEST(COALESCE(MAX(number), 0), 0) + 1 AS next FROM cases WHERE shopId = ?',
      [me.shop.id],
    );
    await manager.getRepository(Case).update(id, { number: Number(next) });
    await signCase(manager, this.config.sealKey, id, head);
    await summarise(manager, id);
    await this.audit.note(me, 'case.import', id, manager);
  }
}

/** Whether a file begins as a zip does (local file header or, of an empty one, end of central directory; APPNOTE 4.3). */
async function isZip(path: string): Promise<boolean> {
  await using file = await open(path);
  const { buffer: first } = await file.read(Buffer.alloc(2), 0, 2, 0);
  return first.toString('latin1') === 'PK';
}

/** @throws BundleError for what is too large for a case file */
async function textOf(path: string, sizeBytes: number): Promise<string> {
  if (sizeBytes > MOST_CASE_FILE_BYTES) throw new BundleError('it is no zip, and too large for a case file.');
  return readFile(path, 'utf8');
}

interface Checked {
  readonly zip: BundleZip;
  readonly bundle: Bundle;
  readonly links: readonly EvidenceRecord[];
  readonly chunks: ReadonlyMap<string, readonly Chunk[]>;
  readonly kept: readonly string[];
}

/** The links as rows, once they follow from one another. */
function checkChain({ links, case: { id } }: Bundle): EvidenceRecord[] {
  const rows = links.map((link): EvidenceRecord => ({ ...link, takenAt: new Date(link.takenAt) }));
  if (rows.some(({ caseId }) => caseId !== id)) throw new BundleError('it holds entries of another case.');
  if (new Set(rows.map((link) => link.id)).size < rows.length) throw new BundleError('an entry is in it twice.');
  const [broken] = brokenLinks(rows);
  if (broken !== undefined)
    throw new BundleError(`its entries don’t follow from one another, from number ${broken} on: it was changed.`);
  return rows;
}

/** Earlier versions kept numbers that are slips today, and places that have other names: only what can't be read is refused. */
function refuseShapeless({ kind, at, value }: Entry): void {
  const schema = findMeasure(kind, at)?.value;
  if (typeof value === 'string' || (typeof value === 'number' && schema?.type !== 'record')) return;
  if (schema?.type !== 'record') throw new InputError(`${kind} at ${at} holds no number and no word.`);
  schema.read(value);
}

/** The bytes that a link seals, in the zip. */
async function checkBytes(
  zip: BundleZip,
  bundle: Bundle,
  { id, kind, value }: EvidenceRecord,
  chunks: readonly Chunk[],
  removed: Removed,
): Promise<void> {
  if (kind === 'capture') await checkCapture(zip, bundle, id, value as CaptureValue, chunks);
  if (kind !== 'photo' || removed.photos.has(id)) return;
  const { sha256, thumbnailSha256 } = value as PhotoValue;
  const parts = photoParts(zip).filter(([, photoId]) => photoId === id);
  const hashOf = async (names: readonly string[]) => {
    const hash = createHash('sha256');
    for (const name of names) hash.update(await zip.bytes(name));
    return hash.digest('hex');
  };
  const whole = await hashOf(parts.filter(([, , part]) => part >= 0).map(([name]) => name));
  const small = await hashOf(parts.filter(([, , part]) => part < 0).map(([name]) => name));
  if (whole !== sha256 || (thumbnailSha256 !== undefined && small !== thumbnailSha256)) {
    throw new BundleError('a photo in it is missing or was changed.');
  }
}

async function checkCapture(
  zip: BundleZip,
  { captures, analyses, links }: Bundle,
  id: string,
  { contentSha256, analysisSha256 }: CaptureValue,
  chunks: readonly Chunk[],
): Promise<void> {
  const facts = captures.find((capture): capture is BundledCapture => capture.id === id);
  if (!facts) throw new BundleError('a capture in it is missing.');
  // Captures of before samples were sealed can't be checked.
  if (!contentSha256) return;
  const hash = new ContentHash(facts);
  for (const { name, channel, level, part } of chunks) hash.add(channel, level, part, await zip.bytes(name));
  if (hash.digest() !== contentSha256)
    throw new BundleError('the samples of a capture in it are missing or were changed.');
  const again = links
    .filter(({ kind, at }) => kind === 'analysis' && at === id)
    .map(({ value }) => (value as AnalysisValue).analysisSha256);
  const sealed = new Set([analysisSha256, ...again]);
  const stored = analyses.filter(({ captureId }) => captureId === id).map(({ result }) => analysisHash(result));
  if (stored.length !== sealed.size || !stored.every((one) => sealed.has(one))) {
    throw new BundleError('what was measured of a capture in it is missing or was changed.');
  }
}

function chunksOf(zip: BundleZip, id: string): Chunk[] {
  return zip.names
    .flatMap((name): Chunk[] => {
      const match = PLACES.chunk.like.exec(name);
      if (match?.[1] !== id) return [];
      const [channel, level, part] = match.slice(2).map(Number);
      return [{ name, channel, level, part }];
    })
    .sort((a, b) => a.channel - b.channel || a.level - b.level || a.part - b.part);
}

function photoParts(zip: BundleZip): [name: string, photoId: string, part: number][] {
  return zip.names
    .flatMap((name): [string, string, number][] => {
      const match = PLACES.photo.like.exec(name);
      return match ? [[name, match[1], Number(match[2])]] : [];
    })
    .sort((a, b) => a[2] - b[2]);
}

function alreadyHere(number: number | undefined): string {
  return number === undefined
    ? 'This case is on this server already. Nothing was stored.'
    : `This case is here already, as case ${number}. Nothing was stored.`;
}
