import { Module } from '@nestjs/common';
import { CapturesModule } from '../captures/captures.module.js';
import { CasesModule } from '../cases/cases.module.js';
import { SealModule } from '../seal/seal.module.js';
import { WorkModule } from '../work/work.module.js';
import { ReportsController } from './reports.controller.js';
import { ReportsService } from './reports.service.js';

/** A case on paper: for the customer, and for whoever has to defend it. */
@Module({
  imports: [CapturesModule, CasesModule, SealModule, WorkModule],
  controllers: [ReportsController],
  providers: [ReportsService],
  exports: [ReportsService],
})
export class ReportsModule {}
