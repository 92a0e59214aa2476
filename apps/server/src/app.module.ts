import { Module, type DynamicModule } from '@nestjs/common';
import { APP_FILTER, APP_GUARD } from '@nestjs/core';
import { ServeStaticModule } from '@nestjs/serve-static';
import { TypeOrmModule } from '@nestjs/typeorm';
import { AuthController } from './auth/auth.controller.js';
import { AuthGuard } from './auth/auth.guard.js';
import { Attempts } from './auth/attempts.js';
import { AuthService } from './auth/auth.service.js';
import { CaptureProgress } from './captures/capture-progress.js';
import { CaptureStore } from './captures/capture-store.js';
import { CapturesController } from './captures/captures.controller.js';
import { Originals } from './captures/originals.js';
import { Uploads } from './captures/upload.js';
import { CapturesService } from './captures/captures.service.js';
import { Board } from './cases/board.js';
import { CaseAccess } from './cases/case-access.js';
import { CaseWatch } from './cases/case-watch.js';
import { ChangesController } from './cases/changes.controller.js';
import { CasesController } from './cases/cases.controller.js';
import { CasesService } from './cases/cases.service.js';
import { CONFIG, type Config } from './config.js';
import { dataSourceOptions } from './database/data-source.js';
import { CaptureJob, Session, Shop, User } from './database/entities.js';
import { EvidenceController } from './evidence/evidence.controller.js';
import { EvidenceService } from './evidence/evidence.service.js';
import { HealthController } from './health/health.controller.js';
import { cacheByName } from './http/assets.js';
import { ProblemFilter } from './http/problem.filter.js';
import { AuditService } from './people/audit.service.js';
import { PeopleController } from './people/people.controller.js';
import { PeopleService } from './people/people.service.js';
import { SystemsController } from './systems/systems.controller.js';
import { SystemsService } from './systems/systems.service.js';
import { Sweeper } from './work/sweeper.js';
import { WorkPool } from './work/work-pool.js';
import { SetUpController, SetUpService } from './people/set-up.js';
import { FirstSigning } from './seal/first-signing.js';
import { VerifyController } from './seal/verify.controller.js';
import { VerifyService } from './seal/verify.service.js';
import { PhotosController } from './photos/photos.controller.js';
import { PhotosService } from './photos/photos.service.js';

@Module({})
export class AppModule {
  static forConfig(config: Config): DynamicModule {
    return {
      module: AppModule,
      imports: [
        TypeOrmModule.forRoot(dataSourceOptions(config.databaseUrl)),
        TypeOrmModule.forFeature([User, Session, Shop, CaptureJob]),
        ServeStaticModule.forRoot({
          rootPath: config.webFolder,
          exclude: ['/api/{*rest}'],
          serveStaticOptions: { cacheControl: false, setHeaders: cacheByName },
        }),
      ],
      controllers: [
        AuthController,
        CasesController,
        ChangesController,
        EvidenceController,
        CapturesController,
        PhotosController,
        VerifyController,
        SystemsController,
        PeopleController,
        SetUpController,
        HealthController,
      ],
      providers: [
        Attempts,
        AuthService,
        AuditService,
        Board,
        CaseAccess,
        CaseWatch,
        CasesService,
        EvidenceService,
        PhotosService,
        SystemsService,
        WorkPool,
        PeopleService,
        SetUpService,
        CapturesService,
        CaptureStore,
        CaptureProgress,
        Originals,
        FirstSigning,
        VerifyService,
        Uploads,
        Sweeper,
        { provide: CONFIG, useValue: config },
        { provide: APP_GUARD, useClass: AuthGuard },
        { provide: APP_FILTER, useClass: ProblemFilter },
      ],
    };
  }
}
