import { Controller, Get, Param, ParseUUIDPipe, Post, Query, Req, Res, StreamableFile } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { Transform } from 'class-transformer';
import { IsBoolean } from 'class-validator';
import type { Request, Response } from 'express';
import { Me } from '../auth/auth.guard.js';
import { Needs } from '../auth/permissions.js';
import type { SignedIn } from '../auth/signed-in.js';
import { goneOf } from '../http/gone.js';
import { Maybe } from '../http/maybe.js';
import { promisedBytes } from '../uploads/uploads.js';
import { JobId } from '../work/job-id.js';
import { ExportService } from './export.service.js';
import { ImportService } from './import.service.js';

class ExportDto {
  /** The scope's files too; they are when absent. */
  @Maybe()
  @Transform(({ value }) => (value === 'true' ? true : value === 'false' ? false : (value as unknown)))
  @IsBoolean()
  originals?: boolean;
}

class ImportDto {
  @JobId()
  job?: string;
}

@ApiTags('bundles')
@Controller()
export class BundlesController {
  constructor(
    private readonly exports: ExportService,
    private readonly imports: ImportService,
  ) {}

  /** The whole case as a zip. */
  @Needs('read')
  @Get('cases/:id/bundle')
  async export(@Me() me: SignedIn, @Param('id', ParseUUIDPipe) id: string, @Query() { originals = true }: ExportDto) {
    const { number, zip } = await this.exports.export(me, id, originals);
    return new StreamableFile(zip, {
      type: 'application/zip',
      disposition: `attachment; filename="case-${number}.zip"`,
    });
  }

  /** The body is a bundle as it was exported, or a case file, application/octet-stream. */
  @Needs('measure')
  @Post('bundles')
  import(
    @Me() me: SignedIn,
    @Query() { job }: ImportDto,
    @Req() request: Request,
    @Res({ passthrough: true }) response: Response,
  ) {
    return this.imports.import(me, job, request, promisedBytes(request), goneOf(response));
  }
}
