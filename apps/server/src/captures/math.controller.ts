import {
  Body,
  Controller,
  Delete,
  Get,
  HttpCode,
  Param,
  ParseIntPipe,
  ParseUUIDPipe,
  Post,
  Query,
  Res,
} from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import type { Response } from 'express';
import { Me } from '../auth/auth.guard.js';
import { Needs } from '../auth/permissions.js';
import type { SignedIn } from '../auth/signed-in.js';
import { goneOf } from '../http/gone.js';
import { floatsFile } from './captures.controller.js';
import { MathDto, StretchDto } from './captures.dto.js';
import { MathService } from './math.service.js';

@ApiTags('captures')
@Controller('captures/:id/math')
export class MathController {
  constructor(private readonly math: MathService) {}

  /** Works a channel out of one or two of the capture's own. */
  @Needs('measure')
  @Post()
  add(
    @Me() me: SignedIn,
    @Param('id', ParseUUIDPipe) id: string,
    @Body() dto: MathDto,
    @Res({ passthrough: true }) response: Response,
  ) {
    return this.math.add(me, id, dto, goneOf(response));
  }

  @Needs('measure')
  @HttpCode(204)
  @Delete(':channel')
  remove(
    @Me() me: SignedIn,
    @Param('id', ParseUUIDPipe) id: string,
    @Param('channel', ParseIntPipe) channel: number,
  ): Promise<void> {
    return this.math.remove(me, id, channel);
  }

  /** Min-max pairs as 32-bit floats, little endian; NaN where it has no value. */
  @Needs('read')
  @Get(':channel/window')
  async window(
    @Me() me: SignedIn,
    @Param('id', ParseUUIDPipe) id: string,
    @Param('channel', ParseIntPipe) channel: number,
    @Query() dto: StretchDto,
  ) {
    return floatsFile(await this.math.window(me, id, channel, dto));
  }
}
