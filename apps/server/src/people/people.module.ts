import { Module } from '@nestjs/common';
import { AuditModule } from '../audit/audit.module.js';
import { AuthModule } from '../auth/auth.module.js';
import { PeopleController } from './people.controller.js';
import { PeopleService } from './people.service.js';
import { SetUpController, SetUpService } from './set-up.js';

/** The shop, its people, its rules, and the first start. */
@Module({
  imports: [AuditModule, AuthModule],
  controllers: [PeopleController, SetUpController],
  providers: [PeopleService, SetUpService],
})
export class PeopleModule {}
