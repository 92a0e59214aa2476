import { Body, Controller, HttpCode, Param, ParseUUIDPipe, Post, Put } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { Me } from '../auth/auth.guard.js';
import type { SignedIn } from '../auth/signed-in.js';
import { Needs } from '../auth/permissions.js';
import { AcknowledgeDto, AddEntryDto, AddMarkDto, AddNoteDto, SaveIntakeDto, VoidDto } from './evidence.dto.js';
import { EvidenceService } from './evidence.service.js';

@ApiTags('evidence')
@Needs('measure')
@Controller('cases/:id')
export class EvidenceController {
  constructor(private readonly evidence: EvidenceService) {}

  @Post('evidence')
  add(@Me() me: SignedIn, @Param('id', ParseUUIDPipe) id: string, @Body() dto: AddEntryDto) {
    return this.evidence.add(me, id, dto);
  }

  @Post('evidence/:entry/void')
  @HttpCode(204)
  void(
    @Me() me: SignedIn,
    @Param('id', ParseUUIDPipe) id: string,
    @Param('entry', ParseUUIDPipe) entry: string,
    @Body() { reason }: VoidDto,
  ) {
    return this.evidence.void(me, id, entry, reason);
  }

  @Needs('intake')
  @Post('notes')
  addNote(@Me() me: SignedIn, @Param('id', ParseUUIDPipe) id: string, @Body() dto: AddNoteDto) {
    return this.evidence.addNote(me, id, dto);
  }

  @Needs('intake')
  @Post('marks')
  addMark(@Me() me: SignedIn, @Param('id', ParseUUIDPipe) id: string, @Body() dto: AddMarkDto) {
    return this.evidence.addMark(me, id, dto);
  }

  @Post('cautions')
  @HttpCode(204)
  acknowledge(@Me() me: SignedIn, @Param('id', ParseUUIDPipe) id: string, @Body() dto: AcknowledgeDto) {
    return this.evidence.acknowledge(me, id, dto);
  }

  @Needs('intake')
  @Put('intake')
  saveIntake(@Me() me: SignedIn, @Param('id', ParseUUIDPipe) id: string, @Body() dto: SaveIntakeDto) {
    return this.evidence.saveIntake(me, id, dto);
  }
}
