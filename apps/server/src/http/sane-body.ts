import { BadRequestException } from '@nestjs/common';
import type { NextFunction, Request, Response } from 'express';

/** No form of Jarro's nests deeper than half of it. */
const DEEPEST = 32;
/** Names by which a plain object reaches its own machinery. */
const MACHINERY = new Set(['__proto__', 'constructor', 'prototype']);

/**
 * Refuses a JSON body that no form sends, before anything walks through it: nested without end, with names of the
 * language's own machinery, or with half a surrogate pair, which no database keeps as it came.
 */
export function saneBody(request: Request, _response: Response, next: NextFunction): void {
  const wrong = problemOf(request.body as unknown);
  next(wrong === undefined ? undefined : new BadRequestException(wrong));
}

/** Walks with a list of its own: a body may be deeper than the stack. */
function problemOf(body: unknown): string | undefined {
  const left: { value: unknown; depth: number }[] = [{ value: body, depth: 0 }];
  for (let next = left.pop(); next; next = left.pop()) {
    const { value, depth } = next;
    if (typeof value === 'string' && !value.isWellFormed()) {
      return 'Some text holds half a character. Type it again.';
    }
    if (typeof value !== 'object' || value === null || Buffer.isBuffer(value)) continue;
    if (depth >= DEEPEST) return `This is nested more than ${DEEPEST} levels deep.`;
    for (const [key, inner] of Object.entries(value)) {
      if (MACHINERY.has(key) || !key.isWellFormed()) return `No field of Jarro’s is called "${key.toWellFormed()}".`;
      left.push({ value: inner, depth: depth + 1 });
    }
  }
  return undefined;
}
