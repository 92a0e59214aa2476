import type { CaptureResult } from '../evidence/records.js';
import { ohmsOf } from '../evidence/kinds/resistance.js';
import { readsOtherwise } from '../inference/contradictions.js';
import { LIFT_PUMP } from '../inference/suspects.js';
import { LIMITS } from '../limits/limits.js';
import type { HouseRules } from '../rules/house-rules.js';
import type { KeyState } from '../terms/key-states.js';
import type { Verdict } from '../terms/verdicts.js';
import { question, type Charge } from './charge.js';
import { judgeDrop } from './drop.js';
import type { Facts } from './facts.js';
import { deliversLittle, fuelSeen, fuelSideProofs } from './fuel-proofs.js';
import { confirmedLow, jointProofs, newFuse } from './joint-proofs.js';
import { liftProofs } from './lift-proofs.js';
import { DUTY_APART, pathProofs, usualState, volts } from './path-proofs.js';
import { met, missing, type Proof } from './proof.js';

type Proofs = (charge: Charge) => readonly Proof[];

/** What each verdict rests on beyond its weight. */
export const PROOFS_OF: Readonly<Record<Verdict, Proofs>> = {
  'replace-pump': pumpProofs,
  'replace-relay': relayProofs,
  'repair-relay-control': relayControlProofs,
  'replace-module': moduleProofs,
  'repair-module-command': commandProofs,
  'repair-feed-wiring': jointProofs,
  'repair-ground': groundProofs,
  'replace-fuse': fuseProofs,
  'replace-switch': jointProofs,
  'repair-battery': batteryProofs,
  'replace-sensor': sensorProofs,
  'repair-fuel-side': fuelSideProofs,
  'no-fault-found': soundProofs,
};

/** A pump looks guilty of whatever feeds it, so all of that is proven first. */
function pumpProofs(charge: Charge): readonly Proof[] {
  const { suspect, facts, rules } = charge;
  if (suspect.station === LIFT_PUMP) return liftProofs(charge);
  const { profile, pumpAt } = facts.vehicle;
  const { id, name } = profile.stations[pumpAt];
  const state = facts.states()[0] ?? usualState(facts);
  const works = facts.newest('current') ?? facts.newest('capture') ?? facts.newest('direct-feed', id);
  const proofs: Proof[] = [
    ...pathProofs(facts, rules),
    works
      ? met('Its current was seen.', [works.id])
      : missing(`Clamp the current at ${name.toLowerCase()}, or feed it directly.`, [question('current', id, state)]),
  ];
  if (suspect.id === 'pump-worn') proofs.push(deliversLittle(facts), fuelSeen(facts));
  if (rules.waveform === 'never-alone' && facts.newest('capture')) {
    const work = facts.newest('pressure') ?? facts.newest('volume') ?? facts.newest('direct-feed', id);
    proofs.push(
      work
        ? met('Beside the pattern stands what the pump does or fails to do.', [work.id])
        : missing('House rule: a pattern alone condemns nothing here. Take pressure or volume too.', [
            question('pressure', 'rail', state),
          ]),
    );
  }
  return proofs;
}

/** A relay with nothing at its input passes nothing. */
function relayProofs({ suspect, facts, rules }: Charge): readonly Proof[] {
  const { stations } = facts.vehicle.profile;
  const { relayAt } = facts.vehicle;
  const { id } = stations[relayAt];
  const swapped = facts.newest('swap', id);
  if (swapped?.value === 'changed') return [met('Another relay in its place changed it.', [swapped.id])];
  const state = facts.states()[0] ?? usualState(facts);
  const arrives = arrivesAt(facts, rules, relayAt - 1, state);
  const asks = [question('swap', id, state), question('bridge', id, state), ...(arrives.asks ?? [])];
  if (suspect.id === 'relay-coil') return [missing('Swap the relay, or measure its coil and what pulls it.', asks)];
  const bridged = facts.newest('bridge', id);
  if (bridged?.value === 'runs') return [met('Bridged it runs: what arrives at the relay is enough.', [bridged.id])];
  const low = facts
    .states()
    .map((s) => facts.volts(id, s))
    .find((fact) => fact !== undefined);
  const high = facts
    .states()
    .map((s) => facts.volts(stations[relayAt - 1].id, s) ?? facts.battery(s))
    .find((fact) => fact !== undefined);
  return [
    arrives.met ? arrives : missing('Read what arrives at the relay, or swap or bridge it.', asks),
    ...(low && high ? confirmedLow(facts, relayAt, high, low) : []),
  ];
}

/** What reaches a place of the path, measured from the battery's post. */
function arrivesAt(facts: Facts, rules: HouseRules, place: number, usual: KeyState): Proof {
  const { stations, pump } = facts.vehicle.profile;
  const name = stations[place].name;
  for (const state of facts.states()) {
    // Whatever was read between there and the load stands for it too, as long as it stands high.
    const read = facts.volts(stations[place].id, state) ?? (place === 0 ? facts.battery(state) : undefined);
    const battery = facts.battery(state);
    if (!read || !battery) continue;
    const currentA = facts.current(state)?.value;
    const { within } = judgeDrop({
      dropV: battery.value - read.value,
      currentA,
      limitV: rules.supplyDropV,
      ratedA: pump.amperes,
    });
    const text = `${read.value.toFixed(2)} V of the battery’s ${battery.value.toFixed(2)} V arrive at ${name}`;
    return within
      ? met(`${text}.`, [read.id, battery.id])
      : missing(`Only ${text}: what lies before it comes first.`, [], [read.id, battery.id]);
  }
  return missing(`Read what arrives at ${name}, and the battery with it.`, [
    volts(stations[place].id, usual),
    volts(stations[0].id, usual),
  ]);
}

/** A relay that isn't pulled is told by its coil's pins, or by another one that stays open too while a bridge runs the pump. */
function relayControlProofs({ facts }: Charge): readonly Proof[] {
  const { id } = facts.vehicle.profile.stations[facts.vehicle.relayAt];
  const state = facts.states()[0] ?? usualState(facts);
  const coil = facts.newest('voltage', 'coil_feed') ?? facts.newest('voltage', 'coil_ground');
  const bridged = facts.newest('bridge', id);
  const swapped = facts.newest('swap', id);
  const proofs: Proof[] = [
    coil || (bridged?.value === 'runs' && swapped?.value === 'unchanged')
      ? met(
          coil
            ? 'Its coil pins were measured.'
            : 'Bridged it runs, and another relay stays open too: nothing pulls it.',
          [coil, bridged, swapped].flatMap((r) => (r ? [r.id] : [])),
        )
      : missing('Measure the coil’s pins while it should pull, or swap the relay and bridge it.', [
          ...(swapped ? [] : [question('swap', id, state)]),
          ...(bridged ? [] : [question('bridge', id, state)]),
          volts('coil_feed', state),
          volts('coil_ground', state),
        ]),
  ];
  return [...proofs, eventAsked(facts)];
}

/** A crash event holds the pump off by design and looks just like a missing command. */
function eventAsked(facts: Facts): Proof {
  const event = facts.newest('check', 'restraint_event');
  return event && event.value !== 'stored'
    ? met('No crash event holds the pump off.', [event.id])
    : missing('Ask the restraint system for a crash event: it holds the pump off by design.', [
        question('check', 'restraint_event', 'off'),
      ]);
}

/** A module without supply, ground or command is as silent as a dead one. */
function moduleProofs({ facts, rules }: Charge): readonly Proof[] {
  const { profile, moduleAt } = facts.vehicle;
  const supply = profile.stations[moduleAt - 1];
  const state = facts.states()[0] ?? usualState(facts);
  const lamp = facts.newest('test-light', supply.id);
  const arrives =
    lamp?.value === 'bright'
      ? met('Its supply lights a lamp bright.', [lamp.id])
      : moduleSupply(facts, rules, moduleAt - 1, state);
  const asked = facts
    .states()
    .map((s) => facts.asked(s))
    .find((fact) => fact !== undefined);
  const command = asked
    ? asked.value > 0.05
      ? met('It is asked to give something, and that was measured.', [asked.id])
      : missing('It is asked for nothing: the command comes first.', [], [asked.id])
    : missing('Read its command, by scope or scan tool: unasked it is silent too.', [
        question('duty', 'command', state),
        question('scan', 'commanded_duty', state),
      ]);
  return [arrives, command];
}

function moduleSupply(facts: Facts, rules: HouseRules, place: number, state: KeyState): Proof {
  const proof = arrivesAt(facts, rules, place, state);
  return proof.met || (proof.from ?? []).length > 0
    ? proof
    : missing('Read its supply pin under load: without feed it is silent too.', proof.asks);
}

/** A command is missing where it should arrive: at the module's own pin. */
function commandProofs({ facts }: Charge): readonly Proof[] {
  const state = facts.states()[0] ?? usualState(facts);
  const pin = facts.newest('duty', 'command');
  const proofs = [
    pin
      ? met('Its command was measured at the pin.', [pin.id])
      : missing(
          'Measure the command at the module’s pin: what the scan tool shows is what was sent, not what arrived.',
          [question('duty', 'command', state)],
        ),
    eventAsked(facts),
  ];
  const sent = facts.newest('scan', 'commanded_duty', pin?.keyState);
  if (
    pin &&
    sent &&
    Math.abs(Number(pin.value) - Number(sent.value)) < 100 * DUTY_APART * 0.5 &&
    Number(sent.value) > 5
  ) {
    proofs.push(missing('What was sent arrives: the command is as the control unit means it.', [], [pin.id, sent.id]));
  }
  return proofs;
}

function groundProofs(charge: Charge): readonly Proof[] {
  if (charge.suspect.id !== 'module-ground') return jointProofs(charge);
  const state = charge.facts.states()[0] ?? usualState(charge.facts);
  const read = charge.facts.newest('voltage', 'module_ground');
  return [
    read
      ? met('The module’s ground pin was read under load.', [read.id])
      : missing('Read the module’s ground pin from battery - while it should run.', [volts('module_ground', state)]),
  ];
}

/** From a feed to ground with both its ends off; less is a way for the current (common practice, no published source). */
const FREE_OHM = 1e3;

/** A fuse blows for a reason: unless it still passes something, a new one must hold. */
function fuseProofs(charge: Charge): readonly Proof[] {
  const { facts, suspect } = charge;
  // All of the pump's current goes through it.
  const corroded = facts.states().some((state) => facts.flows(state));
  const held = facts.newest('new-fuse');
  const free = facts.readings
    .filter(
      ({ kind, reference, value }) =>
        kind === 'resistance' && reference !== undefined && (ohmsOf(value) ?? 0) > FREE_OHM,
    )
    .at(-1);
  const wrong = facts.newest('visual', suspect.station)?.value === 'wrong-part';
  const why: Proof =
    corroded || wrong
      ? met(wrong ? 'It is of the wrong size.' : 'It still passes current: it didn’t blow.')
      : held?.value === 'holds'
        ? met('A new fuse of the right size holds while the pump runs.', [held.id])
        : free
          ? met('From the feed to ground there is no way: nothing touches.', [free.id])
          : held?.value === 'blows'
            ? missing('A new one blows too: find what it blows for.', [], [held.id])
            : missing(
                'Find out why it blew: a new fuse of the right size, once, with the pump commanded.',
                newFuse(facts),
              );
  return [...jointProofs(charge), why];
}

/** Where a rested, cranking or charged battery is short of what it should have. */
function batteryProofs({ facts, suspect }: Charge): readonly Proof[] {
  if (suspect.station !== facts.vehicle.profile.stations[0].id) {
    return jointProofs({ facts, suspect } as Charge);
  }
  const short = (state: KeyState, least: number) => {
    const read = facts.battery(state);
    return read && read.value < least ? read : undefined;
  };
  const found =
    short('cranking', LIMITS.crankBatteryLeastV.value) ??
    short('off', LIMITS.restBatteryPoorV.value) ??
    short('idle', LIMITS.chargingLeastV.value);
  return [
    found
      ? met(`The battery itself was read at ${found.value.toFixed(2)} V.`, [found.id])
      : missing('Read the battery itself: at rest, while it cranks, and while it is charged.', [
          question('battery', 'rest', 'off'),
          volts(facts.vehicle.profile.stations[0].id, 'cranking'),
        ]),
  ];
}

/** A liar is found by whoever reads the same thing otherwise. */
function sensorProofs({ facts }: Charge): readonly Proof[] {
  const state = facts.states()[0] ?? usualState(facts);
  const pair = (['idle', 'prime', 'cranking', 'loaded'] as const).flatMap((keyState) => {
    const gauge = facts.newest('pressure', 'rail', keyState);
    const scan = facts.newest('scan', 'actual_pressure', keyState);
    return gauge && scan ? [[gauge, scan] as const] : [];
  });
  const differs = pair.find(([gauge, scan]) => readsOtherwise(Number(gauge.value), Number(scan.value)));
  if (differs)
    return [
      met(
        'A gauge beside it reads otherwise.',
        differs.map(({ id }) => id),
      ),
    ];
  return [
    missing(
      pair.length > 0
        ? 'Gauge and sensor agree: then it doesn’t lie.'
        : 'Read a gauge at the rail beside it, and the scan value, in one key state: two electronic numbers come from the same volts.',
      pair.length > 0 ? [] : [question('pressure', 'rail', state), question('scan', 'actual_pressure', state)],
    ),
  ];
}

/** Nothing wrong with the pump: it gets what it needs, and does something with it. */
function soundProofs({ facts, rules }: Charge): readonly Proof[] {
  const works = facts.readings
    .filter(({ kind, value }) =>
      kind === 'capture'
        ? ((value as CaptureResult).pattern ?? 'no-current') !== 'no-current'
        : kind === 'current' || kind === 'pressure' || kind === 'volume',
    )
    .at(-1);
  const state = facts.states()[0] ?? usualState(facts);
  return [
    ...pathProofs(facts, rules),
    works
      ? met('Its own work was measured.', [works.id])
      : missing('Measure what it does: current, pressure or volume.', [question('pressure', 'rail', state)]),
  ];
}
