import { NOT_POSSIBLE } from '../evidence/entry.js';
import { STEP } from '../evidence/kinds/sweep.js';
import { sameQuestion, type Reading } from '../evidence/reading.js';
import { posterior, type Posterior } from '../inference/posterior.js';
import type { Family } from '../terms/families.js';
import type { Verdict } from '../terms/verdicts.js';
import { verdictOf } from '../verdict/verdict-of.js';
import { taken } from './diagnose.js';
import { caseProfile, caseReadings, recordOf, STATED_AT_INTAKE, type CaseEvidence } from './from-case.js';
import type { RecheckQuestion } from './recheck-case.js';

/** How a test that showed the fault came out after the repair. */
export type RepeatResult = 'passes' | 'fails' | 'unclear' | 'not-possible' | 'open';

/** A test that showed the fault, and the same one after the repair; entries and captures are named by their ids. */
export interface Repeat {
  readonly before: string;
  /** Absent while it is still to be taken. */
  readonly after?: string;
  readonly result: RepeatResult;
}

/** A suspect that the readings after the repair speak for. */
export interface Remaining {
  readonly title: string;
  readonly family: Family;
}

/** What the readings after a repair say about it. */
export interface Recheck {
  /** The tests that showed the fault, the most telling first. */
  readonly repeats: readonly Repeat[];
  /** What the readings after the repair speak for, rather than for a sound vehicle; the clearest first. */
  readonly remaining: readonly Remaining[];
}

/** A reading that the fault explains so much better than a sound vehicle does shows it, as a natural logarithm of odds. */
const SHOWS = 0.7;
/** Of the same reading after the repair: 7 to 1 for the fault is a failure, less than 2 to 1 a pass. */
const FAILS = Math.log(7);
/** All readings after the repair together, for any suspect: some forty are tried, and the best of them by chance is one in twenty. */
const SPEAKS = Math.log(20);
const MOST_REPEATS = 12;
const MOST_REMAINING = 3;

/**
 * Compares the tests that showed the fault with the same tests after the repair. Each is judged by the model that judged it
 * before: does the fault that was condemned, at whatever size, explain it better than a sound vehicle?
 */
export function recheck({ before, after, verdict }: RecheckQuestion): Recheck {
  const was = caseReadings(before);
  const shown = showingOf(weigh(before, was), verdict);
  const size = ({ id }: Reading) => shown.get(id) ?? 0;
  const telling = was
    .filter((reading) => !reading.id.startsWith(STATED_AT_INTAKE) && !isTrial(reading) && size(reading) > SHOWS)
    .sort((a, b) => size(b) - size(a));
  const is = caseReadings(after).filter(({ id }) => !id.startsWith(STATED_AT_INTAKE));
  const weighed = weigh(after, is);
  const left = showingOf(weighed, verdict);
  const repeats = onceEach(telling).map(({ id, ...asked }): Repeat => {
    const again = is.findLast((other) => sameQuestion({ ...asked, id, faultPresent: true }, other));
    // Whoever has no scope any more says so of the pattern: a capture is no entry.
    const noScope =
      asked.kind === 'capture' && is.some(({ kind, value }) => kind === 'pattern' && value === NOT_POSSIBLE);
    if (!again) return { before: recordOf(id), result: noScope ? 'not-possible' : 'open' };
    const told = again.value === NOT_POSSIBLE ? 'not-possible' : resultOf(left.get(again.id) ?? 0);
    const result = told === 'unclear' && noScope ? 'not-possible' : told;
    return { before: recordOf(id), after: recordOf(again.id), result };
  });
  // What nobody trusts much accuses no sound vehicle: on a shipped path a smaller pump draws less than the template's.
  const doubted = new Set(is.filter(({ trust }) => trust === 'low').map(({ id }) => id));
  return { repeats: repeats.slice(0, MOST_REPEATS), remaining: remainingOf(weighed, doubted) };
}

function weigh({ intake, system, complaint = '' }: CaseEvidence, readings: readonly Reading[]): Posterior {
  const profile = caseProfile(intake, system);
  return posterior(profile, taken(profile, readings), {
    batterySupported: intake.batterySupport !== 'none',
    complaint,
  });
}

/**
 * How much better the likeliest suspect that the verdict condemns explains each reading than a sound vehicle does, as a natural
 * logarithm by the reading's id; the steps of a sweep are one test, and speak together.
 */
function showingOf({ suspects }: Posterior, verdict: Verdict): ReadonlyMap<string, number> {
  const showing = new Map<string, number>();
  const guilty = suspects.find(({ suspect }) => verdictOf(suspect) === verdict);
  for (const [id, size] of guilty?.beyondSound ?? []) {
    const whole = id.split(STEP)[0];
    showing.set(whole, size + (showing.get(whole) ?? 0));
  }
  return showing;
}

/** What was done to wake or to help a faulty circuit asks nothing of a sound one. */
function isTrial({ kind, at, helped }: Reading): boolean {
  return helped !== undefined || TRIALS.has(kind) || (kind === 'check' && TRIAL_CHECKS.has(at));
}

const TRIALS: ReadonlySet<Reading['kind']> = new Set([
  ...(['bridge', 'swap', 'direct-feed', 'module-bypass', 'new-fuse', 'disturb', 'fell-first'] as const),
]);
const TRIAL_CHECKS: ReadonlySet<string> = new Set(['tap_test', 'spray_mild', 'spray_volatile', 'pump_replaced']);

function resultOf(beyondSound: number): RepeatResult {
  if (beyondSound > FAILS) return 'fails';
  return beyondSound > SHOWS ? 'unclear' : 'passes';
}

/** Of readings that asked the same thing the most telling one. */
function onceEach(readings: readonly Reading[]): Reading[] {
  return readings.filter(
    (reading, i) =>
      !readings
        .slice(0, i)
        .some((earlier) => recordOf(earlier.id) === recordOf(reading.id) || sameQuestion(earlier, reading)),
  );
}

function remainingOf({ suspects }: Posterior, doubted: ReadonlySet<string>): Remaining[] {
  return suspects
    .map(({ suspect: { title, family }, beyondSound }) => ({
      title,
      family,
      log: [...beyondSound].reduce((sum, [id, value]) => (doubted.has(id) ? sum : sum + value), 0),
    }))
    .filter(({ log }) => log > SPEAKS)
    .sort((a, b) => b.log - a.log)
    .slice(0, MOST_REMAINING)
    .map(({ title, family }) => ({ title, family }));
}
