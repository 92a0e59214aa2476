import type { Verdict } from '../terms/verdicts.js';
import { phasesOf, standing, type CaseStageName, type ChainLink } from './chain.js';
import { repairPlan, type RepairPlan } from '../verdict/repair-plan.js';
import type { RepairStep } from '../verdict/repair-steps.js';
import { DONE, isDone, PART, type FittedPart, type Particular, type RepairDone } from './repair-record.js';

/** How far the repair that the present verdict asks for has come. */
export interface RepairState {
  readonly plan: RepairPlan;
  /** Particulars by the id of their step; absent while nobody said anything of it. */
  readonly said: ReadonlyMap<string, Particular>;
  /** What nobody said anything of yet. */
  readonly open: readonly RepairStep[];
  readonly parts: readonly FittedPart[];
  /** Absent until the repair is finished. */
  readonly done?: RepairDone;
}

/** @returns undefined as long as no verdict stands */
export function repairState(links: readonly ChainLink[], stage: CaseStageName): RepairState | undefined {
  const { verdict } = phasesOf(links, stage);
  if (!verdict) return undefined;
  const plan = repairPlan(kindOf(verdict));
  const since = standing(links).filter(({ kind, sequence }) => kind === 'repair' && sequence > verdict.sequence);
  const said = new Map(
    since.filter(({ at }) => at !== DONE && at !== PART).map(({ at, value }) => [at, value as Particular]),
  );
  const done = since.find(isDone);
  return {
    plan,
    said,
    open: plan.steps.filter(({ id }) => !said.has(id)),
    parts: since.filter(({ at }) => at === PART).map(({ value }) => value as FittedPart),
    ...(done && { done: done.value as RepairDone }),
  };
}

/** The first version's one word for every fault before the pump was a repair of the wiring. */
export function kindOf({ value }: Pick<ChainLink, 'value'>): Verdict {
  const { kind } = value as { readonly kind: Verdict | 'repair-supply' };
  return kind === 'repair-supply' ? 'repair-feed-wiring' : kind;
}
