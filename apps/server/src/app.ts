import 'reflect-metadata';
import type { ServerResponse } from 'node:http';
import { ValidationPipe, type INestApplication, type LoggerService } from '@nestjs/common';
import { NestFactory } from '@nestjs/core';
import type { NestExpressApplication } from '@nestjs/platform-express';
import { DocumentBuilder, SwaggerModule } from '@nestjs/swagger';
import compression from 'compression';
import helmet from 'helmet';
import { pinoHttp } from 'pino-http';
import { DataSource } from 'typeorm';
import { AppModule } from './app.module.js';
import type { Config } from './config.js';
import { migrate } from './database/data-source.js';
import { withLease } from './database/lease.js';
import { seedDemo } from './demo/seed.js';
import { log } from './http/log.js';
import { rememberRequest } from './http/last-resort.js';
import { ownSiteOnly } from './http/own-site.js';
import { saneBody } from './http/sane-body.js';
import { SetUpService } from './people/set-up.js';
import { FirstSigning } from './seal/first-signing.js';

/** A system of sixty stations, with room; captures and pictures stream past this. */
const BODY_LIMIT = '256kb';

const nestLog: LoggerService = {
  log: (message: unknown, context?: string) => log.debug({ context }, String(message)),
  warn: (message: unknown, context?: string) => log.warn({ context }, String(message)),
  error: (message: unknown, stack?: string, context?: string) => log.error({ context, stack }, String(message)),
};

/** Events must leave at once; a compressor would hold them back. */
function isStream(response: ServerResponse): boolean {
  return String(response.getHeader('Content-Type')).startsWith('text/event-stream');
}

/** Shown where Jarro was started, and only there. */
async function announceSetUp(setUp: SetUpService): Promise<void> {
  if (!(await setUp.isNeeded())) return;
  process.stdout.write(`First start: open Jarro and make yourself its owner with the code ${await setUp.code()}\n`);
}

/**
 * A large record over a slow line takes longer than Node's five minutes; an upload that stands still is ended by
 * whoever receives it.
 */
const LONGEST_REQUEST_MS = 6 * 3600 * 1000;

/** Builds the application, migrates its database and, in demo mode, fills it. Not listening yet. */
export async function createApp(config: Config): Promise<INestApplication> {
  const app = await NestFactory.create<NestExpressApplication>(AppModule.forConfig(config), {
    logger: nestLog,
    abortOnError: false,
    bodyParser: false,
  });
  app.setGlobalPrefix('api');
  if (config.trustProxy !== undefined) app.set('trust proxy', config.trustProxy);
  app.getHttpServer().requestTimeout = LONGEST_REQUEST_MS;
  app.use(rememberRequest);
  app.use(pinoHttp({ logger: log, autoLogging: { ignore: (request) => !request.url?.startsWith('/api/') } }));
  app.use(
    helmet({
      // A promise for https is made where Jarro is reached by it.
      strictTransportSecurity: config.origin?.protocol === 'https:',
      contentSecurityPolicy: {
        useDefaults: false,
        directives: {
          defaultSrc: ["'self'"],
          styleSrc: ["'self'", "'unsafe-inline'"],
          imgSrc: ["'self'", 'data:', 'blob:'],
          workerSrc: ["'self'"],
          objectSrc: ["'none'"],
          baseUri: ["'none'"],
          frameAncestors: ["'none'"],
          formAction: ["'self'"],
        },
      },
    }),
  );
  app.use(compression({ filter: (request, response) => !isStream(response) && compression.filter(request, response) }));
  app.use(ownSiteOnly(config));
  app.useBodyParser('json', { limit: BODY_LIMIT });
  app.use(saneBody);
  app.useGlobalPipes(new ValidationPipe({ transform: true, whitelist: true, forbidNonWhitelisted: true }));
  app.enableShutdownHooks();
  const docs = new DocumentBuilder().setTitle('Jarro').setVersion('0.1.0').addCookieAuth('jarro_session').build();
  SwaggerModule.setup('api/docs', app, () => SwaggerModule.createDocument(app, docs));
  await migrate(app.get(DataSource));
  await withLease(app.get(DataSource), 'first-signing', () => app.get(FirstSigning).run());
  if (config.demo) await withLease(app.get(DataSource), 'demo', () => seedDemo(app));
  else await announceSetUp(app.get(SetUpService));
  return app;
}
