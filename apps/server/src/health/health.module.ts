import { Module } from '@nestjs/common';
import { HealthController } from './health.controller.js';
import { LoopWatch } from './loop-watch.js';

/** Whether this process and its database answer, and how long it kept anyone waiting. */
@Module({
  controllers: [HealthController],
  providers: [LoopWatch],
})
export class HealthModule {}
