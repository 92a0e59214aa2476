import { Module } from '@nestjs/common';
import { CapturesModule } from '../captures/captures.module.js';
import { CasesModule } from '../cases/cases.module.js';
import { FirstSigning } from './first-signing.js';
import { VerifyController } from './verify.controller.js';
import { VerifyService } from './verify.service.js';

/** Signing a case’s chain, and telling what was changed behind its back. */
@Module({
  imports: [CasesModule, CapturesModule],
  controllers: [VerifyController],
  exports: [VerifyService],
  providers: [FirstSigning, VerifyService],
})
export class SealModule {}
