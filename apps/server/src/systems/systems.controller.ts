import { Body, Controller, Get, HttpCode, Param, ParseUUIDPipe, Post, Put } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { Me } from '../auth/auth.guard.js';
import type { SignedIn } from '../auth/signed-in.js';
import { Needs } from '../auth/permissions.js';
import { AddSystemDto, ChangeSystemDto, RetireSystemDto } from './systems.dto.js';
import { SystemsService } from './systems.service.js';

@ApiTags('systems')
@Controller('systems')
export class SystemsController {
  constructor(private readonly systems: SystemsService) {}

  @Needs('read')
  @Get()
  list(@Me() me: SignedIn) {
    return this.systems.list(me);
  }

  @Needs('read')
  @Get(':line')
  versions(@Me() me: SignedIn, @Param('line', ParseUUIDPipe) line: string) {
    return this.systems.versions(me, line);
  }

  @Needs('compose')
  @Post()
  add(@Me() me: SignedIn, @Body() { profile }: AddSystemDto) {
    return this.systems.add(me, profile);
  }

  @Needs('compose')
  @Put(':line')
  change(@Me() me: SignedIn, @Param('line', ParseUUIDPipe) line: string, @Body() { basis, profile }: ChangeSystemDto) {
    return this.systems.change(me, line, basis, profile);
  }

  @Needs('compose')
  @Post(':line/retire')
  @HttpCode(204)
  retire(@Me() me: SignedIn, @Param('line', ParseUUIDPipe) line: string, @Body() { retired }: RetireSystemDto) {
    return this.systems.retire(me, line, retired);
  }
}
