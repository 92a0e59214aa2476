import { ForbiddenException } from '@nestjs/common';
import type { NextFunction, Request, Response } from 'express';

const hostOf = (origin: string) => (URL.canParse(origin) ? new URL(origin).host : undefined);

const READS = new Set(['GET', 'HEAD', 'OPTIONS']);

/** Refuses writes that another site's page sent with this browser's cookie. */
export function sameOriginOnly(request: Request, _response: Response, next: NextFunction): void {
  const { origin, host } = request.headers;
  if (!READS.has(request.method) && origin !== undefined && hostOf(origin) !== host) {
    next(new ForbiddenException('This request came from another site.'));
    return;
  }
  next();
}
