import { AsyncLocalStorage } from 'node:async_hooks';
import type { INestApplication } from '@nestjs/common';
import type { NextFunction, Request, Response } from 'express';
import { log } from './log.js';

/** The answer that whatever runs just now is for. */
const scope = new AsyncLocalStorage<Response>();

export function rememberRequest(_request: Request, response: Response, next: NextFunction): void {
  scope.run(response, next);
}

const CLOSE_LIMIT_MS = 5000;

/**
 * What nobody caught. A promise that was rejected while a request was served is that request's own failure; anything
 * else leaves the process in a state that nobody knows: it ends, and whoever started it starts it again.
 */
export function installLastResort(app: INestApplication): void {
  process.on('unhandledRejection', (reason) => {
    const response = scope.getStore();
    if (!response) return end('unhandled rejection', reason);
    log.error({ err: reason, url: response.req.url }, 'a rejection that nobody waited for');
    if (response.headersSent) response.destroy();
    else response.status(500).type('application/problem+json').send(FAILED);
  });
  process.on('uncaughtException', (error) => end('uncaught exception', error));

  function end(what: string, error: unknown): void {
    log.fatal({ err: error }, what);
    process.exitCode = 1;
    const limit = setTimeout(() => process.exit(1), CLOSE_LIMIT_MS);
    limit.unref();
    void app.close().finally(() => process.exit(1));
  }
}

const FAILED = JSON.stringify({
  type: 'about:blank',
  title: 'Something failed inside Jarro',
  status: 500,
  detail: 'It isn’t known how far this came. Look at what is stored before you try again.',
});
