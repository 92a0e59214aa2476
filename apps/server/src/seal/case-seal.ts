import type { Seal } from '@jarro/api-types';
import type { EntityManager } from 'typeorm';
import { brokenLinks, FIRST_HASH, type Head } from '../database/evidence-chain.js';
import { Case, Vehicle } from '../cases/cases.entities.js';
import { CaseSeal } from './seal.entities.js';
import { EvidenceRecord } from '../evidence/evidence.entities.js';
import type { CaseFacts } from '../database/case-facts.js';
import { changesOf, factsOf } from './case-facts.js';
import type { SealKey } from './seal-key.js';

/** Where a case's chain ends, as the database shows it. */
export async function headOf(manager: EntityManager, caseId: string): Promise<Head | undefined> {
  const [last] = await manager.getRepository(EvidenceRecord).find({
    where: { caseId },
    order: { sequence: 'DESC' },
    take: 1,
    select: { sequence: true, hash: true },
  });
  return last;
}

async function factsNow(manager: EntityManager, caseId: string, head: Head | undefined, since: string) {
  const item = await manager.getRepository(Case).findOneByOrFail({ id: caseId });
  const vehicle = await manager.getRepository(Vehicle).findOneByOrFail({ id: item.vehicleId });
  return factsOf(item, vehicle, head, since);
}

/** Signs a case as it stands; only whoever holds its lock may. */
export async function signCase(manager: EntityManager, key: SealKey, caseId: string, head: Head | undefined) {
  const seals = manager.getRepository(CaseSeal);
  const before = await seals.findOneBy({ caseId });
  const facts = await factsNow(manager, caseId, head, before?.facts.since ?? new Date().toISOString());
  await seals.upsert({ caseId, facts, keyId: key.id, signature: key.sign(textOf(facts)) }, ['caseId']);
}

/** The chain of a case and its signed end. @param links all of them, oldest first */
export async function checkSeal(
  manager: EntityManager,
  key: SealKey,
  caseId: string,
  links: readonly EvidenceRecord[],
): Promise<Seal> {
  const last = links.at(-1);
  const broken = brokenLinks(links);
  const { problems: ofEnd, since } = await endProblems(manager, key, caseId, last);
  const ofChain =
    broken.length > 0 ? [`Its entries no longer follow from one another, from number ${broken[0]} on.`] : [];
  const problems = [...ofChain, ...ofEnd];
  return { entries: links.length, head: last?.hash ?? FIRST_HASH, intact: problems.length === 0, problems, since };
}

/** What is wrong with a case's signed end, in words; nothing when all of it holds. */
async function endProblems(
  manager: EntityManager,
  key: SealKey,
  caseId: string,
  head: Head | undefined,
): Promise<{ readonly problems: readonly string[]; readonly since: string | null }> {
  const seal = await manager.getRepository(CaseSeal).findOneBy({ caseId });
  if (!seal) return { problems: ['The signature of this case is missing.'], since: null };
  const { facts, keyId, signature } = seal;
  const { since } = facts;
  if (keyId !== key.id) {
    const problem =
      'This case was signed with another key than the one this server has. Put the right key back, then check again.';
    return { problems: [problem], since };
  }
  if (!key.verify(textOf(facts), signature)) return { problems: ['The signature of this case was changed.'], since };
  return { problems: changesOf(facts, await factsNow(manager, caseId, head, since)), since };
}

/** The same text whatever order a database hands the facts back in. */
function textOf(facts: CaseFacts): string {
  return JSON.stringify(Object.entries(facts).sort(([a], [b]) => (a < b ? -1 : 1)));
}
