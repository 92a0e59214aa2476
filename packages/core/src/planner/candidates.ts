import { FIRST_CHECKS } from '../evidence/first-checks.js';
import { LOADED_STATES, type KeyState } from '../terms/key-states.js';
import type { Reading } from '../evidence/reading.js';
import type { Question } from '../inference/question.js';
import type { Vehicle } from '../physics/vehicle.js';
import { cautionsFor } from './test-cautions.js';

/** Something that could be done next, and what it takes. */
export interface CandidateTest {
  readonly id: string;
  readonly title: string;
  readonly minutes: number;
  readonly question: Question;
  readonly cautions: readonly string[];
  /** Place along the path, for the orders that follow it; absent for what isn't read on the path. */
  readonly place?: number;
}

/** What is known of the vehicle that makes a test possible, sensible, or neither. */
export interface Circumstances {
  /** The engine runs, so that idle and load can be had; and so that nobody sprays into it. */
  readonly engineRuns: boolean;
  /** The pump stands still when it should run. */
  readonly silent: boolean;
  /** The fault comes and goes: readings wait until it shows. */
  readonly comesAndGoes: boolean;
}

/** Minutes that a test itself takes, once one is there (common practice, no published source). */
const READ = 1;
/** More for an engine that must be started and warm, or for a fault that must show first (common practice, no published source). */
const RUNNING = 2;
const WAITING = 10;

const STATE_NAMES: Readonly<Record<KeyState, string>> = {
  off: 'key off',
  prime: 'key on, prime',
  cranking: 'cranking',
  idle: 'idling',
  loaded: 'under load',
  'after-off': 'after shut-down',
};

/** All tests that a path offers, in every key state that the pump runs in and the complaint leaves possible. */
export function candidateTests(vehicle: Vehicle, circumstances: Circumstances): CandidateTest[] {
  const { profile } = vehicle;
  const states: KeyState[] = [
    ...(profile.crankOnly ? [] : (['prime'] as const)),
    'cranking',
    ...(circumstances.engineRuns ? (['idle'] as const) : []),
  ];
  const questions = [
    ...states.flatMap((keyState) => questionsIn(vehicle, keyState, states[0] === keyState, circumstances)),
    ...questionsAtRest(vehicle, circumstances),
  ];
  return questions.map((question) => makeTest(vehicle, question, circumstances));
}

function questionsIn(
  { profile: { stations, sensorTable }, pumpAt, moduleAt, relayAt }: Vehicle,
  keyState: KeyState,
  first: boolean,
  { silent }: Circumstances,
): Question[] {
  const pump = stations[pumpAt].id;
  const at = (kind: Question['kind'], place: string): Question => ({ kind, at: place, keyState });
  const questions: Question[] = [
    ...stations.map(({ id }): Question => ({ kind: 'voltage', at: id, keyState, reference: 'battery-' })),
    at('current', pump),
    at('capture', pump),
    at('pressure', 'rail'),
    ...(keyState === 'cranking' ? [] : [at('pressure', 'before_filter')]),
    ...(moduleAt < 0
      ? []
      : [at('scan', 'commanded_duty'), at('scan', 'feedback_duty'), at('duty', 'command'), at('duty', 'output')]),
    ...(sensorTable ? [at('scan', 'actual_pressure')] : []),
    ...(keyState === 'idle' ? [at('scan', 'long_trim')] : []),
  ];
  // Trials prove the same in any state: they are offered in the first one only.
  if (!first) return questions;
  const relay = relayAt >= 0 && stations[relayAt].kind === 'relay' ? stations[relayAt].id : undefined;
  questions.push(
    ...stations
      .filter(({ kind }) => kind === 'cutoff-switch' || kind === 'connector')
      .map(({ id }) => at('disturb', id)),
    ...(relay ? [at('swap', relay), at('bridge', relay)] : []),
    at('direct-feed', pump),
    ...(moduleAt >= 0 ? [at('module-bypass', stations[moduleAt].id)] : []),
    at('volume', 'rail'),
    at('check', 'prime_heard'),
    ...(silent ? [at('check', 'tap_test')] : []),
  );
  return questions;
}

function questionsAtRest({ profile: { stations }, pumpAt }: Vehicle, { engineRuns }: Circumstances): Question[] {
  const checks = FIRST_CHECKS.filter(({ at }) => at !== 'tap_test' && at !== 'prime_heard')
    // A spray trial asks whether an engine fires at all.
    .filter(({ at }) => !(engineRuns && at.startsWith('spray')));
  return [
    ...stations.flatMap(({ id, kind }, i): Question[] => [
      ...(i > 0 && i !== pumpAt ? [{ kind: 'visual', at: id, keyState: 'off' } as const] : []),
      ...(kind === 'cutoff-switch' ? [{ kind: 'resistance', at: id, keyState: 'off' } as const] : []),
    ]),
    { kind: 'battery', at: 'rest', keyState: 'off' },
    { kind: 'hold', at: 'rail', keyState: 'after-off' },
    ...checks.map(({ at, keyState }): Question => ({ kind: 'check', at, keyState })),
  ];
}

/** A question as a test: what to do, how long it takes, what can hurt. */
export function makeTest(vehicle: Vehicle, question: Question, { comesAndGoes }: Circumstances): CandidateTest {
  const { stations } = vehicle.profile;
  const place = stations.findIndex(({ id }) => id === question.at);
  const loaded = LOADED_STATES.has(question.keyState);
  const shows = comesAndGoes && loaded;
  const minutes =
    minutesFor(vehicle, question, place) +
    (question.keyState === 'idle' || question.keyState === 'loaded' ? RUNNING : 0) +
    (shows ? WAITING : 0);
  return {
    id: [question.kind, question.at, question.keyState, question.reference].filter(Boolean).join(':'),
    title: `${titleFor(vehicle, question, place)}${shows ? ', while the fault shows' : ''}`,
    minutes,
    question,
    cautions: cautionsFor(question, vehicle.profile),
    ...(place >= 0 && FOLLOWS_PATH.has(question.kind) && { place }),
  };
}

const FOLLOWS_PATH: ReadonlySet<Reading['kind']> = new Set([
  'voltage',
  'visual',
  'disturb',
  'resistance',
  'swap',
  'bridge',
  'direct-feed',
  'module-bypass',
  'duty',
]);

const PLACE_NAMES: Readonly<Record<string, string>> = {
  rail: 'the rail',
  before_filter: 'the filter’s inlet',
  after_filter: 'the filter’s outlet',
  dead_head: 'the rail, return pinched',
  module_ground: 'the module’s ground pin',
  hose: 'the hose in the tank',
};

function titleFor(
  { profile: { stations }, pumpAt }: Vehicle,
  { kind, at, keyState, reference }: Question,
  place: number,
): string {
  const state = STATE_NAMES[keyState];
  const name = place >= 0 ? `${stations[place].name}${place > pumpAt ? ', pump side' : ''}` : (PLACE_NAMES[at] ?? at);
  switch (kind) {
    case 'voltage':
      return `Volts at ${name}, ${state}, from battery ${reference === 'battery+' ? '+' : '-'}`;
    case 'test-light':
      return `Lamp of a few watts at ${name}, ${state}, to battery ${reference === 'battery+' ? '+' : '-'}`;
    case 'current':
      return `Clamp the pump current, ${state}`;
    case 'capture':
      return `Capture the pump current, ${state}`;
    case 'pressure':
      return `Fuel pressure at ${name}, ${state}`;
    case 'volume':
      return 'Volume into a measuring jar';
    case 'hold':
      return 'Watch the pressure after shut-down';
    case 'visual':
      return `Look at ${name}`;
    case 'disturb':
      return `Move ${name} while it runs`;
    case 'resistance':
      return `Ohms across ${name}, unplugged`;
    case 'swap':
      return 'Swap the relay for a known-good one';
    case 'bridge':
      return place >= 0 && stations[place].kind === 'relay'
        ? 'Bridge 30 to 87 with a fused lead'
        : `Bridge ${name} with a fused lead`;
    case 'direct-feed':
      return place === pumpAt
        ? 'Feed the pump directly, fused, by the diagram'
        : `Feed the path at ${name}, fused, by the diagram`;
    case 'module-bypass':
      return 'Bypass the driver module, fused';
    case 'new-fuse':
      return 'Fit a new fuse of the right size, once, and command the pump';
    case 'heard':
      return `Listen at the tank, ${state}`;
    case 'battery':
      return at === 'rest' ? 'Battery at rest' : `Battery, ${state}`;
    case 'duty':
      return at === 'command'
        ? `Command at the module’s pin, ${state}`
        : at === 'feedback'
          ? `Feedback duty, ${state}`
          : `Duty out of the driver module, ${state}`;
    case 'scan':
      return `${SCAN_NAMES[at] ?? at} by scan tool, ${state}`;
    case 'timing':
      return `Time to prime pressure, ${state}`;
    case 'check':
      return FIRST_CHECKS.find((check) => check.at === at)?.title ?? at;
  }
}

const SCAN_NAMES: Readonly<Record<string, string>> = {
  commanded_duty: 'Duty commanded',
  feedback_duty: 'Feedback duty',
  desired_pressure: 'Rail pressure asked for',
  actual_pressure: 'Rail pressure',
  sensor_volts: 'Rail sensor volts',
  long_trim: 'Long-term trim',
  short_trim: 'Short-term trim',
};

function minutesFor(
  { profile: { stations }, pumpAt, moduleAt }: Vehicle,
  { kind, at }: Question,
  place: number,
): number {
  const access = place >= 0 ? stations[place].accessMinutes : 0;
  const toPump = stations[pumpAt].accessMinutes;
  const toModule = stations[moduleAt]?.accessMinutes ?? 0;
  const clampAt = Math.min(...stations.slice(1, pumpAt).map(({ accessMinutes }) => accessMinutes), toPump);
  switch (kind) {
    case 'voltage':
      return (at === 'module_ground' ? toModule : access) + READ;
    case 'test-light':
    case 'disturb':
      return access + READ;
    case 'visual':
      return at === 'hose' ? toPump + 30 : Math.max(1, access);
    case 'resistance':
      return access + READ + 1;
    case 'swap':
      return access;
    case 'bridge':
      return access + 2;
    case 'direct-feed':
      return access + 8;
    case 'module-bypass':
      return access + 6;
    case 'new-fuse':
      return access + 1;
    case 'current':
      return clampAt + 2;
    case 'capture':
      return clampAt + 6;
    case 'duty':
      return toModule + 3;
    case 'pressure':
      return at === 'before_filter' || at === 'after_filter' ? 14 : at === 'dead_head' ? 10 : 8;
    case 'scan':
      return 3;
    case 'volume':
      return 12;
    case 'hold':
      return 11;
    case 'battery':
    case 'heard':
    case 'timing':
      return 1;
    case 'check':
      return CHECK_MINUTES[at] ?? 2;
  }
}

const CHECK_MINUTES: Readonly<Record<string, number>> = {
  fuel_in_tank: 2,
  fuel_fresh: 3,
  cutoff_button: 3,
  restraint_event: 3,
  immobiliser: 1,
  crank_speed: 2,
  spark: 5,
  injector_pulse: 5,
  spray_mild: 4,
  spray_volatile: 4,
  prime_heard: 1,
  tap_test: 3,
};

/** Kinds that tell the same in whichever key state they were tried. */
const ANY_STATE: ReadonlySet<Reading['kind']> = new Set([
  'check',
  'visual',
  'resistance',
  'swap',
  'bridge',
  'direct-feed',
  'module-bypass',
  'new-fuse',
  'disturb',
  'volume',
  'hold',
]);

/** A fuel gauge's word for it answers nothing: somebody must see the fuel. */
const GAUGE_ONLY = 'gauge';

/** Whether that was answered while the fault showed, or couldn't be. Volts of another reference, or unloaded, answer nothing. */
export function isDone({ question }: Pick<CandidateTest, 'question'>, readings: readonly Reading[]): boolean {
  return readings.some(
    (reading) =>
      reading.faultPresent &&
      reading.kind === question.kind &&
      reading.at === question.at &&
      (ANY_STATE.has(question.kind) || reading.keyState === question.keyState) &&
      (reading.reference ?? 'battery-') === (question.reference ?? 'battery-') &&
      !reading.unloaded &&
      reading.helped === question.helped &&
      reading.value !== GAUGE_ONLY,
  );
}
