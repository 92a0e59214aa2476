import type { Analysis } from '../analyze.js';
import { EMPTY_INTAKE, type Intake } from '../intake/intake.js';
import type { CaseSystem } from '../intake/case-system.js';
import { ENTRY_KINDS, type Entry, type EntryKind } from '../evidence/entry.js';
import type { HowTaken } from '../evidence/how-taken.js';
import type { FoundCounts } from '../inference/shop-weights.js';
import type { KeyState } from '../terms/key-states.js';
import type { Verdict } from '../terms/verdicts.js';
import { caseProfile, type CaseEvidence } from './from-case.js';
import type { KnownGood } from './known-good.js';
import { ratedByShelf } from './rated-by-shelf.js';
import { isDone, PART } from './repair-record.js';
import type { SystemProfile } from '../vehicle/profile.js';

/** One link of a case's chain, as far as the core reads it: the server's rows and the page's items are both such. */
export interface ChainLink {
  readonly id: string;
  /** 1, 2, 3 … within the case. */
  readonly sequence: number;
  readonly kind: string;
  readonly at: string;
  readonly value: unknown;
  readonly keyState: KeyState | null;
  readonly faultPresent: boolean | null;
  readonly how: HowTaken | null;
  readonly takenAt: string | Date;
}

/** Where a case stands between its opening and its hand-over. */
export type CaseStageName = 'open' | 'decided' | 'closed';

/** The links that void others, by the id of what they void. */
export function voidsOf<L extends ChainLink>(links: readonly L[]): ReadonlyMap<string, L> {
  return new Map(links.filter(({ kind }) => kind === 'void').map((link) => [link.at, link]));
}

/** What stays whatever anybody thinks of it: an intake is saved anew, a verdict reopened, a caution can't be unseen. */
const LASTING: ReadonlySet<string> = new Set([
  ...[
    'void',
    'verdict',
    'intake',
    'caution',
    'system',
    'analysis',
    'reopen',
    'close',
    'comeback',
    'import',
    'taken-out',
    'removal',
  ],
]);

/** Whether a link may be voided by hand. Of a repair only a part that was written down wrongly: a particular is said anew. */
export function isVoidable({ kind, at }: Pick<ChainLink, 'kind' | 'at'>): boolean {
  return kind === 'repair' ? at === PART : !LASTING.has(kind);
}

/** What still counts, oldest first. */
export function standing<L extends ChainLink>(links: readonly L[]): L[] {
  const voids = voidsOf(links);
  return links.filter(({ id }) => !voids.has(id));
}

/** A case's chain, cut where a repair changed the vehicle: what was read before it was read of another one. */
export interface Phases<L extends ChainLink> {
  /** What the present verdict rests on, or will rest on. */
  readonly before: readonly L[];
  /** The verdict that stands; absent while the case is open. */
  readonly verdict?: L;
  /** The repair was said to be finished; absent before. */
  readonly done?: L;
  /** What was read after it; empty before. */
  readonly after: readonly L[];
  /** The verdict whose repair came before all of this and didn't mend it; absent in a case's first round. */
  readonly failed?: L;
}

/**
 * Cuts a chain into what was read before the repair and after it. While a case is open everything since the last repair that
 * changed the vehicle belongs together, the recheck that failed included: it was read of the vehicle as it is now.
 * @param links all of them or those that stand, oldest first
 */
export function phasesOf<L extends ChainLink>(links: readonly L[], stage: CaseStageName): Phases<L> {
  const counted = standing(links);
  const last = (found: (link: L) => boolean, until = counted.length) =>
    counted.slice(0, until).findLastIndex((link) => found(link));
  const isVerdict = ({ kind }: L) => kind === 'verdict';
  const decided = stage === 'open' ? -1 : last(isVerdict);
  const border = last(isChange, decided < 0 ? undefined : decided);
  const failedAt = border < 0 ? -1 : last(isVerdict, border);
  const failed = failedAt < 0 ? {} : { failed: counted[failedAt] };
  if (decided < 0) return { before: counted.slice(border + 1), after: [], ...failed };
  const finished = counted.findIndex((link, i) => i > decided && isDone(link));
  const before = counted.slice(border + 1, finished < 0 ? undefined : finished);
  const verdict = counted[decided];
  if (finished < 0) return { before, verdict, after: [], ...failed };
  return { before, verdict, done: counted[finished], after: counted.slice(finished + 1), ...failed };
}

function isChange(link: ChainLink): boolean {
  return isDone(link) && (link.value as { readonly changed?: boolean }).changed !== false;
}

/** Whether readings may be added: while the case is open, and for the recheck once the repair is done. */
export function takesReadings(links: readonly ChainLink[], stage: CaseStageName): boolean {
  return stage === 'open' || (stage === 'decided' && phasesOf(links, stage).done !== undefined);
}

/** What was read of the vehicle as it is now: after the repair where there was one. */
export function presentLinks<L extends ChainLink>(links: readonly L[], stage: CaseStageName): readonly L[] {
  const { done, before, after } = phasesOf(links, stage);
  return done ? after : before;
}

/** An intake as it was saved last. */
export interface SavedIntake {
  readonly intake: Intake;
  /** Its place in the chain; 0 when nothing was saved yet. */
  readonly sequence: number;
}

/** The intake that holds now; an empty one before any was saved. */
export function newestIntake(links: readonly ChainLink[]): SavedIntake {
  const newest = links.findLast(({ kind }) => kind === 'intake');
  return newest ? { intake: newest.value as Intake, sequence: newest.sequence } : { intake: EMPTY_INTAKE, sequence: 0 };
}

/** The system that a case was given last; absent where it was given none. */
export function systemOf(links: readonly ChainLink[]): CaseSystem | undefined {
  return standing(links).findLast(({ kind }) => kind === 'system')?.value as CaseSystem | undefined;
}

/** The case's path, as its links say it. @param links with those that choose systems, save intakes and void */
export function profileOf(links: readonly ChainLink[]): SystemProfile {
  return caseProfile(newestIntake(links).intake, systemOf(links));
}

/** Links that the reasoning reads. @param links those that stand */
export function entriesOf(links: readonly ChainLink[]): Entry[] {
  return links.flatMap(({ id, kind, at, value, keyState, faultPresent, how, takenAt }): Entry[] =>
    (ENTRY_KINDS as readonly string[]).includes(kind) && keyState
      ? [
          {
            id,
            kind: kind as EntryKind,
            at,
            value: value as Entry['value'],
            keyState,
            faultPresent: faultPresent ?? true,
            takenAt: typeof takenAt === 'string' ? takenAt : takenAt.toISOString(),
            ...how,
          },
        ]
      : [],
  );
}

/** Of a capture's analysis what its evidence is made of. */
export type MeasuredCapture = Pick<Analysis, 'ramp' | 'sequence'> & Partial<Pick<Analysis, 'findings'>>;

/** Everything beside the readings that a case's weights rest on. */
export interface CaseGround {
  readonly complaint: string;
  /** All of the case's links: its intake and its system hold for every phase. */
  readonly links: readonly ChainLink[];
  /** What was measured of a capture; undefined where there is none. */
  readonly measuredOf: (captureId: string) => MeasuredCapture | undefined;
  /** The shop's own closed cases by what was found, where the house counts them. */
  readonly found?: FoundCounts;
  /** The shop's known-goods of the system that this case was given, other cases'; of a shipped path there are none. */
  readonly goods?: readonly KnownGood[];
}

/**
 * A phase of a case as the core reasons on it.
 * @param read the links of that phase
 * @param failed the verdict whose repair came before it
 */
export function evidenceOf(
  { complaint, links, measuredOf, found, goods = [] }: CaseGround,
  { read, failed }: { readonly read: readonly ChainLink[]; readonly failed?: ChainLink },
): CaseEvidence {
  const chosen = systemOf(links);
  const system =
    chosen === undefined || chosen.shipped ? chosen : { ...chosen, profile: ratedByShelf(chosen.profile, goods) };
  // After a repair a reading tells of the vehicle as it is, whatever was said of the fault.
  const rechecked = readAfterRepair(links);
  const present = ({ id, faultPresent }: Pick<ChainLink, 'id' | 'faultPresent'>) =>
    rechecked.has(id) || (faultPresent ?? true);
  const captures = read.flatMap(({ id, kind, keyState, faultPresent }) => {
    const measured = kind === 'capture' ? measuredOf(id) : undefined;
    const ramp = measured?.ramp;
    if (!measured || !ramp) return [];
    // The first version's captures don't say: they were of the prime.
    const moment = { keyState: keyState ?? ('prime' as const), faultPresent: present({ id, faultPresent }) };
    return [{ id, ramp, ...moment, ...(readBetween(measured) && { faultPresent: false, isCaught: true }) }];
  });
  const { intake } = newestIntake(links);
  const entries = entriesOf(read).map((entry) => ({ ...entry, faultPresent: present(entry) }));
  return {
    complaint,
    intake,
    ...(system && { system }),
    entries: [...replaced(failed), ...entries],
    captures,
    ...(found && { found }),
  };
}

/**
 * The draw of a record in which something came and went is measured where nothing did. Where it is a sound one it was read while
 * the fault was away, and speaks against nothing that comes and goes.
 */
function readBetween({ ramp, sequence, findings = [] }: MeasuredCapture): boolean {
  if (ramp?.pattern !== 'even') return false;
  return sequence ? sequence.incidents.length > 0 : findings.some(({ code }) => CAME_AND_WENT.has(code));
}

/** What a clamp alone shows of a pump that falters: its rotor stood, or its current broke off and started anew. */
const CAME_AND_WENT: ReadonlySet<string> = new Set(['stall', 'interrupted']);

/** Ids of what was read between a finished repair and the reopening that followed it, if one did. */
function readAfterRepair(links: readonly ChainLink[]): ReadonlySet<string> {
  const ids = new Set<string>();
  let repaired = false;
  for (const link of links) {
    if (isDone(link)) repaired = true;
    else if (link.kind === 'reopen') repaired = false;
    else if (repaired) ids.add(link.id);
  }
  return ids;
}

/** The vehicle as it is now, as the core reasons on it. */
export function presentEvidence(ground: CaseGround, stage: CaseStageName): CaseEvidence {
  const { failed } = phasesOf(ground.links, stage);
  return evidenceOf(ground, { read: presentLinks(ground.links, stage), ...(failed && { failed }) });
}

/** A pump that was just replaced for this complaint is seldom at fault again, and often wasn't then. */
function replaced(failed: ChainLink | undefined): Entry[] {
  const verdict = (failed?.value as { readonly kind?: Verdict } | undefined)?.kind;
  if (!failed || verdict !== 'replace-pump') return [];
  const takenAt = typeof failed.takenAt === 'string' ? failed.takenAt : failed.takenAt.toISOString();
  const answer = {
    kind: 'check',
    at: 'pump_replaced',
    value: 'for-this',
    keyState: 'off',
    faultPresent: true,
  } as const;
  return [{ id: failed.id, ...answer, takenAt }];
}
