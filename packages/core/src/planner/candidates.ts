import { NOT_POSSIBLE } from '../evidence/entry.js';
import { FIRST_CHECKS } from '../evidence/first-checks.js';
import { LOADED_STATES, type KeyState } from '../terms/key-states.js';
import type { Reading } from '../evidence/reading.js';
import { EVIDENCE } from '../evidence/registry.js';
import { siteOf } from '../evidence/site.js';
import type { Question } from '../inference/question.js';
import { LIFT_PUMP } from '../inference/suspects.js';
import type { Vehicle } from '../physics/vehicle.js';

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
  /** The pump draws what a rotor draws that stands: fed for longer than a prime it burns. */
  readonly burns: boolean;
  /** The fault comes and goes: readings wait until it shows. */
  readonly comesAndGoes: boolean;
}

/** More for an engine that must be started and warm, or for a fault that must show first (common practice, no published source). */
const RUNNING = 2;
const WAITING = 10;
/** A winding that was fed while its rotor stood is left to cool for so long, minutes (common practice, no published source). */
const COOLING = 10;
/** Key states in which a pump is fed for longer than a prime. */
const FED_LONG: ReadonlySet<KeyState> = new Set(['cranking', 'idle', 'loaded']);

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
  { profile: { stations, sensorTable }, pumpAt, moduleAt, relayAt, liftAt }: Vehicle,
  keyState: KeyState,
  first: boolean,
  { silent, comesAndGoes }: Circumstances,
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
    at('actuator', pump),
    ...(comesAndGoes ? [at('fell-first', 'stall'), at('fell-first', 'current')] : []),
    ...(relayAt < 0 ? [] : [pinOf('coil_feed', keyState), pinOf('coil_ground', keyState)]),
    ...(moduleAt < 0 ? [] : [pinOf('module_ground', keyState)]),
    ...(liftAt < 0 ? [] : liftQuestions(keyState)),
    at('check', 'prime_heard'),
    ...(silent ? [at('check', 'tap_test')] : []),
  );
  return questions;
}

/** Volts at a pin beside the path, from the battery's post. */
function pinOf(at: string, keyState: KeyState): Question {
  return { kind: 'voltage', at, keyState, reference: 'battery-' };
}

/** Of two pumps the one in the tank: whatever its silence, its volts and its current tell apart. */
function liftQuestions(keyState: KeyState): Question[] {
  return [
    { kind: 'heard', at: LIFT_PUMP, keyState },
    pinOf(LIFT_PUMP, keyState),
    { kind: 'current', at: LIFT_PUMP, keyState },
    { kind: 'pressure', at: 'lift_line', keyState },
    { kind: 'direct-feed', at: LIFT_PUMP, keyState },
  ];
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
export function makeTest(vehicle: Vehicle, question: Question, { comesAndGoes, burns }: Circumstances): CandidateTest {
  const site = siteOf(vehicle.profile, question);
  const { title, minutes, cautions, onPath } = EVIDENCE[question.kind];
  const shows = comesAndGoes && LOADED_STATES.has(question.keyState);
  const running = question.keyState === 'idle' || question.keyState === 'loaded';
  const cools = burns && FED_LONG.has(question.keyState);
  return {
    id: [question.kind, question.at, question.keyState, question.reference].filter(Boolean).join(':'),
    title: `${title(site)}${shows ? ', while the fault shows' : ''}`,
    minutes: minutes(site) + (running ? RUNNING : 0) + (shows ? WAITING : 0) + (cools ? COOLING : 0),
    question,
    cautions: cautions?.(site) ?? [],
    ...(site.place >= 0 && onPath && { place: site.place }),
  };
}

/** A fuel gauge's word for it answers nothing: somebody must see the fuel. */
const GAUGE_ONLY = 'gauge';

/** Somebody said that a pattern can't be had here, so there is no scope: nothing is captured either, in any key state. */
function hasNoScope(question: Question, readings: readonly Reading[]): boolean {
  return (
    question.kind === 'capture' && readings.some(({ kind, value }) => kind === 'pattern' && value === NOT_POSSIBLE)
  );
}

/** Whether that was answered while the fault showed, or couldn't be. Volts of another reference, or unloaded, answer nothing. */
export function isDone({ question }: Pick<CandidateTest, 'question'>, readings: readonly Reading[]): boolean {
  if (hasNoScope(question, readings)) return true;
  return readings.some(
    (reading) =>
      reading.faultPresent &&
      reading.kind === question.kind &&
      reading.at === question.at &&
      (EVIDENCE[question.kind].anyState === true || reading.keyState === question.keyState) &&
      (reading.reference ?? 'battery-') === (question.reference ?? 'battery-') &&
      !reading.unloaded &&
      reading.helped === question.helped &&
      reading.boosted === question.boosted &&
      reading.commandPercent === question.commandPercent &&
      reading.value !== GAUGE_ONLY,
  );
}
