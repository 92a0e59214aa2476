import { Module } from '@nestjs/common';
import { AuditService } from './audit.service.js';

/** Who did what. */
@Module({
  providers: [AuditService],
  exports: [AuditService],
})
export class AuditModule {}
