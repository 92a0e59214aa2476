import { Injectable, type OnApplicationShutdown } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { DataSource, In } from 'typeorm';
import { Case } from './cases.entities.js';
import { log } from '../http/log.js';

/** How soon a colleague's entry shows. */
const EVERY_MS = 1000;

type Listener = (version: number) => void;

/**
 * Tells whoever looks at a case that it was changed, by whatever process: every write raises the version of the case's row,
 * and one small query a second asks for those of all cases that are looked at here.
 */
@Injectable()
export class CaseWatch implements OnApplicationShutdown {
  private readonly watched = new Map<string, { version: number; readonly listeners: Set<Listener> }>();
  private timer: NodeJS.Timeout | undefined;

  constructor(@InjectDataSource() private readonly source: DataSource) {}

  /** @returns stops telling */
  watch({ id, version }: Pick<Case, 'id' | 'version'>, listener: Listener): () => void {
    const known = this.watched.get(id) ?? { version, listeners: new Set<Listener>() };
    this.watched.set(id, known);
    known.listeners.add(listener);
    this.timer ??= setInterval(() => void this.look(), EVERY_MS).unref();
    return () => {
      known.listeners.delete(listener);
      if (known.listeners.size === 0) this.watched.delete(id);
      if (this.watched.size === 0) this.onApplicationShutdown();
    };
  }

  onApplicationShutdown(): void {
    clearInterval(this.timer);
    this.timer = undefined;
  }

  /** The database may be away just now: the next time will do. */
  private async look(): Promise<void> {
    try {
      const rows = await this.source
        .getRepository(Case)
        .find({ where: { id: In([...this.watched.keys()]) }, select: { id: true, version: true } });
      for (const { id, version } of rows) {
        const known = this.watched.get(id);
        if (!known || known.version === version) continue;
        known.version = version;
        for (const listener of known.listeners) listener(version);
      }
    } catch (error) {
      log.warn({ err: error }, 'not looked for changes this time');
    }
  }
}
