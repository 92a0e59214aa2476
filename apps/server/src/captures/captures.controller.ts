import { Controller, Get, Param, ParseUUIDPipe, Post, Query, Req, Res, StreamableFile } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import type { Request, Response } from 'express';
import { Me } from '../auth/auth.guard.js';
import type { SignedIn } from '../auth/signed-in.js';
import { Needs } from '../auth/permissions.js';
import { goneOf } from '../http/gone.js';
import { AddCaptureDto, WindowDto } from './captures.dto.js';
import { CapturesService } from './captures.service.js';
import { promisedBytes } from '../uploads/uploads.js';

@ApiTags('captures')
@Controller()
export class CapturesController {
  constructor(private readonly captures: CapturesService) {}

  /** The body is the scope's file as it is, application/octet-stream. */
  @Needs('measure')
  @Post('cases/:id/captures')
  add(
    @Me() me: SignedIn,
    @Param('id', ParseUUIDPipe) id: string,
    @Query() dto: AddCaptureDto,
    @Req() request: Request,
    @Res({ passthrough: true }) response: Response,
  ) {
    return this.captures.add(me, id, dto, request, promisedBytes(request), goneOf(response));
  }

  /** The scope's file byte for byte as it was sent. */
  @Needs('read')
  @Get('captures/:id/original')
  async original(@Me() me: SignedIn, @Param('id', ParseUUIDPipe) id: string) {
    const { fileName, sizeBytes, content } = await this.captures.original(me, id);
    return new StreamableFile(content, {
      type: 'application/octet-stream',
      length: sizeBytes,
      disposition: `attachment; filename*=UTF-8''${encodeURIComponent(fileName)}`,
    });
  }

  /** Measures the kept file again, by this version of Jarro: a new entry beside the old. */
  @Needs('measure')
  @Post('captures/:id/analyses')
  measureAgain(
    @Me() me: SignedIn,
    @Param('id', ParseUUIDPipe) id: string,
    @Res({ passthrough: true }) response: Response,
  ) {
    return this.captures.measureAgain(me, id, goneOf(response));
  }

  /** Min-max pairs as 32-bit floats, little endian. */
  @Needs('read')
  @Get('captures/:id/window')
  async window(@Me() me: SignedIn, @Param('id', ParseUUIDPipe) id: string, @Query() dto: WindowDto) {
    return floatsFile(await this.captures.window(me, id, dto));
  }
}

/** 32-bit floats, little endian. */
export function floatsFile({ buffer, byteOffset, byteLength }: Float32Array): StreamableFile {
  return new StreamableFile(Buffer.from(buffer, byteOffset, byteLength), {
    type: 'application/octet-stream',
    length: byteLength,
  });
}
