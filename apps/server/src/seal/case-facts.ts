import type { CaseFacts } from '../database/case-facts.js';
import type { Head } from '../database/evidence-chain.js';
import { FIRST_HASH } from '../database/evidence-chain.js';
import type { Case, Vehicle } from '../cases/cases.entities.js';

export function factsOf(item: Case, vehicle: Vehicle, head: Head | undefined, since: string): CaseFacts {
  const { id, shopId, number, openedBy, openedAt, complaint, stage } = item;
  const { model, year, engine, plate } = vehicle;
  return {
    caseId: id,
    shopId,
    number,
    openedBy,
    openedAt: openedAt.toISOString(),
    complaint,
    stage,
    model,
    year,
    engine,
    plate,
    entries: head?.sequence ?? 0,
    head: head?.hash ?? FIRST_HASH,
    since,
  };
}

const NAMES: Readonly<Partial<Record<keyof CaseFacts, string>>> = {
  shopId: 'The shop it belongs to',
  number: 'Its number',
  openedBy: 'Who opened it',
  openedAt: 'When it was opened',
  complaint: 'The complaint',
  stage: 'Its stage',
  model: 'The vehicle’s model',
  year: 'The vehicle’s year',
  engine: 'The vehicle’s engine',
  plate: 'The vehicle’s plate',
};

/** What differs between the facts that were signed and those that the database shows now, in words. */
export function changesOf(signed: CaseFacts, now: CaseFacts): string[] {
  const changed = (Object.keys(NAMES) as (keyof CaseFacts)[])
    .filter((key) => signed[key] !== now[key])
    .map((key) => `${NAMES[key]} was changed: it was “${signed[key] ?? ''}” and is “${now[key] ?? ''}” now.`);
  const missing = signed.entries - now.entries;
  if (missing > 0) changed.push(`${missing === 1 ? 'One entry is' : `${missing} entries are`} missing from its end.`);
  else if (missing < 0)
    changed.push(`${-missing === 1 ? 'One entry was' : `${-missing} entries were`} added to its end.`);
  else if (signed.head !== now.head) changed.push('Its last entry was replaced.');
  return changed;
}
