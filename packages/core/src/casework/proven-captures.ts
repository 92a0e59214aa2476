import { phasesOf, type CaseStageName, type ChainLink } from './chain.js';
import { kindOf } from './repair-state.js';

/** Links of captures that a closed case proved good: those of its recheck, and all of a pump that was cleared. */
export function provenCaptures<L extends ChainLink>(links: readonly L[], stage: CaseStageName): L[] {
  if (stage !== 'closed') return [];
  const { verdict, before, after } = phasesOf(links, stage);
  const cleared = verdict !== undefined && kindOf(verdict) === 'no-fault-found';
  return [...(cleared ? before : []), ...after].filter(({ kind }) => kind === 'capture');
}
