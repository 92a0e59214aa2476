import 'reflect-metadata';
import { ValidationPipe, type INestApplication, type LoggerService } from '@nestjs/common';
import { NestFactory } from '@nestjs/core';
import type { NestExpressApplication } from '@nestjs/platform-express';
import { DocumentBuilder, SwaggerModule } from '@nestjs/swagger';
import helmet from 'helmet';
import { pinoHttp } from 'pino-http';
import { DataSource } from 'typeorm';
import { AppModule } from './app.module.js';
import type { Config } from './config.js';
import { migrate } from './database/data-source.js';
import { seedDemo } from './demo/seed.js';
import { log } from './http/log.js';
import { SetUpService } from './people/set-up.js';
import { sameOriginOnly } from './http/same-origin.js';

const nestLog: LoggerService = {
  log: (message: unknown, context?: string) => log.debug({ context }, String(message)),
  warn: (message: unknown, context?: string) => log.warn({ context }, String(message)),
  error: (message: unknown, stack?: string, context?: string) => log.error({ context, stack }, String(message)),
};

/** Shown where Jarro was started, and only there. */
async function announceSetUp(setUp: SetUpService): Promise<void> {
  if (!(await setUp.isNeeded())) return;
  process.stdout.write(`First start: open Jarro and make yourself its owner with the code ${await setUp.code()}\n`);
}

/** Builds the application, migrates its database and, in demo mode, fills it. Not listening yet. */
export async function createApp(config: Config): Promise<INestApplication> {
  const app = await NestFactory.create<NestExpressApplication>(AppModule.forConfig(config), {
    logger: nestLog,
    abortOnError: false,
  });
  app.setGlobalPrefix('api');
  app.use(pinoHttp({ logger: log, autoLogging: { ignore: (request) => !request.url?.startsWith('/api/') } }));
  app.use(
    helmet({
      contentSecurityPolicy: {
        useDefaults: false,
        directives: {
          defaultSrc: ["'self'"],
          styleSrc: ["'self'", "'unsafe-inline'"],
          imgSrc: ["'self'", 'data:'],
          workerSrc: ["'self'"],
          objectSrc: ["'none'"],
          baseUri: ["'none'"],
          frameAncestors: ["'none'"],
          formAction: ["'self'"],
        },
      },
    }),
  );
  app.use(sameOriginOnly);
  app.useGlobalPipes(new ValidationPipe({ transform: true, whitelist: true, forbidNonWhitelisted: true }));
  app.enableShutdownHooks();
  const docs = new DocumentBuilder().setTitle('Jarro').setVersion('0.1.0').addCookieAuth('jarro_session').build();
  SwaggerModule.setup('api/docs', app, () => SwaggerModule.createDocument(app, docs));
  await migrate(app.get(DataSource));
  if (config.demo) await seedDemo(app);
  else await announceSetUp(app.get(SetUpService));
  return app;
}
