import { NOT_POSSIBLE } from '../evidence/entry.js';
import type { CaptureResult } from '../evidence/records.js';
import type { Reading } from '../evidence/reading.js';
import type { Question } from '../inference/question.js';
import { LEAST_LOAD_A } from '../limits/limits.js';
import type { KeyState } from '../terms/key-states.js';
import type { StationKind } from '../vehicle/profile.js';
import { question, type Charge } from './charge.js';
import type { Fact, Facts } from './facts.js';
import { usualState, volts } from './path-proofs.js';
import { met, missing, type Proof } from './proof.js';

/** A joint or wire is convicted by the volts on both its sides, by what was seen of it, or by a bridge across it. */
export function jointProofs({ suspect, facts }: Charge): readonly Proof[] {
  const { stations } = facts.vehicle.profile;
  const place = stations.findIndex(({ id }) => id === suspect.station);
  const { id, name } = stations[place];
  const state = facts.states()[0] ?? usualState(facts);
  if (suspect.id.endsWith('-short')) {
    const seen = facts.newest('visual', id) ?? facts.newest('resistance', id);
    const blows = facts.newest('new-fuse');
    return [
      blows?.value === 'blows'
        ? met('A new fuse blows at once.', [blows.id])
        : missing('Fit a new fuse of the right size once: it blows at once on a short.', newFuse(facts)),
      seen
        ? met(`${name} was looked at or measured to ground.`, [seen.id])
        : missing(`Look along ${name}, or measure it to ground with both ends off.`, [question('visual', id, 'off')]),
    ];
  }
  const looked = facts.newest('visual', id);
  if (typeof looked?.value === 'string' && !TELLS_NOTHING.includes(looked.value)) {
    return [met(`${name} was seen ${looked.value}.`, [looked.id])];
  }
  const bridged = facts.newest('bridge', id);
  if (bridged?.value === 'runs') return [met(`With ${name} bridged it runs.`, [bridged.id])];
  const ohms = facts.newest('resistance', id);
  if (ohms?.value === 'wandering') return [met(`${name} wanders on the ohmmeter.`, [ohms.id])];
  const sides = bracket(facts, place);
  if (sides) {
    const [a, b] = sides;
    return [
      ...(place < facts.vehicle.pumpAt ? confirmedLow(facts, place, a, b) : []),
      met(
        `Both sides of ${name} were read: ${a.value.toFixed(2)} and ${b.value.toFixed(2)} V.`,
        [a.id, b.id].filter(Boolean),
      ),
    ];
  }
  const asks = place > facts.vehicle.pumpAt ? [id, stations[place + 1]?.id] : [stations[place - 1].id, id];
  return [
    missing(
      `Read both sides of ${name} under load, in one key state.`,
      asks.flatMap((at) => (at === undefined ? [] : [volts(at, state)])),
    ),
  ];
}

/** Of what is lost, how much less another low reading may have lost; and volts that are none. */
const LIKE_LOW = 0.35;
const NONE_V = 1;

/**
 * A low reading on the feed is more often a pin that doesn't touch than a bad wire (common practice, no published source): it
 * wants a repeat, another low one further on, or a circuit that is dead as it says.
 */
export function confirmedLow(facts: Facts, place: number, high: Fact, low: Fact): Proof[] {
  const { stations } = facts.vehicle.profile;
  const further = new Set(stations.slice(place, facts.vehicle.pumpAt + 1).map(({ id }) => id));
  const again = facts.readings.filter(({ id, kind, at, value, reference, unloaded }) => {
    if (id === low.id || !further.has(at) || unloaded) return false;
    if (kind === 'test-light') return value !== 'bright' && reference !== 'battery+';
    if (kind !== 'voltage' || typeof value !== 'number' || reference === 'battery+') return false;
    return value - low.value < LIKE_LOW * (high.value - low.value);
  });
  const dead = low.value < NONE_V && facts.readings.some(isDead);
  const text = 'A low feed is read again, or further on, before a wire is blamed: a pin may not have touched.';
  return again.length > 0 || dead
    ? [
        met(
          'It reads low again, or the circuit is dead as it says.',
          again.map(({ id }) => id),
        ),
      ]
    : [missing(text, [], [low.id], low.id)];
}

function isDead({ kind, at, value }: Reading): boolean {
  if (kind === 'current') return typeof value === 'number' && value < LEAST_LOAD_A;
  if (kind === 'capture') return (value as CaptureResult).pattern === 'no-current';
  return (kind === 'heard' || at === 'prime_heard') && value === 'silent';
}

/**
 * Volts on both sides of a station in one key state, with nothing between them that another repair would mend: the joints
 * around it may be of its own kind.
 */
function bracket(facts: Facts, place: number): readonly [Fact, Fact] | undefined {
  const { profile, pumpAt } = facts.vehicle;
  const { stations } = profile;
  const alike = (a: number) => isWiring(stations[a]?.kind) && isWiring(stations[place].kind);
  for (const state of facts.states()) {
    const at = (i: number): Fact | undefined => (i === 0 ? facts.battery(state) : facts.volts(stations[i].id, state));
    if (place > pumpAt) {
      let from = place;
      while (from > pumpAt + 1 && !at(from) && alike(from - 1)) from--;
      let to = place + 1;
      while (to < stations.length && !at(to) && alike(to)) to++;
      const a = at(from);
      const b = to >= stations.length ? BATTERY_MINUS : at(to);
      if (a && b) return [a, b];
    } else {
      let from = place - 1;
      while (from > 0 && !at(from) && alike(from)) from--;
      let to = place;
      // The pump's own feed pin is the pump side of the last station before it.
      while (to < pumpAt && !at(to) && (alike(to + 1) || to + 1 === pumpAt)) to++;
      const [a, b] = [at(from), at(to)];
      if (a && b) return [a, b];
    }
  }
  return undefined;
}

const BATTERY_MINUS: Fact = { value: 0, id: '' };

function isWiring(kind: StationKind | undefined): boolean {
  return kind === 'wire' || kind === 'connector' || kind === 'splice' || kind === 'ground';
}

/** Looks that condemn nothing: rust on the surface is everywhere. */
const TELLS_NOTHING: readonly string[] = ['clean', 'wrong-part', 'corroded', NOT_POSSIBLE];

/** What to do to learn why a fuse blew. */
export function newFuse({ vehicle: { profile } }: Facts): Question[] {
  const fuse = profile.stations.find(({ kind }) => kind === 'fuse' || kind === 'fusible-link');
  return fuse ? [question('new-fuse', fuse.id, usualStateOf(profile.crankOnly))] : [];
}

const usualStateOf = (crankOnly: boolean): KeyState => (crankOnly ? 'cranking' : 'prime');
