import { randomUUID } from 'node:crypto';
import { readFile } from 'node:fs/promises';
import type { Readable } from 'node:stream';
import { InputError } from '@jarro/core';
import { Injectable, NotFoundException } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import sharp from 'sharp';
import { DataSource, MoreThanOrEqual } from 'typeorm';
import type { SignedIn } from '../auth/auth.service.js';
import { receive } from '../captures/upload.js';
import { CasesService } from '../cases/cases.service.js';
import { PHOTO_LIMIT_BYTES } from '../config.js';
import { appendEvidence } from '../database/evidence-chain.js';
import { EvidenceRecord, PhotoPart } from '../database/entities.js';
import type { AddPhotoDto } from './photos.dto.js';

/** What a row of evidence of kind 'photo' holds. */
export interface PhotoValue {
  readonly fileName: string;
  readonly caption: string;
  readonly mime: string;
  readonly sizeBytes: number;
  readonly sha256: string;
  readonly width: number;
  readonly height: number;
}

const PART_BYTES = 1024 * 1024;
const THUMBNAIL = -1;
const THUMBNAIL_PX = 360;
const MIMES: Readonly<Record<string, string>> = { jpeg: 'image/jpeg', png: 'image/png', webp: 'image/webp' };
/** A picture that unfolds to more than this is no photo (decompression bomb). */
const MOST_PIXELS = 100e6;

@Injectable()
export class PhotosService {
  constructor(
    @InjectDataSource() private readonly source: DataSource,
    private readonly cases: CasesService,
  ) {}

  /** Keeps the picture as it is, once it has been decoded: its content decides what it is, not its name. */
  async add(
    me: SignedIn,
    caseId: string,
    { fileName, caption, stage }: AddPhotoDto,
    body: Readable,
    promisedBytes: number | undefined,
  ): Promise<{ id: string }> {
    await this.cases.findNotClosed(me, caseId);
    await using upload = await receive(body, promisedBytes, PHOTO_LIMIT_BYTES, 'Take it at a lower resolution.');
    const bytes = await readFile(upload.path);
    const { mime, width, height, thumbnail } = await decode(bytes);
    const { sizeBytes, sha256 } = upload;
    const value: PhotoValue = { fileName, caption, mime, sizeBytes, sha256, width, height };
    return this.source.transaction(async (manager) => {
      const id = randomUUID();
      await appendEvidence(manager, caseId, { id, kind: 'photo', at: stage, value, takenBy: me.user.id });
      const parts = manager.getRepository(PhotoPart);
      await parts.insert({ photoId: id, part: THUMBNAIL, data: thumbnail });
      for (let part = 0; part * PART_BYTES < bytes.length; part++) {
        await parts.insert({ photoId: id, part, data: bytes.subarray(part * PART_BYTES, (part + 1) * PART_BYTES) });
      }
      return { id };
    });
  }

  async picture(me: SignedIn, id: string): Promise<{ mime: string; bytes: Buffer }> {
    const { mime } = (await this.find(me, id)).value as PhotoValue;
    const parts = await this.source
      .getRepository(PhotoPart)
      .find({ where: { photoId: id, part: MoreThanOrEqual(0) }, order: { part: 'ASC' } });
    return { mime, bytes: Buffer.concat(parts.map(({ data }) => data)) };
  }

  async thumbnail(me: SignedIn, id: string): Promise<Buffer> {
    await this.find(me, id);
    return (await this.source.getRepository(PhotoPart).findOneByOrFail({ photoId: id, part: THUMBNAIL })).data;
  }

  private async find(me: SignedIn, id: string): Promise<EvidenceRecord> {
    const record = await this.source.getRepository(EvidenceRecord).findOneBy({ id, kind: 'photo' });
    if (!record) throw new NotFoundException('There is no such photo.');
    await this.cases.find(me, record.caseId);
    return record;
  }
}

async function decode(bytes: Buffer) {
  try {
    const picture = sharp(bytes, { limitInputPixels: MOST_PIXELS, failOn: 'error' });
    const { format, width, height } = await picture.metadata();
    const mime = MIMES[format];
    if (!mime) throw new Error(`a ${format} picture`);
    const thumbnail = await picture
      .rotate()
      .resize(THUMBNAIL_PX, THUMBNAIL_PX, { fit: 'inside', withoutEnlargement: true })
      .jpeg({ quality: 75 })
      .toBuffer();
    return { mime, width, height, thumbnail };
  } catch (error) {
    // The decoder's own words are for developers.
    throw new InputError('This is not a photo that Jarro can show. Use a JPEG, PNG or WebP straight from the camera.', {
      cause: error,
    });
  }
}
