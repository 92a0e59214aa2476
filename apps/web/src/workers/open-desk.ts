import { wrap, type Remote } from 'comlink';
import type { CaptureDesk } from './capture-desk';

export interface Desk {
  readonly remote: Remote<CaptureDesk>;
  close(): void;
}

/** Starts the worker that reads a dropped file. @param onCrash called when it dies, so that nothing waits for ever */
export function openDesk(onCrash: () => void): Desk {
  const worker = new Worker(new URL('./capture.worker.ts', import.meta.url), { type: 'module' });
  worker.addEventListener('error', onCrash);
  return { remote: wrap<CaptureDesk>(worker), close: () => worker.terminate() };
}
