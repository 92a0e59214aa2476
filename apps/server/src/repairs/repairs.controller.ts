import { Body, Controller, HttpCode, Param, ParseUUIDPipe, Post } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { Me } from '../auth/auth.guard.js';
import { Needs } from '../auth/permissions.js';
import type { SignedIn } from '../auth/signed-in.js';
import { LeftInDto, ReopenDto, RepairDto, TakenOutDto } from './repairs.dto.js';
import { RepairsService } from './repairs.service.js';

@ApiTags('repairs')
@Needs('measure')
@Controller('cases/:id')
export class RepairsController {
  constructor(private readonly repairs: RepairsService) {}

  @Post('repair')
  repair(@Me() me: SignedIn, @Param('id', ParseUUIDPipe) id: string, @Body() dto: RepairDto) {
    return this.repairs.repair(me, id, dto);
  }

  @Post('left-in')
  leftIn(@Me() me: SignedIn, @Param('id', ParseUUIDPipe) id: string, @Body() dto: LeftInDto) {
    return this.repairs.leftIn(me, id, dto);
  }

  @Post('taken-out')
  takenOut(@Me() me: SignedIn, @Param('id', ParseUUIDPipe) id: string, @Body() dto: TakenOutDto) {
    return this.repairs.takenOut(me, id, dto);
  }

  @Needs('decide')
  @Post('close')
  @HttpCode(204)
  close(@Me() me: SignedIn, @Param('id', ParseUUIDPipe) id: string) {
    return this.repairs.close(me, id);
  }

  @Needs('decide')
  @Post('reopen')
  @HttpCode(204)
  reopen(@Me() me: SignedIn, @Param('id', ParseUUIDPipe) id: string, @Body() dto: ReopenDto) {
    return this.repairs.reopen(me, id, dto);
  }
}
