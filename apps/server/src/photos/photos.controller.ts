import { Controller, Get, Header, Param, ParseUUIDPipe, Post, Query, Req, StreamableFile } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import type { Request } from 'express';
import { Me } from '../auth/auth.guard.js';
import type { SignedIn } from '../auth/auth.service.js';
import { Needs } from '../auth/permissions.js';
import { promisedBytes } from '../captures/upload.js';
import { AddPhotoDto } from './photos.dto.js';
import { PhotosService } from './photos.service.js';

const FOREVER = 'private, max-age=31536000, immutable';

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

  @Needs('read')
  @Get('photos/:id')
  @Header('Cache-Control', FOREVER)
  async picture(@Me() me: SignedIn, @Param('id', ParseUUIDPipe) id: string) {
    const { mime, bytes } = await this.photos.picture(me, id);
    return new StreamableFile(bytes, { type: mime, length: bytes.length });
  }

  @Needs('read')
  @Get('photos/:id/thumbnail')
  @Header('Cache-Control', FOREVER)
  async thumbnail(@Me() me: SignedIn, @Param('id', ParseUUIDPipe) id: string) {
    const bytes = await this.photos.thumbnail(me, id);
    return new StreamableFile(bytes, { type: 'image/jpeg', length: bytes.length });
  }
}
