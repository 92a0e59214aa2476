import { Module } from '@nestjs/common';
import { AuditModule } from '../audit/audit.module.js';
import { CapturesModule } from '../captures/captures.module.js';
import { CasesModule } from '../cases/cases.module.js';
import { RemovalsController } from './removals.controller.js';
import { RemovalsService } from './removals.service.js';

/** Customer data that is taken out of a case on request, while its chain still verifies. */
@Module({
  imports: [AuditModule, CasesModule, CapturesModule],
  controllers: [RemovalsController],
  providers: [RemovalsService],
})
export class RemovalsModule {}
