import { Body, Controller, Get, Header, Param, ParseUUIDPipe, Post, Query } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { Me } from '../auth/auth.guard.js';
import type { SignedIn } from '../auth/signed-in.js';
import { Needs } from '../auth/permissions.js';
import { Board } from './board.js';
import { BoardDto, DecideDto, GiveSystemDto, OpenCaseDto } from './cases.dto.js';
import { CasesService } from './cases.service.js';

@ApiTags('cases')
@Controller('cases')
export class CasesController {
  constructor(
    private readonly cases: CasesService,
    private readonly board: Board,
  ) {}

  @Needs('read')
  @Get()
  page(@Me() me: SignedIn, @Query() dto: BoardDto) {
    return this.board.page(me, dto);
  }

  @Needs('intake')
  @Post()
  open(@Me() me: SignedIn, @Body() dto: OpenCaseDto) {
    return this.cases.open(me, dto);
  }

  @Needs('read')
  @Get(':id')
  detail(@Me() me: SignedIn, @Param('id', ParseUUIDPipe) id: string) {
    return this.cases.detail(me, id);
  }

  /** The case as `jarro.case/1`. */
  @Needs('read')
  @Get(':id/file')
  @Header('Content-Disposition', 'attachment; filename="case.json"')
  file(@Me() me: SignedIn, @Param('id', ParseUUIDPipe) id: string) {
    return this.cases.file(me, id);
  }

  @Needs('measure')
  @Post(':id/system')
  giveSystem(@Me() me: SignedIn, @Param('id', ParseUUIDPipe) id: string, @Body() dto: GiveSystemDto) {
    return this.cases.giveSystem(me, id, dto);
  }

  @Needs('decide')
  @Post(':id/verdicts')
  decide(@Me() me: SignedIn, @Param('id', ParseUUIDPipe) id: string, @Body() dto: DecideDto) {
    return this.cases.decide(me, id, dto);
  }
}
