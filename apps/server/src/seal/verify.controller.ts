import { Controller, Get, Param, ParseUUIDPipe } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { Me } from '../auth/auth.guard.js';
import { Needs } from '../auth/permissions.js';
import type { SignedIn } from '../auth/signed-in.js';
import type { VerifiedCase } from '@jarro/api-types';
import { VerifyService } from './verify.service.js';

@ApiTags('seal')
@Needs('read')
@Controller('cases/:id')
export class VerifyController {
  constructor(private readonly seals: VerifyService) {}

  /** Reads everything that the case rests on again and compares it with its seals. */
  @Get('verify')
  verify(@Me() me: SignedIn, @Param('id', ParseUUIDPipe) id: string): Promise<VerifiedCase> {
    return this.seals.verify(me, id);
  }
}
