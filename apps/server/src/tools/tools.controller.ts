import { Body, Controller, Delete, Get, HttpCode, Param, ParseUUIDPipe, Post } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { Me } from '../auth/auth.guard.js';
import { Needs } from '../auth/permissions.js';
import type { SignedIn } from '../auth/signed-in.js';
import { AddToolDto } from './tools.dto.js';
import { ToolsService } from './tools.service.js';

@ApiTags('tools')
@Controller('tools')
export class ToolsController {
  constructor(private readonly tools: ToolsService) {}

  @Needs('read')
  @Get()
  list(@Me() me: SignedIn) {
    return this.tools.list(me);
  }

  @Needs('measure')
  @Post()
  add(@Me() me: SignedIn, @Body() dto: AddToolDto) {
    return this.tools.add(me, dto);
  }

  /** Puts it first in the list the next time. */
  @Needs('measure')
  @HttpCode(204)
  @Post(':id/used')
  used(@Me() me: SignedIn, @Param('id', ParseUUIDPipe) id: string): Promise<void> {
    return this.tools.used(me, id);
  }

  @Needs('measure')
  @HttpCode(204)
  @Delete(':id')
  remove(@Me() me: SignedIn, @Param('id', ParseUUIDPipe) id: string): Promise<void> {
    return this.tools.remove(me, id);
  }
}
