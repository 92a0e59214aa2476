import { Module } from '@nestjs/common';
import { HealthController } from './health.controller.js';

/** Whether this process and its database answer. */
@Module({
  controllers: [HealthController],
})
export class HealthModule {}
