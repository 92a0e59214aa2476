import { Body, Controller, Param, ParseUUIDPipe, Post } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { Me } from '../auth/auth.guard.js';
import { Needs } from '../auth/permissions.js';
import type { SignedIn } from '../auth/signed-in.js';
import { RemovalDto } from './removals.dto.js';
import { RemovalsService } from './removals.service.js';

@ApiTags('removals')
@Needs('manage')
@Controller('cases/:id')
export class RemovalsController {
  constructor(private readonly removals: RemovalsService) {}

  @Post('removals')
  remove(@Me() me: SignedIn, @Param('id', ParseUUIDPipe) id: string, @Body() dto: RemovalDto) {
    return this.removals.remove(me, id, dto);
  }
}
