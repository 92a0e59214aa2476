import type { CaseEvidence, Diagnosis, HouseRules } from '@jarro/core';
import { wrap, type Remote } from 'comlink';
import { useEffect, useState } from 'react';
import type { weigh } from '../../workers/weigh';

interface Weigher {
  weigh: typeof weigh;
}

/** One worker for the page's life: it remembers what it foretold for a path. */
let worker: Worker | undefined;
let weigher: Remote<Weigher> | undefined;

function theWeigher(onCrash: () => void): Remote<Weigher> {
  if (!worker || !weigher) {
    worker = new Worker(new URL('../../workers/weigh.worker.ts', import.meta.url), { type: 'module' });
    weigher = wrap<Weigher>(worker);
  }
  worker.onerror = () => {
    worker?.terminate();
    worker = undefined;
    weigher = undefined;
    onCrash();
  };
  return weigher;
}

export type Weighed = { readonly diagnosis: Diagnosis } | { readonly failed: true } | undefined;

/** The weights of a case, worked out off the page's thread anew with every change; the last ones stay meanwhile. */
export function useDiagnosis(evidence: CaseEvidence, rules: HouseRules): Weighed {
  const [weighed, setWeighed] = useState<Weighed>();
  useEffect(() => {
    let current = true;
    const fail = () => {
      if (current) setWeighed({ failed: true });
    };
    theWeigher(fail)
      .weigh(evidence, rules)
      .then((diagnosis) => {
        if (current) setWeighed({ diagnosis });
      }, fail);
    return () => {
      current = false;
    };
  }, [evidence, rules]);
  return weighed;
}
