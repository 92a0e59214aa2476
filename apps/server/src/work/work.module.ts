import { Module } from '@nestjs/common';
import { JobRunner } from './job-runner.js';
import { JobsController } from './jobs.controller.js';
import { Jobs } from './jobs.js';
import { WorkPool } from './work-pool.js';

/** What takes longer than a request may: threads, and jobs that any process does. */
@Module({
  controllers: [JobsController],
  providers: [WorkPool, Jobs, JobRunner],
  exports: [WorkPool, Jobs, JobRunner],
})
export class WorkModule {}
