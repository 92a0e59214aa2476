import { wrap, type Remote } from 'comlink';
import type { CaptureDesk } from './capture-desk';

export interface Desk {
  /** The worker, started when it is first asked for; anew when it was closed before. */
  readonly remote: Remote<CaptureDesk>;
  close(): void;
}

/** The worker that reads a dropped file. @param onCrash called when it dies, so that nothing waits for ever */
export function openDesk(onCrash: () => void): Desk {
  let worker: Worker | undefined;
  let remote: Remote<CaptureDesk> | undefined;
  return {
    get remote() {
      if (!remote) {
        worker = new Worker(new URL('./capture.worker.ts', import.meta.url), { type: 'module' });
        worker.addEventListener('error', onCrash);
        remote = wrap<CaptureDesk>(worker);
      }
      return remote;
    },
    close() {
      worker?.terminate();
      worker = undefined;
      remote = undefined;
    },
  };
}
