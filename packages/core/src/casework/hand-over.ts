import { NOT_POSSIBLE } from '../evidence/entry.js';
import { describeEvidence } from '../evidence/describe.js';
import { RECHECK_CHECKS } from '../evidence/recheck-checks.js';
import { KEY_STATE_NAMES } from '../terms/words.js';
import type { SoakRecord } from '../evidence/records.js';
import { newestEntry } from '../evidence/entry.js';
import { entriesOf, phasesOf, profileOf, type CaseStageName, type ChainLink } from './chain.js';
import { looseEnds } from './loose-ends.js';
import type { Recheck, Repeat } from './recheck.js';
import { kindOf } from './repair-state.js';
import { soakWorth, type SoakWorth } from './soak.js';

/** One thing that must stand before the vehicle leaves. */
export interface Need {
  readonly text: string;
  /** `fails` is worse than open: the vehicle isn't repaired, and the case goes back to diagnosis. */
  readonly state: 'met' | 'open' | 'fails';
}

/** What must be met before a vehicle is handed back. */
export interface HandOver {
  readonly needs: readonly Need[];
  /** Everything is met, and the case may be closed. */
  readonly ready: boolean;
  /** Something fails: it can only be reopened. */
  readonly fails: boolean;
}

/** What must stand before a vehicle is handed back, and what of it does. */
export function handOver(links: readonly ChainLink[], stage: CaseStageName, recheck: Recheck | undefined): HandOver {
  const phases = phasesOf(links, stage);
  const { verdict, done } = phases;
  const after = entriesOf(phases.after);
  const kind = verdict && kindOf(verdict);
  const needs: Need[] = [
    need(verdict !== undefined, 'A verdict stands.'),
    need(done !== undefined, 'The repair is written down as finished.'),
    ...looseEnds(links).map(({ text, ends, closed }) => need(closed !== undefined, `${text} ${ends}`)),
    ...(recheck?.repeats ?? []).map((repeat) => repeated(repeat, links)),
    ...(recheck && recheck.repeats.length === 0 && kind !== 'no-fault-found'
      ? [
          need(
            after.length > 0 || phases.after.some((link) => link.kind === 'capture'),
            'Something was measured after the repair.',
          ),
        ]
      : []),
    ...RECHECK_CHECKS.map((check): Need => {
      const answer = newestEntry(after, 'check', check.at)?.value;
      if (answer === undefined) return need(false, `${check.title}: ${check.ask}`);
      const label = check.answers.find(({ value }) => value === answer)?.label ?? 'can’t be done here';
      const fails = typeof answer === 'string' && check.failsWith.includes(answer);
      return { text: `${check.title}: ${lowerFirst(label)}.`, state: fails ? 'fails' : 'met' };
    }),
    ...soaked(caseSoak(links, stage), newestEntry(after, 'soak', 'vehicle')?.value === NOT_POSSIBLE),
  ];
  const fails = needs.some(({ state }) => state === 'fails');
  return { needs, fails, ready: needs.every(({ state }) => state === 'met') };
}

function lowerFirst(text: string): string {
  return text.charAt(0).toLowerCase() + text.slice(1);
}

function need(met: boolean, text: string): Need {
  return { text, state: met ? 'met' : 'open' };
}

const RESULTS = {
  passes: 'passes now',
  fails: 'still fails',
  unclear: 'is not clear yet; take it once more',
  'not-possible': 'can’t be repeated here',
  open: 'is still to be repeated',
} as const satisfies Record<Repeat['result'], string>;

function repeated({ before, result }: Repeat, links: readonly ChainLink[]): Need {
  const state = result === 'fails' ? 'fails' : result === 'passes' || result === 'not-possible' ? 'met' : 'open';
  return { text: `${testName(before, links)} ${RESULTS[result]}.`, state };
}

/** A test by its place and moment: "Relay 87, prime". */
export function testName(id: string, links: readonly ChainLink[]): string {
  const link = links.find((one) => one.id === id);
  if (!link) return 'A test';
  const moment = link.keyState ? `, ${KEY_STATE_NAMES[link.keyState].toLowerCase()}` : '';
  if (link.kind === 'capture') return `The capture of the pump current${moment}`;
  const [entry] = entriesOf([link]);
  return entry ? `${describeEvidence(entry, profileOf(links), 'kPa').title}${moment}` : 'A test';
}

/** Drops that were counted before the repair, and how long it kept quiet since. */
export function caseSoak(links: readonly ChainLink[], stage: CaseStageName): SoakWorth {
  const { before, after } = phasesOf(links, stage);
  return soakWorth(soaksOf(before), soaksOf(after));
}

function soaksOf(links: readonly ChainLink[]): SoakRecord[] {
  return entriesOf(links).flatMap(({ kind, value }) =>
    kind === 'soak' && value !== NOT_POSSIBLE ? [value as SoakRecord] : [],
  );
}

function soaked({ before, after, enough, enoughMinutes = 0, quietByChance }: SoakWorth, impossible: boolean): Need[] {
  if (after.drops > 0) return [{ text: 'The fault came back during the soak.', state: 'fails' }];
  if (before.drops === 0) return [];
  if (impossible) return [need(true, 'A soak can’t be done here.')];
  const left = Math.ceil(enoughMinutes - after.minutes);
  if (!enough)
    return [
      need(
        false,
        `It came ${before.drops} times in ${before.minutes} minutes: soak it ${left} minutes more without a drop.`,
      ),
    ];
  const chance = Math.max(1, Math.round(100 * (quietByChance ?? 0)));
  return [
    need(
      true,
      `It kept quiet for ${after.minutes} minutes; with the old fault that would be chance in ${chance} of 100 cases.`,
    ),
  ];
}
