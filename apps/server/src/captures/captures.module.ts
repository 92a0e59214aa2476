import { Module } from '@nestjs/common';
import { AuditModule } from '../audit/audit.module.js';
import { CasesModule } from '../cases/cases.module.js';
import { UploadsModule } from '../uploads/uploads.module.js';
import { WorkModule } from '../work/work.module.js';
import { CaptureStore } from './capture-store.js';
import { CapturesController } from './captures.controller.js';
import { CapturesService } from './captures.service.js';
import { MathController } from './math.controller.js';
import { MathService } from './math.service.js';
import { Originals } from './originals.js';

/** Files of scopes: kept, measured, shown. */
@Module({
  imports: [AuditModule, CasesModule, UploadsModule, WorkModule],
  controllers: [CapturesController, MathController],
  providers: [CapturesService, CaptureStore, MathService, Originals],
  exports: [CaptureStore, MathService, Originals],
})
export class CapturesModule {}
