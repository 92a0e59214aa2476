import { Module } from '@nestjs/common';
import { AuditModule } from '../audit/audit.module.js';
import { LearnedModule } from '../learned/learned.module.js';
import { SystemsModule } from '../systems/systems.module.js';
import { WorkModule } from '../work/work.module.js';
import { Board } from './board.js';
import { CaseAccess } from './case-access.js';
import { CaseWatch } from './case-watch.js';
import { CasesController } from './cases.controller.js';
import { CasesService } from './cases.service.js';
import { SuspectKeeper } from './suspect-keeper.js';
import { ChangesController } from './changes.controller.js';

/** Cases: the board, one case under its lock, verdicts, what changed. */
@Module({
  imports: [AuditModule, LearnedModule, SystemsModule, WorkModule],
  controllers: [CasesController, ChangesController],
  providers: [Board, CaseAccess, CaseWatch, CasesService, SuspectKeeper],
  exports: [CaseAccess, CasesService],
})
export class CasesModule {}
