import {
  Body,
  Controller,
  Get,
  HttpCode,
  Param,
  ParseIntPipe,
  ParseUUIDPipe,
  Patch,
  Post,
  Put,
  Query,
} from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { Me } from '../auth/auth.guard.js';
import type { SignedIn } from '../auth/signed-in.js';
import { Needs } from '../auth/permissions.js';
import { AuditService } from '../audit/audit.service.js';
import { AddPersonDto, ChangePersonDto, ChangeShopDto } from './people.dto.js';
import { PeopleService } from './people.service.js';

@ApiTags('shop')
@Needs('manage')
@Controller()
export class PeopleController {
  constructor(
    private readonly people: PeopleService,
    private readonly audit: AuditService,
  ) {}

  @Get('people')
  list(@Me() me: SignedIn) {
    return this.people.list(me);
  }

  @Post('people')
  add(@Me() me: SignedIn, @Body() dto: AddPersonDto) {
    return this.people.add(me, dto);
  }

  @Patch('people/:id')
  @HttpCode(204)
  change(@Me() me: SignedIn, @Param('id', ParseUUIDPipe) id: string, @Body() dto: ChangePersonDto) {
    return this.people.change(me, id, dto);
  }

  @Put('shop')
  @HttpCode(204)
  changeShop(@Me() me: SignedIn, @Body() dto: ChangeShopDto) {
    return this.people.changeShop(me, dto);
  }

  @Get('audit')
  auditLog(@Me() me: SignedIn, @Query('before', new ParseIntPipe({ optional: true })) before?: number) {
    return this.audit.list(me, before);
  }
}
