import type { EntryKind } from '../evidence/entry.js';
import { EVIDENCE } from '../evidence/registry.js';
import { stageGuide, type Caution } from '../terms/stage-guides.js';

/** Cautions that are acknowledged in a case before this may be kept in it. */
export function cautionsBefore(kind: EntryKind, at: string): readonly Caution[] {
  const stage = EVIDENCE[kind].danger(at);
  return stage ? stageGuide(stage).cautions.filter(({ acknowledge }) => acknowledge) : [];
}
