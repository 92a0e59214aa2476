import type { CaptureValue } from '@jarro/api-types';
import { Injectable } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import type { RowDataPacket } from 'mysql2';
import { Readable } from 'node:stream';
import { DataSource } from 'typeorm';
import { ZipFile } from 'yazl';
import type { SignedIn } from '../auth/signed-in.js';
import { AnalysisRecord } from '../captures/captures.entities.js';
import { Originals } from '../captures/originals.js';
import { CaseAccess } from '../cases/case-access.js';
import { peopleOf } from '../cases/case-head.js';
import { Vehicle } from '../cases/cases.entities.js';
import { CasesService } from '../cases/cases.service.js';
import { runPrepared } from '../database/prepared.js';
import { log } from '../http/log.js';
import { User } from '../people/people.entities.js';
import { ReportsService } from '../reports/reports.service.js';
import { CORE_VERSION } from '../version.js';
import { BUNDLE_FORMAT, MANIFEST, PLACES, type Bundle } from './bundle.js';

@Injectable()
export class ExportService {
  constructor(
    @InjectDataSource() private readonly source: DataSource,
    private readonly access: CaseAccess,
    private readonly cases: CasesService,
    private readonly originals: Originals,
    private readonly reports: ReportsService,
  ) {}

  /**
   * A case as a zip: everything that it rests on, bit for bit, with both reports beside it. It is read while it is sent.
   * @param withOriginals the scope's files too, as far as they were kept
   */
  async export(me: SignedIn, caseId: string, withOriginals: boolean): Promise<{ number: number; zip: Readable }> {
    const item = await this.access.find(me, caseId);
    const { links, captures } = await this.cases.evidence(caseId);
    const [vehicle, users, analyses] = await Promise.all([
      this.source.getRepository(Vehicle).findOneByOrFail({ id: item.vehicleId }),
      this.source.getRepository(User).findBy({ shopId: item.shopId }),
      this.source
        .getRepository(AnalysisRecord)
        .createQueryBuilder('analysis')
        .innerJoin('captures', 'capture', 'capture.id = analysis.captureId AND capture.caseId = :caseId', { caseId })
        .orderBy('analysis.madeAt')
        .getMany(),
    ]);
    const { id, number, complaint, stage, openedAt, openedBy } = item;
    const { model, year, engine, plate } = vehicle;
    const involved = new Set([openedBy, ...links.map(({ takenBy }) => takenBy)]);
    const names = [...peopleOf(item, users)].filter(([userId]) => involved.has(userId));
    const bundle: Bundle = {
      format: BUNDLE_FORMAT,
      jarro: CORE_VERSION,
      exportedAt: new Date().toISOString(),
      originals: withOriginals,
      shop: { name: me.shop.name, town: me.shop.town },
      case: { id, number, complaint, stage, openedAt: openedAt.toISOString(), openedBy },
      vehicle: { model, year, engine, plate },
      people: Object.fromEntries(names),
      links: links.map((link) => ({ ...link, takenAt: link.takenAt.toISOString() })),
      captures: captures.map(({ pendingSince: _, caseId: __, ...facts }) => facts),
      analyses: analyses.map(({ captureId, coreVersion, result, madeAt }) => ({
        ...{ captureId, coreVersion, result },
        madeAt: madeAt.toISOString(),
      })),
    };
    const zip = new ZipFile();
    zip.addBuffer(Buffer.from(JSON.stringify(bundle)), MANIFEST);
    zip.addBuffer(Buffer.from(JSON.stringify(await this.cases.file(me, caseId), null, 1)), 'case.json');
    const report = await this.reports.report(me, caseId);
    for (const kind of ['customer', 'technical'] as const) {
      zip.addBuffer(await this.reports.print(report, { kind, paper: 'A4' }), `report-${kind}.pdf`);
    }
    for (const capture of captures) await this.addChunks(zip, capture.id);
    for (const { id: photoId } of links.filter(({ kind }) => kind === 'photo')) await this.addPhoto(zip, photoId);
    if (withOriginals)
      this.addOriginals(
        zip,
        links.filter(({ kind }) => kind === 'capture').map(({ value }) => value as CaptureValue),
      );
    zip.end();
    const stream = zip.outputStream as unknown as Readable;
    // Whoever receives it sees it break off, rather than wait for the rest.
    zip.on('error', (error: Error) => {
      log.error({ err: error, caseId }, 'a bundle broke off');
      stream.destroy(error);
    });
    return { number, zip: stream };
  }

  private async addChunks(zip: ZipFile, id: string): Promise<void> {
    const places = await this.source.query<{ channel: number; level: number; part: number }[]>(
      'SELECT channel, level, part FROM capture_chunks WHERE captureId = ? ORDER BY channel, level, part',
      [id],
    );
    for (const { channel, level, part } of places) {
      this.addRow(
        zip,
        PLACES.chunk.of(id, channel, level, part),
        'SELECT data FROM capture_chunks WHERE captureId = ? AND channel = ? AND level = ? AND part = ?',
        [id, channel, level, part],
      );
    }
  }

  private async addPhoto(zip: ZipFile, id: string): Promise<void> {
    const parts = await this.source.query<{ part: number }[]>(
      'SELECT part FROM photo_parts WHERE photoId = ? ORDER BY part',
      [id],
    );
    for (const { part } of parts) {
      this.addRow(zip, PLACES.photo.of(id, part), 'SELECT data FROM photo_parts WHERE photoId = ? AND part = ?', [
        id,
        part,
      ]);
    }
  }

  private addOriginals(zip: ZipFile, values: readonly CaptureValue[]): void {
    const kept = values.filter(({ contentSha256 }) => contentSha256 !== undefined).map(({ sha256 }) => sha256);
    for (const sha256 of new Set(kept)) {
      zip.addReadStreamLazy(PLACES.original.of(sha256), {}, (give) =>
        give(null, Readable.from(this.originals.read(sha256))),
      );
    }
  }

  /** One row's blob, read when its turn comes. */
  private addRow(zip: ZipFile, name: string, statement: string, values: (string | number)[]): void {
    const read = async function* (source: DataSource) {
      const [row] = await runPrepared<RowDataPacket[]>(source, statement, values);
      yield row.data as Buffer;
    };
    zip.addReadStreamLazy(name, {}, (give) => give(null, Readable.from(read(this.source))));
  }
}
