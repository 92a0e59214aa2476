import type { Diagnosis, HouseLimits } from '@jarro/core';
import { wrap, type Remote } from 'comlink';
import { useEffect, useState } from 'react';
import type { CaseDetail } from '../../app/types';
import { entriesOf, standingCaptures } from '../case/evidence';
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
export function useDiagnosis(item: CaseDetail, limits: HouseLimits): Weighed {
  const [weighed, setWeighed] = useState<Weighed>();
  const { supplyDropV, groundDropV } = limits;
  useEffect(() => {
    let current = true;
    const fail = () => {
      if (current) setWeighed({ failed: true });
    };
    const captures = standingCaptures(item).flatMap(({ id, analysis }) =>
      analysis?.ramp ? [{ id, ramp: analysis.ramp }] : [],
    );
    const { sequence: _, ...intake } = item.intake;
    theWeigher(fail)
      .weigh({ intake, entries: entriesOf(item), captures, limits: { supplyDropV, groundDropV } })
      .then((diagnosis) => {
        if (current) setWeighed({ diagnosis });
      }, fail);
    return () => {
      current = false;
    };
  }, [item, supplyDropV, groundDropV]);
  return weighed;
}
