import { isIP } from 'node:net';
import { hostname } from 'node:os';
import { ForbiddenException } from '@nestjs/common';
import type { NextFunction, Request, Response } from 'express';
import type { Config } from '../config.js';

const READS = new Set(['GET', 'HEAD', 'OPTIONS']);

/**
 * Refuses what was not meant for this Jarro. A foreign name in `Host` is another site whose name was pointed at this
 * machine (DNS rebinding): an address, this machine's own names and the origin from the settings are all that people
 * type. A write whose `Origin` is another site's page came with this browser's cookie, and not by its user's will.
 */
export function ownSiteOnly({ origin: settled }: Pick<Config, 'origin'>) {
  const names = new Set(['localhost', hostname().toLowerCase(), `${hostname().toLowerCase()}.local`]);
  if (settled) names.add(settled.hostname);
  const isOwn = (name: string) => isIP(name.replace(/^\[|\]$/g, '')) !== 0 || names.has(name);
  return (request: Request, _response: Response, next: NextFunction): void => {
    const { origin, host } = request.headers;
    const asked = partsOf(`http://${host ?? ''}`);
    if (!asked || !isOwn(asked.hostname)) {
      next(
        new ForbiddenException('Jarro is not known by this name. Its setting JARRO_ORIGIN says where it is reached.'),
      );
      return;
    }
    const from = origin === undefined ? undefined : partsOf(origin);
    const ownPage = origin === undefined || (from && (from.host === asked.host || from.origin === settled?.origin));
    if (!READS.has(request.method) && !ownPage) {
      next(new ForbiddenException('This request came from another site.'));
      return;
    }
    next();
  };
}

function partsOf(address: string): URL | undefined {
  return URL.canParse(address) ? new URL(address) : undefined;
}
