import { Controller, Get, Header, Param, ParseUUIDPipe, Post, Query, Req, StreamableFile } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import type { Request } from 'express';
import { Me } from '../auth/auth.guard.js';
import type { SignedIn } from '../auth/signed-in.js';
import { Needs } from '../auth/permissions.js';
import { promisedBytes } from '../uploads/uploads.js';
import { AddPhotoDto } from './photos.dto.js';
import { PhotosService } from './photos.service.js';

/** A shop's pictures must not stay on a device after signing out. */
const NOWHERE = 'no-store';

@ApiTags('photos')
@Controller()
export class PhotosController {
  constructor(private readonly photos: PhotosService) {}

  /** The body is the picture as it is, application/octet-stream. */
  @Needs('intake')
  @Post('cases/:id/photos')
  add(@Me() me: SignedIn, @Param('id', ParseUUIDPipe) id: string, @Query() dto: AddPhotoDto, @Req() request: Request) {
    return this.photos.add(me, id, dto, request, promisedBytes(request));
  }

  /** A copy to look at, without the camera's notes. */
  @Needs('read')
  @Get('photos/:id')
  @Header('Cache-Control', NOWHERE)
  async copy(@Me() me: SignedIn, @Param('id', ParseUUIDPipe) id: string) {
    return jpeg(await this.photos.copy(me, id));
  }

  /** The evidence itself, with all that the camera wrote into it. */
  @Needs('manage')
  @Get('photos/:id/original')
  @Header('Cache-Control', NOWHERE)
  async original(@Me() me: SignedIn, @Param('id', ParseUUIDPipe) id: string) {
    const { mime, bytes } = await this.photos.original(me, id);
    return new StreamableFile(bytes, { type: mime, length: bytes.length, disposition: 'attachment' });
  }

  @Needs('read')
  @Get('photos/:id/thumbnail')
  @Header('Cache-Control', NOWHERE)
  async thumbnail(@Me() me: SignedIn, @Param('id', ParseUUIDPipe) id: string) {
    return jpeg(await this.photos.thumbnail(me, id));
  }
}

function jpeg(bytes: Buffer): StreamableFile {
  return new StreamableFile(bytes, { type: 'image/jpeg', length: bytes.length });
}
