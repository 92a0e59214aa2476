import type { Rung } from '@jarro/core';
import { Check, Minus, Pause, TriangleAlert } from 'lucide-react';
import type { Bench } from '../case/bench';
import { isRechecked, verdictsOf } from '../case/evidence';

export interface Standing {
  readonly mark: typeof Check;
  readonly word: string;
  readonly tone: string;
}

const OF_RUNGS: Readonly<Record<Rung['standing'], Standing>> = {
  cleared: { mark: Check, word: 'cleared', tone: 'text-mineral' },
  suspect: { mark: TriangleAlert, word: 'suspect', tone: 'text-rust' },
  unknown: { mark: Minus, word: 'not read', tone: 'text-soft' },
};

function ofPump({ item, weighed }: Bench): Standing {
  const verdict = item.stage === 'open' ? undefined : verdictsOf(item).at(-1)?.value.kind;
  if (isRechecked(item)) {
    return verdict === 'replace-pump'
      ? { mark: Check, word: 'replaced', tone: 'text-mineral' }
      : { mark: Minus, word: 'not condemned', tone: 'text-soft' };
  }
  if (verdict === 'replace-pump') return { mark: TriangleAlert, word: 'condemned', tone: 'text-rust' };
  if (verdict === 'no-fault-found') return { mark: Check, word: 'cleared', tone: 'text-mineral' };
  const allowed = weighed && 'diagnosis' in weighed && weighed.diagnosis.gate['replace-pump'].allowed;
  return allowed
    ? { mark: TriangleAlert, word: 'proven bad', tone: 'text-rust' }
    : { mark: Pause, word: 'not proven', tone: 'text-ochre' };
}

/** How a station of the path stands, with its mark and its word: never by colour alone. */
export function standingOf({ side, standing, volts }: Rung, bench: Bench): Standing {
  if (side === 'pump') return ofPump(bench);
  const own = OF_RUNGS[standing];
  return standing === 'unknown' && volts !== undefined ? { ...own, word: 'read' } : own;
}
