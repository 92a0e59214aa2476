import { InputError } from '@jarro/core';
import { Catch, HttpException, type ArgumentsHost, type ExceptionFilter } from '@nestjs/common';
import type { Request, Response } from 'express';
import { codeOf } from '../database/retry.js';
import { log } from './log.js';

/** An error as RFC 9457 describes it. */
export interface Problem {
  readonly type: string;
  readonly title: string;
  readonly status: number;
  readonly detail: string;
  /** What a form can show beside its fields, or a gate's missing proofs. */
  readonly errors?: readonly string[];
}

/** The one place where anything thrown becomes an answer. */
@Catch()
export class ProblemFilter implements ExceptionFilter {
  catch(error: unknown, host: ArgumentsHost): void {
    const http = host.switchToHttp();
    const response = http.getResponse<Response>();
    const problem = toProblem(error);
    if (problem.status >= 500) log.error({ err: error, url: http.getRequest<Request>().url }, problem.title);
    if (response.headersSent) {
      response.destroy();
      return;
    }
    if (problem.status === 503) response.setHeader('Retry-After', '3');
    response.status(problem.status).type('application/problem+json').send(JSON.stringify(problem));
  }
}

export function toProblem(error: unknown): Problem {
  if (error instanceof InputError) return problem(422, 'The input can’t be used', error.message);
  if (error instanceof HttpException) return fromHttp(error);
  const refused = refusedByParser(error);
  if (refused) return refused;
  if (isDatabaseAway(error)) {
    return problem(503, 'The database is not answering', 'Nothing was lost. Wait a moment and try again.');
  }
  return problem(
    500,
    'Something failed inside Jarro',
    'Nothing was stored. Try again; if it stays, tell whoever runs Jarro.',
  );
}

function fromHttp(error: HttpException): Problem {
  const body = error.getResponse();
  const message = typeof body === 'object' && 'message' in body ? body.message : body;
  const errors = Array.isArray(message) ? message.map(String) : undefined;
  const detail = errors ? errors.join(' ') : String(message);
  return { ...problem(error.getStatus(), error.name.replace(/Exception$/, ''), detail), ...(errors && { errors }) };
}

/** The body parser's refusals: too large, cut off, in an unknown character set. Their own words are for developers. */
function refusedByParser(error: unknown): Problem | undefined {
  const status = error instanceof Error && 'status' in error ? Number(error.status) : NaN;
  if (!(status >= 400 && status < 500)) return undefined;
  const detail =
    status === 413 ? 'This is more than a form of Jarro’s can hold.' : 'This can’t be read. Send it again.';
  return problem(status, 'The request can’t be read', detail);
}

function problem(status: number, title: string, detail: string): Problem {
  return { type: 'about:blank', title, status, detail };
}

/** The database is away, or too busy with others to have done it. */
const AWAY_CODES = new Set([
  'ECONNREFUSED',
  'ECONNRESET',
  'ETIMEDOUT',
  'EHOSTUNREACH',
  'EPIPE',
  'PROTOCOL_CONNECTION_LOST',
  'PROTOCOL_ENQUEUE_AFTER_FATAL_ERROR',
  'ER_SERVER_SHUTDOWN',
  'ER_CON_COUNT_ERROR',
  'ER_CONNECTION_KILLED',
  'ER_LOCK_WAIT_TIMEOUT',
  'ER_LOCK_DEADLOCK',
]);

export function isDatabaseAway(error: unknown): boolean {
  if (AWAY_CODES.has(codeOf(error) ?? '')) return true;
  return error instanceof Error && /closed state|Pool is closed/i.test(error.message);
}
