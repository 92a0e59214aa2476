import type { BackupState } from '@jarro/api-types';
import { Controller, Delete, Get, HttpCode, Post } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { Me } from '../auth/auth.guard.js';
import { Needs } from '../auth/permissions.js';
import type { SignedIn } from '../auth/signed-in.js';
import { BackupsService } from './backups.service.js';

@ApiTags('shop')
@Needs('manage')
@Controller('backups')
export class BackupsController {
  constructor(private readonly backups: BackupsService) {}

  @Get()
  state(): Promise<BackupState> {
    return this.backups.state();
  }

  /** Begins one; how far it is stands in the state. */
  @HttpCode(202)
  @Post()
  begin(@Me() me: SignedIn): Promise<void> {
    return this.backups.begin(me);
  }

  /** Stops the one under way. */
  @HttpCode(204)
  @Delete('running')
  stop(): Promise<void> {
    return this.backups.stop();
  }
}
