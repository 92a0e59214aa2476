import { Module, type DynamicModule } from '@nestjs/common';
import { APP_FILTER } from '@nestjs/core';
import { ServeStaticModule } from '@nestjs/serve-static';
import { TypeOrmModule } from '@nestjs/typeorm';
import { AuthModule } from './auth/auth.module.js';
import { BackupsModule } from './backups/backups.module.js';
import { BundlesModule } from './bundles/bundles.module.js';
import { CapturesModule } from './captures/captures.module.js';
import { CasesModule } from './cases/cases.module.js';
import type { Config } from './config.js';
import { ConfigModule } from './config.module.js';
import { dataSourceOptions } from './database/data-source.js';
import { EvidenceModule } from './evidence/evidence.module.js';
import { HealthModule } from './health/health.module.js';
import { cacheByName } from './http/assets.js';
import { ProblemFilter } from './http/problem.filter.js';
import { LearnedModule } from './learned/learned.module.js';
import { PeopleModule } from './people/people.module.js';
import { PhotosModule } from './photos/photos.module.js';
import { RemovalsModule } from './removals/removals.module.js';
import { ReportsModule } from './reports/reports.module.js';
import { RepairsModule } from './repairs/repairs.module.js';
import { ShelfModule } from './shelf/shelf.module.js';
import { SealModule } from './seal/seal.module.js';
import { SystemsModule } from './systems/systems.module.js';
import { ToolsModule } from './tools/tools.module.js';
import { UpkeepModule } from './upkeep/upkeep.module.js';

/** The domains, on one database, with the interface beside them. */
@Module({})
export class AppModule {
  static forConfig(config: Config): DynamicModule {
    return {
      module: AppModule,
      imports: [
        ConfigModule.forConfig(config),
        TypeOrmModule.forRoot(dataSourceOptions(config.databaseUrl)),
        ServeStaticModule.forRoot({
          rootPath: config.webFolder,
          exclude: ['/api/{*rest}'],
          serveStaticOptions: { cacheControl: false, setHeaders: cacheByName },
        }),
        AuthModule,
        PeopleModule,
        SystemsModule,
        ToolsModule,
        CasesModule,
        EvidenceModule,
        CapturesModule,
        PhotosModule,
        RepairsModule,
        RemovalsModule,
        ReportsModule,
        BundlesModule,
        ShelfModule,
        LearnedModule,
        SealModule,
        BackupsModule,
        HealthModule,
        UpkeepModule,
      ],
      providers: [{ provide: APP_FILTER, useClass: ProblemFilter }],
    };
  }
}
