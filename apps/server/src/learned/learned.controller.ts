import { Controller, Get } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { Me } from '../auth/auth.guard.js';
import { Needs } from '../auth/permissions.js';
import type { SignedIn } from '../auth/signed-in.js';
import { LearnedService } from './learned.service.js';

@ApiTags('learned')
@Controller('learned')
export class LearnedController {
  constructor(private readonly service: LearnedService) {}

  @Needs('read')
  @Get()
  learned(@Me() me: SignedIn) {
    return this.service.learned(me);
  }
}
