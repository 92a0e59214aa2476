import { Module } from '@nestjs/common';
import { AuditModule } from '../audit/audit.module.js';
import { CapturesModule } from '../captures/captures.module.js';
import { CasesModule } from '../cases/cases.module.js';
import { ReportsModule } from '../reports/reports.module.js';
import { UploadsModule } from '../uploads/uploads.module.js';
import { WorkModule } from '../work/work.module.js';
import { BundlesController } from './bundles.controller.js';
import { CaseFileService } from './case-file.service.js';
import { ExportService } from './export.service.js';
import { ImportService } from './import.service.js';

/** A whole case as a file: out of this shop, into another, bit for bit. */
@Module({
  imports: [AuditModule, CapturesModule, CasesModule, ReportsModule, UploadsModule, WorkModule],
  controllers: [BundlesController],
  providers: [CaseFileService, ExportService, ImportService],
})
export class BundlesModule {}
