import { InputError } from '@jarro/core';
import { Catch, HttpException, type ArgumentsHost, type ExceptionFilter } from '@nestjs/common';
import type { Request, Response } from 'express';
import { QueryFailedError } from 'typeorm';
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

function toProblem(error: unknown): Problem {
  if (error instanceof InputError) return problem(422, 'The input can’t be used', error.message);
  if (error instanceof HttpException) return fromHttp(error);
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

function problem(status: number, title: string, detail: string): Problem {
  return { type: 'about:blank', title, status, detail };
}

const AWAY_CODES = new Set([
  'ECONNREFUSED',
  'ECONNRESET',
  'EPIPE',
  'PROTOCOL_CONNECTION_LOST',
  'PROTOCOL_ENQUEUE_AFTER_FATAL_ERROR',
  'ER_SERVER_SHUTDOWN',
  'ER_CON_COUNT_ERROR',
  'ER_CONNECTION_KILLED',
]);

function isDatabaseAway(error: unknown): boolean {
  const cause: unknown = error instanceof QueryFailedError ? error.driverError : error;
  if (typeof cause !== 'object' || cause === null) return false;
  if ('code' in cause && AWAY_CODES.has(String(cause.code))) return true;
  return cause instanceof Error && /closed state|Pool is closed/i.test(cause.message);
}
