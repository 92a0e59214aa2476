import { randomUUID } from 'node:crypto';
import { Controller, Get, Param, ParseUUIDPipe, Query, Res, StreamableFile } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { IsIn } from 'class-validator';
import type { Response } from 'express';
import { Me } from '../auth/auth.guard.js';
import { Needs } from '../auth/permissions.js';
import type { SignedIn } from '../auth/signed-in.js';
import { goneOf } from '../http/gone.js';
import { JobId } from '../work/job-id.js';
import { PAPERS, type Paper } from './paper.js';
import { REPORT_KINDS, type ReportKind } from './render-report.js';
import { ReportsService } from './reports.service.js';

class ReportDto {
  @IsIn(REPORT_KINDS, { message: 'There is a report for the customer and a technical one.' })
  kind: ReportKind;

  @IsIn(PAPERS, { message: 'Reports are printed on A4 or LETTER.' })
  paper: Paper;

  @JobId()
  job?: string;
}

@ApiTags('reports')
@Controller('cases/:id')
export class ReportsController {
  constructor(private readonly reports: ReportsService) {}

  @Needs('read')
  @Get('report.pdf')
  async pdf(
    @Me() me: SignedIn,
    @Param('id', ParseUUIDPipe) id: string,
    @Query() { kind, paper, job = randomUUID() }: ReportDto,
    @Res({ passthrough: true }) response: Response,
  ) {
    const { number, bytes } = await this.reports.pdf(me, id, { kind, paper }, job, goneOf(response));
    return new StreamableFile(bytes, {
      type: 'application/pdf',
      disposition: `inline; filename="case-${number}-${kind}.pdf"`,
      length: bytes.length,
    });
  }
}
