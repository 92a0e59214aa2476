import { DEFAULT_HOUSE_RULES, type HouseRules, type Order } from '../rules/house-rules.js';
import { isOptions, type Expectation } from './expectation.js';
import { expect, helpOf, partsOf } from './observe.js';
import type { Situation } from './situation.js';
import type { Hypothesis, Posterior } from './posterior.js';
import type { Reading } from './reading.js';
import { candidateTests, isDone, type CandidateTest } from './tests.js';

export interface PlannedTest extends CandidateTest {
  /** Information expected of it, bits. */
  readonly bits: number;
  readonly why: string;
}

const POWERS_DIRECTLY: ReadonlySet<Reading['kind']> = new Set(['direct-feed', 'module-bypass']);
/** Hypotheses lighter than this don't change what to do next. */
const NEGLIGIBLE = 5e-4;
const BINS = 24;
const GROSS = 0.025;
/** A test that tells less parts nobody any more, bits. */
const DECIDES = 0.05;

/** All tests not yet done, the best first. */
export function planTests(
  posterior: Posterior,
  readings: readonly Reading[],
  { order, directFeed }: Pick<HouseRules, 'order' | 'directFeed'> = DEFAULT_HOUSE_RULES,
): PlannedTest[] {
  const heavy = posterior.hypotheses.filter(({ weight }) => weight > NEGLIGIBLE);
  const planned = candidateTests(posterior.path)
    .filter((test) => !isDone(test, readings))
    .filter(({ question: { kind } }) => directFeed !== 'never' || !POWERS_DIRECTLY.has(kind))
    .map((test): PlannedTest => {
      const { bits, parted } = expectedBits(test, posterior, heavy);
      return { ...test, bits, why: bits < DECIDES ? 'Confirms what is suspected.' : reason(parted) };
    });
  return planned.sort(byOrder(order, posterior));
}

function byOrder(order: Order, { path }: Posterior): (a: PlannedTest, b: PlannedTest) => number {
  const value = ({ bits, minutes }: PlannedTest) => bits / (minutes + 0.5);
  const best = (a: PlannedTest, b: PlannedTest) => value(b) - value(a);
  if (order === 'best-value') return best;
  const { pumpAt } = path;
  const distance = ({ place, question }: PlannedTest) => {
    if (place === undefined || question.kind !== 'voltage') return Infinity;
    if (order === 'source-first') return place;
    return Math.abs(place - (order === 'pump-first' ? pumpAt : Math.round(pumpAt / 2)));
  };
  // A house order is for the path; a test that tells nothing is never proposed first.
  const tells = ({ bits }: PlannedTest) => (bits > 0.02 ? 0 : 1);
  return (a, b) => tells(a) - tells(b) || compare(distance(a), distance(b)) || best(a, b);
}

function compare(a: number, b: number): number {
  return a === b ? 0 : a < b ? -1 : 1;
}

interface Information {
  readonly bits: number;
  /** The two suspects that the test parts best. */
  readonly parted: readonly string[];
}

/**
 * Mutual information between the suspects and the test's answer: H(answer) - H(answer given the suspect), with numbers
 * sorted into bins. Severities of one suspect count together: which of them it is decides nothing.
 */
function expectedBits(test: CandidateTest, posterior: Posterior, heavy: readonly Hypothesis[]): Information {
  const table = answerTable(test, posterior, heavy);
  if (!table) return { bits: 0, parted: [] };
  const suspects = new Map<string, { weight: number; title: string; answers: Float64Array }>();
  const all = new Float64Array(table.width);
  let total = 0;
  heavy.forEach(({ suspect, weight }, h) => {
    let own = suspects.get(suspect.id);
    if (!own)
      suspects.set(suspect.id, (own = { weight: 0, title: suspect.title, answers: new Float64Array(table.width) }));
    own.weight += weight;
    total += weight;
    for (let a = 0; a < table.width; a++) {
      const share = weight * table.shares[h * table.width + a];
      own.answers[a] += share;
      all[a] += share;
    }
  });
  let bits = entropy(all, total);
  for (const { answers, weight } of suspects.values()) bits -= (weight / total) * entropy(answers, weight);
  return { bits: Math.max(0, bits), parted: mostParted([...suspects.values()]) };
}

function entropy(shares: Float64Array, total: number): number {
  let bits = 0;
  for (const share of shares) if (share > 0) bits -= (share / total) * Math.log2(share / total);
  return bits;
}

/** Of the heaviest suspects, the pair whose answers overlap least. */
function mostParted(suspects: readonly { weight: number; title: string; answers: Float64Array }[]): readonly string[] {
  const [first, ...others] = [...suspects].sort((a, b) => b.weight - a.weight).slice(0, 5);
  if (!first || others.length === 0) return [];
  const overlap = (other: (typeof others)[number]) => {
    let sum = 0;
    for (let a = 0; a < first.answers.length; a++) {
      sum += Math.min(first.answers[a] / first.weight, other.answers[a] / other.weight);
    }
    return sum;
  };
  const rival = others.reduce((a, b) => (overlap(b) < overlap(a) ? b : a));
  return [first.title, rival.title];
}

function reason(parted: readonly string[]): string {
  const [a, b] = parted;
  return a && b ? `Tells ${lower(a)} from ${lower(b)}.` : 'Confirms what is suspected.';
}

function lower(title: string): string {
  return title.charAt(0).toLowerCase() + title.slice(1);
}

interface AnswerTable {
  readonly width: number;
  /** Share of each answer under each hypothesis, row by row. */
  readonly shares: Float64Array;
}

function answerTable(test: CandidateTest, posterior: Posterior, heavy: readonly Hypothesis[]): AnswerTable | undefined {
  const { question } = test;
  const all = posterior.forEachFault(`test/${test.id}`, (fault) =>
    foreseen(test, posterior.situation(fault, question.keyState, helpOf(question.kind))),
  );
  const expected = heavy.map(({ index }) => all[index]);
  const [first] = expected;
  if (!first) return undefined;
  if (isOptions(first)) {
    const names = Object.keys(first.options);
    const shares = new Float64Array(heavy.length * names.length);
    expected.forEach((e, h) => {
      if (e && isOptions(e)) names.forEach((name, a) => (shares[h * names.length + a] = e.options[name] ?? 0));
    });
    return { width: names.length, shares };
  }
  let low = Infinity;
  let high = -Infinity;
  for (const e of expected) {
    if (!e || isOptions(e)) continue;
    low = Math.min(low, e.mean - 3 * e.sd);
    high = Math.max(high, e.mean + 3 * e.sd);
  }
  const shares = new Float64Array(heavy.length * BINS);
  expected.forEach((e, h) => {
    if (!e || isOptions(e)) return;
    let before = 0;
    for (let a = 0; a < BINS; a++) {
      const edge = a === BINS - 1 ? 1 : normalCdf((low + ((a + 1) * (high - low)) / BINS - e.mean) / e.sd);
      shares[h * BINS + a] = (1 - GROSS) * (edge - before) + GROSS / BINS;
      before = edge;
    }
  });
  return { width: BINS, shares };
}

/** A capture, a volume and a hold test are foreseen by the part of them that tells most. */
function foreseen({ question }: CandidateTest, situation: Situation): Expectation | undefined {
  const probe = PROBES[question.kind];
  if (!probe) return expect(question, situation);
  return partsOf({ ...question, ...probe }, situation)[0]?.expected;
}

const PROBES: Partial<Record<Reading['kind'], Pick<Reading, 'id' | 'value' | 'faultPresent'>>> = {
  capture: { id: '', value: { pattern: 'even' }, faultPresent: true },
  volume: { id: '', value: { volumeM3: 0.5e-3, durationS: 15 }, faultPresent: true },
  hold: {
    id: '',
    value: {
      points: [
        [0, 3e5],
        [60, 2.9e5],
        [120, 2.8e5],
        [240, 2.7e5],
      ],
      blocked: 'none',
    },
    faultPresent: true,
  },
};

/** Normal distribution function by the logistic approximation of Bowling et al. (2009), within 1.4e-4. */
function normalCdf(z: number): number {
  return 1 / (1 + Math.exp(-z * (1.5976 + 0.07056 * z * z)));
}
