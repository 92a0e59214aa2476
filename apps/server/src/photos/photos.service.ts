import { createHash } from 'node:crypto';
import { readFile } from 'node:fs/promises';
import type { Readable } from 'node:stream';
import type { PhotoValue } from '@jarro/api-types';
import { InputError } from '@jarro/core';
import { Injectable, NotFoundException } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import pLimit from 'p-limit';
import sharp, { type Sharp } from 'sharp';
import { DataSource, MoreThanOrEqual, type EntityManager } from 'typeorm';
import type { SignedIn } from '../auth/signed-in.js';
import { Uploads } from '../uploads/uploads.js';
import { CaseAccess } from '../cases/case-access.js';
import { PHOTO_LIMIT_BYTES } from '../config.js';
import { EvidenceRecord } from '../evidence/evidence.entities.js';
import { casePath } from '../evidence/case-path.js';
import { hasArrived, timeOf } from '../evidence/may-have-waited.js';
import { PhotoPart } from './photos.entities.js';
import type { AddPhotoDto } from './photos.dto.js';

const PART_BYTES = 1024 * 1024;
const THUMBNAIL = -1;
const THUMBNAIL_PX = 360;
const THUMBNAIL_QUALITY = 75;
const COPY_PX = 4000;
const COPY_QUALITY = 88;
const MIMES: Readonly<Record<string, string>> = { jpeg: 'image/jpeg', png: 'image/png', webp: 'image/webp' };
/** Cameras and telephones take 8 to 50 million; a picture that unfolds to more is no photo (decompression bomb). */
const MOST_PIXELS = 52e6;

/** Pictures unfold to many times their file: one at a time, without a cache of them. */
sharp.concurrency(1);
sharp.cache(false);
const oneByOne = pLimit(1);

@Injectable()
export class PhotosService {
  constructor(
    @InjectDataSource() private readonly source: DataSource,
    private readonly access: CaseAccess,
    private readonly uploads: Uploads,
  ) {}

  /**
   * Keeps the picture as it is, once it has been decoded: its content decides what it is, not its name. One that was sent
   * before and arrived is left as it is.
   */
  async add(
    me: SignedIn,
    caseId: string,
    dto: AddPhotoDto,
    body: Readable,
    promisedBytes: number | undefined,
  ): Promise<{ id: string }> {
    const { fileName, caption, stage } = dto;
    const photo = { ...(dto.id && { id: dto.id }), kind: 'photo', at: stage } as const;
    await this.access.find(me, caseId);
    // Asked before the case's stage is: it may have been closed since the photo came in and its answer got lost.
    if (await hasArrived(this.source.manager, caseId, photo)) {
      body.resume();
      return { id: dto.id ?? '' };
    }
    await this.access.check(me, caseId, 'record');
    await using upload = await this.uploads.receive(
      body,
      promisedBytes,
      PHOTO_LIMIT_BYTES,
      'Take it at a lower resolution.',
    );
    const { bytes, mime, width, height, thumbnail } = await oneByOne(async () => {
      const file = await readFile(upload.path);
      return { bytes: file, ...(await decode(file)) };
    });
    const { sizeBytes, sha256 } = upload;
    const thumbnailSha256 = createHash('sha256').update(thumbnail).digest('hex');
    const shown = { fileName, caption, mime, sizeBytes, sha256, width, height, thumbnailSha256 };
    const takenAt = timeOf(dto);
    return await this.access.write(me, caseId, 'record', async ({ manager, append }) => {
      if (await hasArrived(manager, caseId, photo)) return { id: dto.id ?? '' };
      const about = await whatItShows(manager, caseId, dto);
      const value: PhotoValue = { ...shown, ...(about && { about }) };
      const { id } = await append({ ...photo, value, takenBy: me.user.id, ...(takenAt && { takenAt }) });
      const parts = manager.getRepository(PhotoPart);
      await parts.insert({ photoId: id, part: THUMBNAIL, data: thumbnail });
      for (let part = 0; part * PART_BYTES < bytes.length; part++) {
        await parts.insert({ photoId: id, part, data: bytes.subarray(part * PART_BYTES, (part + 1) * PART_BYTES) });
      }
      return { id };
    });
  }

  /** The picture to look at: a copy, which doesn't say where it was taken, nor with what. */
  async copy(me: SignedIn, id: string): Promise<Buffer> {
    const { bytes } = await this.original(me, id);
    return oneByOne(() => shown(bytes, COPY_PX, COPY_QUALITY));
  }

  /** The picture byte for byte as it was sealed. */
  async original(me: SignedIn, id: string): Promise<{ mime: string; bytes: Buffer }> {
    const { mime } = (await this.find(me, id)).value as PhotoValue;
    const parts = await this.source
      .getRepository(PhotoPart)
      .find({ where: { photoId: id, part: MoreThanOrEqual(0) }, order: { part: 'ASC' } });
    if (parts.length === 0) throw takenOut();
    return { mime, bytes: Buffer.concat(parts.map(({ data }) => data)) };
  }

  async thumbnail(me: SignedIn, id: string): Promise<Buffer> {
    await this.find(me, id);
    const small = await this.source.getRepository(PhotoPart).findOneBy({ photoId: id, part: THUMBNAIL });
    if (!small) throw takenOut();
    return small.data;
  }

  private async find(me: SignedIn, id: string): Promise<EvidenceRecord> {
    const record = await this.source.getRepository(EvidenceRecord).findOneBy({ id, kind: 'photo' });
    if (!record) throw new NotFoundException('There is no such photo.');
    await this.access.find(me, record.caseId);
    return record;
  }
}

function takenOut(): NotFoundException {
  return new NotFoundException('This photo was taken out on request.');
}

/** @throws InputError for a station or an entry that the case hasn't */
async function whatItShows(
  manager: EntityManager,
  caseId: string,
  { station, entry }: AddPhotoDto,
): Promise<PhotoValue['about']> {
  if (entry !== undefined) {
    if (await manager.getRepository(EvidenceRecord).existsBy({ id: entry, caseId })) return { entry };
    throw new InputError('The reading that this photo belongs to is not in this case.');
  }
  if (station === undefined) return undefined;
  const { stations } = await casePath(manager, caseId);
  if (stations.some(({ id }) => id === station)) return { station };
  throw new InputError(`There is no station "${station}" on this case's path.`);
}

async function decode(bytes: Buffer) {
  try {
    const { format, width, height } = await open(bytes).metadata();
    const mime = MIMES[format];
    if (!mime) throw new Error(`a ${format} picture`);
    return { mime, width, height, thumbnail: await shown(bytes, THUMBNAIL_PX, THUMBNAIL_QUALITY) };
  } catch (error) {
    // The decoder's own words are for developers.
    throw new InputError('This is not a photo that Jarro can show. Use a JPEG, PNG or WebP straight from the camera.', {
      cause: error,
    });
  }
}

function open(bytes: Buffer): Sharp {
  return sharp(bytes, { limitInputPixels: MOST_PIXELS, failOn: 'error' });
}

/** Upright and no larger than asked; the encoder writes none of the camera's notes (EXIF). */
function shown(bytes: Buffer, mostPx: number, quality: number): Promise<Buffer> {
  return open(bytes)
    .rotate()
    .resize(mostPx, mostPx, { fit: 'inside', withoutEnlargement: true })
    .jpeg({ quality })
    .toBuffer();
}
