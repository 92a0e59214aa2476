import { Controller, Get, Param, ParseUUIDPipe, Res, type OnModuleDestroy } from '@nestjs/common';
import { ApiExcludeController } from '@nestjs/swagger';
import type { Response } from 'express';
import { Me } from '../auth/auth.guard.js';
import { Needs } from '../auth/permissions.js';
import type { SignedIn } from '../auth/signed-in.js';
import { CaseAccess } from './case-access.js';
import { CaseWatch } from './case-watch.js';

/** A line that says nothing keeps proxies from ending a connection on which nothing happens. */
const ALIVE_MS = 20_000;

/** What OpenAPI has no words for: a stream of server-sent events (HTML Living Standard, 9.2). */
@ApiExcludeController()
@Needs('read')
@Controller('cases/:id')
export class ChangesController implements OnModuleDestroy {
  private readonly open = new Set<Response>();

  constructor(
    private readonly access: CaseAccess,
    private readonly cases: CaseWatch,
  ) {}

  /** A server that stops waits for its connections, and these end by no other means. */
  onModuleDestroy(): void {
    for (const response of this.open) response.end();
  }

  /** The case's version, now and whenever somebody changed it. */
  @Get('changes')
  async changes(@Me() me: SignedIn, @Param('id', ParseUUIDPipe) id: string, @Res() response: Response): Promise<void> {
    const item = await this.access.find(me, id);
    response.writeHead(200, { 'Content-Type': 'text/event-stream', 'Cache-Control': 'no-store' });
    const tell = (version: number) => response.write(`data: ${version}\n\n`);
    tell(item.version);
    this.open.add(response);
    const stop = this.cases.watch(item, tell);
    const alive = setInterval(() => response.write(':\n\n'), ALIVE_MS);
    response.once('close', () => {
      clearInterval(alive);
      this.open.delete(response);
      stop();
    });
  }
}
