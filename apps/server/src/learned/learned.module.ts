import { Module } from '@nestjs/common';
import { LearnedController } from './learned.controller.js';
import { LearnedService } from './learned.service.js';

/** What a shop's own closed cases teach. */
@Module({ controllers: [LearnedController], providers: [LearnedService], exports: [LearnedService] })
export class LearnedModule {}
