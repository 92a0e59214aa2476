import { Module } from '@nestjs/common';
import { APP_GUARD } from '@nestjs/core';
import { TypeOrmModule } from '@nestjs/typeorm';
import { AuditModule } from '../audit/audit.module.js';
import { Attempts } from './attempts.js';
import { User } from '../people/people.entities.js';
import { Session } from './auth.entities.js';
import { AuthController } from './auth.controller.js';
import { AuthGuard } from './auth.guard.js';
import { AuthService } from './auth.service.js';

/** Who is signed in, and may do what. */
@Module({
  imports: [AuditModule, TypeOrmModule.forFeature([User, Session])],
  controllers: [AuthController],
  providers: [Attempts, AuthService, { provide: APP_GUARD, useClass: AuthGuard }],
  exports: [Attempts, AuthService],
})
export class AuthModule {}
