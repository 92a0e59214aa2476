import { Body, Controller, Get, HttpCode, Param, ParseUUIDPipe, Post } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { Me } from '../auth/auth.guard.js';
import type { SignedIn } from '../auth/auth.service.js';
import { AddReadingDto, DecideDto, OpenCaseDto, VoidDto } from './cases.dto.js';
import { CasesService } from './cases.service.js';

@ApiTags('cases')
@Controller('cases')
export class CasesController {
  constructor(private readonly cases: CasesService) {}

  @Get()
  board(@Me() me: SignedIn) {
    return this.cases.board(me);
  }

  @Post()
  open(@Me() me: SignedIn, @Body() dto: OpenCaseDto) {
    return this.cases.open(me, dto);
  }

  @Get(':id')
  detail(@Me() me: SignedIn, @Param('id', ParseUUIDPipe) id: string) {
    return this.cases.detail(me, id);
  }

  @Post(':id/readings')
  addReading(@Me() me: SignedIn, @Param('id', ParseUUIDPipe) id: string, @Body() dto: AddReadingDto) {
    return this.cases.addReading(me, id, dto);
  }

  @Post(':id/readings/:readingId/void')
  @HttpCode(204)
  voidReading(
    @Me() me: SignedIn,
    @Param('id', ParseUUIDPipe) id: string,
    @Param('readingId', ParseUUIDPipe) readingId: string,
    @Body() { reason }: VoidDto,
  ) {
    return this.cases.voidReading(me, id, readingId, reason);
  }

  @Post(':id/captures/:captureId/void')
  @HttpCode(204)
  voidCapture(
    @Me() me: SignedIn,
    @Param('id', ParseUUIDPipe) id: string,
    @Param('captureId', ParseUUIDPipe) captureId: string,
    @Body() { reason }: VoidDto,
  ) {
    return this.cases.voidCapture(me, id, captureId, reason);
  }

  @Post(':id/verdicts')
  decide(@Me() me: SignedIn, @Param('id', ParseUUIDPipe) id: string, @Body() dto: DecideDto) {
    return this.cases.decide(me, id, dto);
  }

  @Post(':id/reopen')
  @HttpCode(204)
  reopen(@Me() me: SignedIn, @Param('id', ParseUUIDPipe) id: string) {
    return this.cases.reopen(me, id);
  }
}
