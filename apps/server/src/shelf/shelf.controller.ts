import { Body, Controller, Get, HttpCode, Param, ParseUUIDPipe, Post } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { Me } from '../auth/auth.guard.js';
import { Needs } from '../auth/permissions.js';
import type { SignedIn } from '../auth/signed-in.js';
import { AddKnownGoodDto, RetireKnownGoodDto } from './shelf.dto.js';
import { ShelfService } from './shelf.service.js';

@ApiTags('shelf')
@Controller('shelf')
export class ShelfController {
  constructor(private readonly shelf: ShelfService) {}

  @Needs('read')
  @Get()
  list(@Me() me: SignedIn) {
    return this.shelf.list(me);
  }

  @Needs('measure')
  @Post()
  add(@Me() me: SignedIn, @Body() dto: AddKnownGoodDto) {
    return this.shelf.add(me, dto);
  }

  @Needs('measure')
  @Post(':id/retire')
  @HttpCode(204)
  retire(@Me() me: SignedIn, @Param('id', ParseUUIDPipe) id: string, @Body() { retired }: RetireKnownGoodDto) {
    return this.shelf.retire(me, id, retired);
  }
}
