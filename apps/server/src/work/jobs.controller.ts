import type { JobProgress } from '@jarro/api-types';
import { Controller, Delete, Get, HttpCode, Param } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { Me } from '../auth/auth.guard.js';
import { Needs } from '../auth/permissions.js';
import type { SignedIn } from '../auth/signed-in.js';
import { Jobs } from './jobs.js';

@ApiTags('jobs')
@Controller('jobs')
export class JobsController {
  constructor(private readonly jobs: Jobs) {}

  /** How far what one began has come, and how it ended; 404 an hour after. */
  @Needs('read')
  @Get(':job')
  progress(@Me() me: SignedIn, @Param('job') job: string): Promise<JobProgress> {
    return this.jobs.progress(me, job);
  }

  /** Stops what one began. What was kept before that stays. */
  @Needs('read')
  @HttpCode(204)
  @Delete(':job')
  stop(@Me() me: SignedIn, @Param('job') job: string): Promise<void> {
    return this.jobs.stop(me, job);
  }
}
