import { Module } from '@nestjs/common';
import { AuditModule } from '../audit/audit.module.js';
import { CasesModule } from '../cases/cases.module.js';
import { WorkModule } from '../work/work.module.js';
import { RepairsController } from './repairs.controller.js';
import { RepairsService } from './repairs.service.js';

/** What follows a verdict: the repair, its recheck, the hand-over, and the way back where it failed. */
@Module({
  imports: [AuditModule, CasesModule, WorkModule],
  controllers: [RepairsController],
  providers: [RepairsService],
  exports: [RepairsService],
})
export class RepairsModule {}
