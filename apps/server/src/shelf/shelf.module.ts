import { Module } from '@nestjs/common';
import { AuditModule } from '../audit/audit.module.js';
import { CasesModule } from '../cases/cases.module.js';
import { ShelfController } from './shelf.controller.js';
import { ShelfService } from './shelf.service.js';

/** Known-goods: captures of pumps that were proven good, to hold others against. */
@Module({
  imports: [AuditModule, CasesModule],
  controllers: [ShelfController],
  providers: [ShelfService],
  exports: [ShelfService],
})
export class ShelfModule {}
