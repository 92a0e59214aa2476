import { Global, Module, type DynamicModule } from '@nestjs/common';
import { CONFIG, type Config } from './config.js';

/** The settings, for every domain. */
@Global()
@Module({})
export class ConfigModule {
  static forConfig(config: Config): DynamicModule {
    return { module: ConfigModule, providers: [{ provide: CONFIG, useValue: config }], exports: [CONFIG] };
  }
}
