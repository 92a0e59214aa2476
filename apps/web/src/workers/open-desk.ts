import { wrap, type Remote } from 'comlink';
import type { Answer, CaptureDesk } from './capture-desk';

export interface Desk {
  /** The worker, started when it is first asked for; anew when it was closed before. */
  readonly remote: Remote<CaptureDesk>;
  /** Asks what takes a while; what takes too long is refused and the worker closed. */
  ask<T>(question: (remote: Remote<CaptureDesk>) => Promise<Answer<T>>): Promise<Answer<T>>;
  close(): void;
}

export const TOO_MUCH = 'Reading this file took more than this device can give. Export a shorter record.';
const LIMIT_MS = 90_000;

/** The worker that reads a dropped file. @param onCrash called when it dies, so that nothing waits for ever */
export function openDesk(onCrash: () => void, limitMs = LIMIT_MS): Desk {
  let worker: Worker | undefined;
  let remote: Remote<CaptureDesk> | undefined;
  const desk: Desk = {
    get remote() {
      if (!remote) {
        worker = new Worker(new URL('./capture.worker.ts', import.meta.url), { type: 'module' });
        worker.addEventListener('error', onCrash);
        remote = wrap<CaptureDesk>(worker);
      }
      return remote;
    },
    async ask(question) {
      let limit: ReturnType<typeof setTimeout> | undefined;
      const late = new Promise<{ refused: string }>((resolve) => {
        limit = setTimeout(() => {
          desk.close();
          resolve({ refused: TOO_MUCH });
        }, limitMs);
      });
      try {
        return await Promise.race([question(desk.remote), late]);
      } finally {
        clearTimeout(limit);
      }
    },
    close() {
      worker?.terminate();
      worker = undefined;
      remote = undefined;
    },
  };
  return desk;
}
