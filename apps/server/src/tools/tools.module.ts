import { Module } from '@nestjs/common';
import { AuditModule } from '../audit/audit.module.js';
import { ToolsController } from './tools.controller.js';
import { ToolsService } from './tools.service.js';

/** The shop's clamps and transducers. */
@Module({
  imports: [AuditModule],
  controllers: [ToolsController],
  providers: [ToolsService],
})
export class ToolsModule {}
