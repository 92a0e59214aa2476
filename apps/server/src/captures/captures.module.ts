import { Module } from '@nestjs/common';
import { AuditModule } from '../audit/audit.module.js';
import { CasesModule } from '../cases/cases.module.js';
import { UploadsModule } from '../uploads/uploads.module.js';
import { WorkModule } from '../work/work.module.js';
import { CaptureStore } from './capture-store.js';
import { CapturesController } from './captures.controller.js';
import { CapturesService } from './captures.service.js';
import { Originals } from './originals.js';

/** Files of scopes: kept, measured, shown. */
@Module({
  imports: [AuditModule, CasesModule, UploadsModule, WorkModule],
  controllers: [CapturesController],
  providers: [CapturesService, CaptureStore, Originals],
  exports: [CaptureStore, Originals],
})
export class CapturesModule {}
