import { Module } from '@nestjs/common';
import { AuditModule } from '../audit/audit.module.js';
import { WorkModule } from '../work/work.module.js';
import { BackupsController } from './backups.controller.js';
import { BackupsService } from './backups.service.js';

/** The whole shop in a file, every day. */
@Module({
  imports: [AuditModule, WorkModule],
  controllers: [BackupsController],
  providers: [BackupsService],
})
export class BackupsModule {}
