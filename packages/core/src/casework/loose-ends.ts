import { NOT_POSSIBLE } from '../evidence/entry.js';
import { InputError } from '../errors.js';
import { refuseOthers } from '../evidence/values.js';
import type { Tampering } from '../intake/intake.js';
import type { SystemProfile } from '../vehicle/profile.js';
import { newestIntake, profileOf, standing, type ChainLink } from './chain.js';

/** What is sometimes left in a vehicle for a while and has to come out again. */
export const LEFT_IN = {
  bypass: 'Bypass or bridge',
  lead: 'Test lead or adapter',
  'wrong-fuse': 'Fuse of another size',
  'loaned-part': 'Loaned test part',
  pierced: 'Pierced wire',
  other: 'Something else',
} as const;
export type LeftIn = keyof typeof LEFT_IN;

/** What a link of kind 'left-in' holds. */
export interface LeftInValue {
  readonly what: string;
}

/** What a link of kind 'taken-out' holds; its `at` names the loose end. */
export interface TakenOutValue {
  readonly how: string;
}

/** Something that must not leave the shop in this vehicle. */
export interface LooseEnd {
  readonly id: string;
  /** "The relay was bridged for a test." */
  readonly text: string;
  /** How it is put right: "Bridge is out, relay is in." */
  readonly ends: string;
  /** The link that brought it up. */
  readonly since: ChainLink;
  /** The link that says it was put right; absent while it is open. */
  readonly closed?: ChainLink;
}

/** What brings a loose end up, by itself: tests that help a circuit, pierced wires, and what was found tampered with. */
export function looseEnds(links: readonly ChainLink[]): LooseEnd[] {
  const counted = standing(links);
  const { stations } = profileOf(counted);
  const ends = new Map<string, Omit<LooseEnd, 'closed'>>();
  for (const link of counted) {
    for (const end of [...raisedBy(link, stations), ...ofIntake(link, counted)])
      ends.set(end.id, { ...end, since: link });
  }
  return [...ends.values()].map((end) => {
    const closed = counted.find(
      ({ kind, at, sequence }) => kind === 'taken-out' && at === end.id && sequence > end.since.sequence,
    );
    return closed ? { ...end, closed } : end;
  });
}

type Raised = Pick<LooseEnd, 'id' | 'text' | 'ends'>;

const BRIDGED = 'bridged';

function raisedBy(link: ChainLink, stations: SystemProfile['stations']): Raised[] {
  const { id, kind, at, value, how } = link;
  if (kind === 'left-in') {
    const { what } = value as LeftInValue;
    return [{ id, text: `${LEFT_IN[at as LeftIn]}: ${what}`, ends: at === 'pierced' ? 'It is sealed.' : 'It is out.' }];
  }
  if (value === NOT_POSSIBLE) return [];
  const place = stations.find((station) => station.id === at)?.name ?? at;
  const helped = how?.helped;
  const found: Raised[] = [];
  if (kind === 'bridge' || helped === 'bridged') {
    const bridged = kind === 'bridge' ? place : 'The relay';
    found.push({
      id: kind === 'bridge' ? `${BRIDGED}:${at}` : BRIDGED,
      text: `${bridged} was bridged for a test.`,
      ends: 'The bridge is out.',
    });
  }
  if (kind === 'direct-feed' || helped === 'fed') {
    found.push({
      id: 'fed',
      text: 'The pump was fed directly for a test.',
      ends: 'The leads are off, the plug is back.',
    });
  }
  if (kind === 'module-bypass' || helped === 'module-bypassed') {
    found.push({
      id: 'module-bypassed',
      text: 'The driver module was passed by for a test.',
      ends: 'The module is back in its circuit.',
    });
  }
  if (kind === 'swap') {
    found.push({
      id: `swapped:${at}`,
      text: `A known-good part stood in for ${lower(place)}.`,
      ends: 'The borrowed part is back where it belongs.',
    });
  }
  if (kind === 'visual' && value === 'wrong-part') {
    found.push({
      id: `wrong:${at}`,
      text: `${place}: a part that doesn’t belong there was found.`,
      ends: 'The right part is in.',
    });
  }
  if (how?.pierced) {
    found.push({
      id: `pierced:${kind}:${at}`,
      text: `${place}: the insulation was pierced.`,
      ends: 'The spot is sealed.',
    });
  }
  return found;
}

const FOUND_SO: Readonly<Record<Tampering, string>> = {
  'bypassed-relay': 'It came in with its relay bypassed.',
  'wrong-fuse': 'It came in with a wrong fuse.',
  'added-wiring': 'It came in with wiring added.',
  'wrong-relay': 'It came in with a wrong relay.',
  'pierced-wires': 'It came in with wires pierced.',
};

/** The newest intake only: what an earlier version said and a later one took back holds no longer. */
function ofIntake(link: ChainLink, links: readonly ChainLink[]): Raised[] {
  if (link.kind !== 'intake' || link.sequence !== newestIntake(links).sequence) return [];
  return newestIntake(links).intake.tampering.map((what) => ({
    id: `intake:${what}`,
    text: FOUND_SO[what],
    ends: 'It was put right, or the customer was told in writing.',
  }));
}

function lower(name: string): string {
  return name.charAt(0).toLowerCase() + name.slice(1);
}

/** @throws InputError with what is wrong and what to do */
export function checkLeftIn(at: string, value: unknown): LeftInValue {
  if (!Object.hasOwn(LEFT_IN, at)) throw new InputError(`Say one of: ${Object.keys(LEFT_IN).join(', ')}.`);
  return { what: sentence(value, 'what', 'Say what was left in, and where.') };
}

/**
 * @param links all of the case's
 * @throws InputError for what isn't open
 */
export function checkTakenOut(at: string, value: unknown, links: readonly ChainLink[]): TakenOutValue {
  if (!looseEnds(links).some(({ id, closed }) => id === at && !closed)) {
    throw new InputError('That was put right already, or was never left in. Reload the page.');
  }
  return { how: sentence(value, 'how', 'Say how it was put right.') };
}

function sentence(value: unknown, key: string, message: string): string {
  refuseOthers(value, [key]);
  const text = ((value ?? {}) as Readonly<Record<string, unknown>>)[key];
  if (typeof text !== 'string' || text.trim().length < 3 || text.length > 300) throw new InputError(message);
  return text.trim();
}
