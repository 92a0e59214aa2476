import { Module } from '@nestjs/common';
import { CapturesModule } from '../captures/captures.module.js';
import { WorkModule } from '../work/work.module.js';
import { Sweeper } from './sweeper.js';

/** Clearing away what has run out. */
@Module({
  imports: [CapturesModule, WorkModule],
  providers: [Sweeper],
})
export class UpkeepModule {}
