import { wrap, type Remote } from 'comlink';
import { useEffect, useState } from 'react';
import type * as weigher from './weigh';

export type Weigher = Remote<typeof weigher>;

/** One worker for the page's life: it remembers what it foretold for a path. */
let worker: Worker | undefined;
let remote: Weigher | undefined;

/** Told when the worker dies: its answers never come then. */
const waiting = new Set<() => void>();

function theWeigher(): Weigher {
  if (worker && remote) return remote;
  worker = new Worker(new URL('./weigh.worker.ts', import.meta.url), { type: 'module' });
  worker.onerror = () => {
    worker?.terminate();
    worker = undefined;
    remote = undefined;
    for (const fail of waiting) fail();
    waiting.clear();
  };
  remote = wrap<typeof weigher>(worker);
  return remote;
}

export type Worked<T> = { readonly result: T } | { readonly failed: true } | undefined;

/**
 * Has something worked out off the page's thread, anew whenever `work` is another; the last result stays meanwhile.
 * @param work undefined where there is nothing to work out
 */
export function useWorked<T>(work: ((weigher: Weigher) => Promise<T>) | undefined): Worked<T> {
  const [worked, setWorked] = useState<Worked<T>>();
  useEffect(() => {
    if (!work) return undefined;
    let current = true;
    const fail = () => {
      if (current) setWorked({ failed: true });
    };
    waiting.add(fail);
    void work(theWeigher())
      .then((result) => {
        if (current) setWorked({ result });
      }, fail)
      .finally(() => waiting.delete(fail));
    return () => {
      current = false;
    };
  }, [work]);
  return worked;
}
