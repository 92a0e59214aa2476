import { isBenchKind } from '../evidence/bench-answers.js';
import type { EntryKind } from '../evidence/entry.js';
import { stageGuide, type Caution } from './stages.js';
import type { Stage } from '../terms/stages.js';

/** First checks whose doing can hurt someone; the others only look or listen. */
const RISKY_CHECKS: ReadonlySet<string> = new Set([
  'cutoff_button',
  'restraint_event',
  'spark',
  'spray_mild',
  'spray_volatile',
]);
const GAUGE_CHECKS: ReadonlySet<string> = new Set(['gauge_bled', 'hose_fuel']);
/** Read at the engine, away from fuel and pump circuit. */
const HARMLESS: ReadonlySet<string> = new Set(['manifold_vacuum', 'injector_on_time', 'injector_kick']);

/** The stage whose danger somebody must have faced to come by this entry; undefined when there is none. */
function dangerOf(kind: EntryKind, at: string): Stage | undefined {
  if (HARMLESS.has(at)) return undefined;
  if (isBenchKind(kind)) return 'power-path';
  switch (kind) {
    case 'check':
      return RISKY_CHECKS.has(at) ? 'first-checks' : GAUGE_CHECKS.has(at) ? 'pressure' : undefined;
    case 'pressure':
    case 'timing':
    case 'hold':
    case 'volume':
      return 'pressure';
    case 'voltage':
    case 'current':
    case 'resistance':
    case 'duty':
      return 'power-path';
    case 'battery':
    case 'scan':
      return undefined;
  }
}

/** Cautions that are acknowledged in a case before this may be kept in it. */
export function cautionsBefore(kind: EntryKind, at: string): readonly Caution[] {
  const stage = dangerOf(kind, at);
  return stage ? stageGuide(stage).cautions.filter(({ acknowledge }) => acknowledge) : [];
}
