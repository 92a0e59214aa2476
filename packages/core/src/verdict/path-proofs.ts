import type { KeyState } from '../terms/key-states.js';
import type { Question } from '../inference/question.js';
import { DIODE_V } from '../physics/network.js';
import { statedOhm } from '../physics/vehicle.js';
import type { HouseRules } from '../rules/house-rules.js';
import { LEAST_LOAD_A } from '../limits/limits.js';
import { judgeDrop } from './drop.js';
import type { Fact, Facts } from './facts.js';
import { met, missing, type Proof } from './proof.js';

/** The key state in which a path is proven when nothing was read yet. */
export function usualState({ vehicle: { profile } }: Facts): KeyState {
  return profile.crankOnly ? 'cranking' : 'prime';
}

export const volts = (at: string, keyState: KeyState): Question => ({
  kind: 'voltage',
  at,
  keyState,
  reference: 'battery-',
});

/**
 * Feed and ground of the pump proven under load: by volts from the battery's posts with the current known, by a lamp that
 * each side lights, or by a pump that stays dead when it is fed and grounded directly.
 */
export function pathProofs(facts: Facts, rules: HouseRules): readonly Proof[] {
  const pump = facts.vehicle.profile.stations[facts.vehicle.pumpAt].id;
  const fed = facts.newest('direct-feed', pump);
  if (fed?.value === 'dead')
    return [met('Fed and grounded directly it stays dead: nothing before or behind it is to blame.', [fed.id])];
  return [facts.vehicle.moduleAt >= 0 ? drivenFeed(facts, rules) : feed(facts, rules), ground(facts, rules)];
}

/** What people call a station. */
function nameOf({ vehicle: { profile } }: Facts, at: string): string {
  return profile.stations.find(({ id }) => id === at)?.name ?? at;
}

const two = (value: number) => value.toFixed(2);

/** One proof out of the key states that something was read in: the first that is met, else the first that was judged. */
function inAnyState(facts: Facts, prove: (state: KeyState) => Proof | undefined, otherwise: Proof): Proof {
  const tried = facts
    .states()
    .map(prove)
    .filter((proof) => proof !== undefined);
  return tried.find((proof) => proof.met) ?? tried[0] ?? otherwise;
}

function supplyDrop(
  facts: Facts,
  rules: HouseRules,
  at: string,
  state: KeyState,
  currentA: number,
  read: Fact,
  name: string,
): Proof {
  const battery = facts.battery(state);
  const first = facts.vehicle.profile.stations[0].id;
  if (!battery)
    return missing(`Read the battery itself, ${state}: a drop is taken from what it really has.`, [
      volts(first, state),
    ]);
  const dropV = battery.value - read.value;
  const { profile } = facts.vehicle;
  const end = profile.stations.findIndex(({ id }) => id === at);
  const { within, allowedV } = judgeDrop({
    dropV,
    currentA,
    limitV: rules.supplyDropV,
    ratedA: profile.pump.amperes,
    statedOhm: statedOhm(facts.vehicle, 1, end === facts.vehicle.pumpAt ? end : end + 1),
  });
  const from = [battery.id, read.id];
  const text = `${two(dropV)} V of ${two(allowedV)} V allowed`;
  if (dropV < -ABOVE_V)
    return missing(
      `${nameOf(facts, at)} reads above the battery: repeat both from the battery’s posts.`,
      [volts(first, state), volts(at, state)],
      from,
    );
  return within
    ? met(`${name} proven: ${text}.`, from)
    : missing(`${name} loses ${text}. Find that first; the pump is not the suspect.`, [], from);
}

/** A feed can't stand above its battery by more than two meters differ. */
const ABOVE_V = 0.15;

function feed(facts: Facts, rules: HouseRules): Proof {
  const { stations } = facts.vehicle.profile;
  const { pumpAt } = facts.vehicle;
  const pins = [stations[pumpAt].id, stations[pumpAt - 1].id];
  const lamp = lampLit(facts, pins, false);
  if (lamp) return met('Feed proven: it lights a lamp of a few watts bright.', [lamp]);
  const state = facts.states()[0] ?? usualState(facts);
  const none = missing(
    `Prove the feed at ${nameOf(facts, pins[0])} under load: its volts from the battery’s post with current flowing, or a lamp of a few watts lit bright.`,
    [
      volts(pins[0], state),
      { kind: 'current', at: pins[0], keyState: state },
      { kind: 'test-light', at: pins[0], keyState: state, reference: 'battery-' },
      ...(still(facts) ? [{ kind: 'direct-feed', at: pins[0], keyState: state } as const] : []),
    ],
  );
  return inAnyState(
    facts,
    (keyState) => {
      const current = facts.current(keyState);
      const read = pins.map((at) => ({ at, fact: facts.volts(at, keyState) })).find(({ fact }) => fact);
      if (!read?.fact || !current || !facts.flows(keyState)) return undefined;
      return supplyDrop(facts, rules, read.at, keyState, current.value, read.fact, 'Supply');
    },
    none,
  );
}

/** Nothing flows: no drop will ever be a loaded one. */
function still(facts: Facts): boolean {
  return facts.states().some((state) => (facts.current(state)?.value ?? LEAST_LOAD_A) < LEAST_LOAD_A);
}

/** Of a mean behind a module: what a meter may show otherwise than arithmetic. */
const MEAN_SHARE = 0.08;

/**
 * Behind a driver module the mean follows its duty, so the feed is three things: the module's own supply under load, a duty
 * that is what was asked, and the harness behind it.
 */
function drivenFeed(facts: Facts, rules: HouseRules): Proof {
  const { profile, moduleAt, pumpAt } = facts.vehicle;
  const supply = profile.stations[moduleAt - 1].id;
  const pin = profile.stations[pumpAt].id;
  const state = facts.states()[0] ?? usualState(facts);
  const asks: Question[] = [
    volts(supply, state),
    volts(pin, state),
    { kind: 'duty', at: 'output', keyState: state },
    { kind: 'current', at: pin, keyState: state },
    ...(still(facts) ? [{ kind: 'direct-feed', at: pin, keyState: state } as const] : []),
  ];
  const none = missing(
    `Prove the feed: the module’s supply under load, the volts at ${nameOf(facts, pin)}, and the output duty, all in one key state.`,
    asks,
  );
  return inAnyState(
    facts,
    (keyState) => {
      const [before, read, current] = [
        facts.volts(supply, keyState),
        facts.volts(pin, keyState),
        facts.current(keyState),
      ];
      const output = facts.output(keyState) ?? facts.asked(keyState);
      if (!before || !read || !current || !output || !facts.flows(keyState)) return undefined;
      const supplied = supplyDrop(
        facts,
        rules,
        supply,
        keyState,
        current.value * output.value,
        before,
        'The module’s supply',
      );
      if (!supplied.met) return supplied;
      const asked = facts.asked(keyState);
      const from = [...(supplied.from ?? []), read.id, output.id];
      if (asked && Math.abs(asked.value - output.value) > DUTY_APART) {
        return missing(
          'The module gives out another duty than it is asked for: settle that before the pump.',
          [],
          [...from, asked.id],
        );
      }
      const mean = output.value * before.value - (1 - output.value) * DIODE_V;
      const { within, allowedV } = judgeDrop({
        dropV: mean - read.value,
        currentA: current.value,
        limitV: rules.supplyDropV,
        ratedA: profile.pump.amperes,
        statedOhm: statedOhm(facts.vehicle, moduleAt, pumpAt),
      });
      const lost = `${two(mean - read.value)} V of ${two(allowedV)} V allowed behind the module`;
      return within || mean - read.value <= allowedV + MEAN_SHARE * mean
        ? met(`Feed proven: ${lost}, its own supply sound.`, from)
        : missing(`The feed loses ${lost}. Find that first; the pump is not the suspect.`, [], from);
    },
    none,
  );
}

/** Duties, 0 to 1, that two ways of reading may differ by. */
export const DUTY_APART = 0.08;

function ground(facts: Facts, rules: HouseRules): Proof {
  const { profile, pumpAt } = facts.vehicle;
  const pin = profile.stations[pumpAt + 1].id;
  const lamp = lampLit(facts, [pin], true);
  if (lamp) return met('Ground proven: it lights a lamp to battery + bright.', [lamp]);
  const state = facts.states()[0] ?? usualState(facts);
  const none = missing(
    `Prove the ground at ${nameOf(facts, pin)} under load: its rise from battery - with current flowing, or a lamp to battery + lit bright.`,
    [
      volts(pin, state),
      { kind: 'current', at: profile.stations[pumpAt].id, keyState: state },
      { kind: 'test-light', at: pin, keyState: state, reference: 'battery+' },
      ...(still(facts) ? [{ kind: 'direct-feed', at: profile.stations[pumpAt].id, keyState: state } as const] : []),
    ],
  );
  return inAnyState(
    facts,
    (keyState) => {
      const [read, current] = [facts.volts(pin, keyState), facts.current(keyState)];
      if (!read || !current || !facts.flows(keyState)) return undefined;
      const { within, allowedV } = judgeDrop({
        dropV: read.value,
        currentA: current.value,
        limitV: rules.groundDropV,
        ratedA: profile.pump.amperes,
        statedOhm: statedOhm(facts.vehicle, pumpAt + 1, profile.stations.length),
      });
      const rise = `${two(read.value)} V of ${two(allowedV)} V allowed`;
      return within
        ? met(`Ground proven: ${rise}.`, [read.id])
        : missing(`Ground rises by ${rise}. Find that first; the pump is not the suspect.`, [], [read.id]);
    },
    none,
  );
}

function lampLit(facts: Facts, pins: readonly string[], toPlus: boolean): string | undefined {
  const newest = facts.readings
    .filter(
      ({ kind, at, reference, unloaded }) =>
        kind === 'test-light' && pins.includes(at) && !unloaded && (reference === 'battery+') === toPlus,
    )
    .at(-1);
  return newest?.value === 'bright' ? newest.id : undefined;
}
