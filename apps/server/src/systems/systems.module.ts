import { Module } from '@nestjs/common';
import { AuditModule } from '../audit/audit.module.js';
import { SystemsController } from './systems.controller.js';
import { SystemsService } from './systems.service.js';

/** The shop’s own supply paths, in versions. */
@Module({
  imports: [AuditModule],
  controllers: [SystemsController],
  providers: [SystemsService],
  exports: [SystemsService],
})
export class SystemsModule {}
