import { FIRST_CHECKS } from '../evidence/first-checks.js';
import type { KeyState } from '../evidence/entry.js';
import { cautionsFor } from './test-cautions.js';
import type { PathModel } from '../path/solve-path.js';
import type { Question } from './situation.js';
import type { Reading } from './reading.js';

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

/** Minutes that a test itself takes, once one is there (common practice, no published source). */
const READ = 1;

/** All tests that a path offers, in the key state in which its pump gets power. */
export function candidateTests(path: PathModel): CandidateTest[] {
  const { profile, pumpAt, moduleAt, relayAt } = path;
  const { stations } = profile;
  const keyState: KeyState = profile.crankOnly ? 'cranking' : 'prime';
  const state = keyState === 'prime' ? 'key on, prime' : 'cranking';
  const tests: CandidateTest[] = [];
  const add = (title: string, minutes: number, question: Question, place?: number) =>
    tests.push({
      id: [question.kind, question.at, question.keyState, question.reference].filter(Boolean).join(':'),
      title,
      minutes,
      question,
      cautions: cautionsFor(question, path),
      ...(place !== undefined && { place }),
    });
  const minus = { keyState, reference: 'battery-' } as const;

  stations.forEach((station, i) => {
    const { id, name, kind, accessMinutes } = station;
    const minutes = accessMinutes + READ;
    const side = i > pumpAt ? `${name}, pump side` : name;
    add(`Volts at ${side}, ${state}, from battery -`, minutes, { kind: 'voltage', at: id, ...minus }, i);
    if (i > 0 && i !== pumpAt) {
      add(`Look at ${name}`, Math.max(1, accessMinutes), { kind: 'visual', at: id, keyState: 'off' }, i);
    }
    if (kind === 'cutoff-switch' || kind === 'connector') {
      add(`Move ${name} while it runs`, minutes, { kind: 'disturb', at: id, keyState }, i);
    }
    if (kind === 'cutoff-switch') {
      add(`Ohms across ${name}, unplugged`, minutes + 1, { kind: 'resistance', at: id, keyState: 'off' }, i);
    }
  });
  if (relayAt >= 0 && stations[relayAt].kind === 'relay') {
    const { id, accessMinutes } = stations[relayAt];
    add('Swap the relay for a known-good one', accessMinutes, { kind: 'swap', at: id, keyState }, relayAt);
    add('Bridge 30 to 87 with a fused lead', accessMinutes + 2, { kind: 'bridge', at: id, keyState }, relayAt);
  }
  const { id: pump, accessMinutes: toPump } = stations[pumpAt];
  const clampAt = Math.min(...stations.slice(1, pumpAt).map(({ accessMinutes }) => accessMinutes), toPump);
  add(`Clamp the pump current, ${state}`, clampAt + 2, { kind: 'current', at: pump, keyState });
  add(`Capture the pump current, ${state}`, clampAt + 6, { kind: 'capture', at: pump, keyState });
  add('Feed the pump directly, fused, by the diagram', toPump + 8, { kind: 'direct-feed', at: pump, keyState }, pumpAt);
  add('Tap the tank while it should run', 3, { kind: 'check', at: 'tap_test', keyState });
  if (moduleAt >= 0) {
    const { id, accessMinutes } = stations[moduleAt];
    add('Duty commanded, by scan tool', 3, { kind: 'scan', at: 'commanded_duty', keyState });
    add('Duty out of the driver module', accessMinutes + 3, { kind: 'duty', at: 'output', keyState }, moduleAt);
    add('Bypass the driver module, fused', accessMinutes + 6, { kind: 'module-bypass', at: id, keyState }, moduleAt);
  }
  add(`Fuel pressure, ${state}`, 8, { kind: 'pressure', at: 'rail', keyState });
  add('Fuel pressure before the filter', 14, { kind: 'pressure', at: 'before_filter', keyState });
  if (profile.sensorTable) {
    add('Rail pressure by scan tool', 3, { kind: 'scan', at: 'actual_pressure', keyState });
  }
  add('Volume into a measuring jar', 12, { kind: 'volume', at: 'rail', keyState });
  add('Watch the pressure after shut-down', 11, { kind: 'hold', at: 'rail', keyState: 'after-off' });
  for (const { at, title } of FIRST_CHECKS) {
    if (at === 'tap_test') continue;
    add(title, CHECK_MINUTES[at] ?? 2, { kind: 'check', at, keyState: at === 'prime_heard' ? keyState : 'off' });
  }
  add('Battery at rest', 1, { kind: 'battery', at: 'rest', keyState: 'off' });
  return tests;
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
};

/** Whether that was answered while the fault showed. */
export function isDone({ question }: CandidateTest, readings: readonly Reading[]): boolean {
  return readings.some(
    (reading) =>
      reading.faultPresent &&
      reading.kind === question.kind &&
      reading.at === question.at &&
      reading.keyState === question.keyState,
  );
}
