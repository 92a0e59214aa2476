import { NOT_POSSIBLE } from '../evidence/entry.js';
import { isAnswer } from '../evidence/part.js';
import type { Reading } from '../evidence/reading.js';
import { EVIDENCE } from '../evidence/registry.js';
import type { Contradiction } from '../inference/contradictions.js';
import type { Hypothesis } from '../inference/attribution.js';
import type { Posterior } from '../inference/posterior.js';
import type { Foretold, Question } from '../inference/question.js';
import { HEALTHY } from '../inference/suspects.js';
import type { HouseRules, Order } from '../rules/house-rules.js';
import type { Verdict } from '../terms/verdicts.js';
import type { Gate } from '../verdict/gates.js';
import { verdictOf } from '../verdict/verdict-of.js';
import { candidateTests, isDone, makeTest, type CandidateTest, type Circumstances } from './candidates.js';

export interface PlannedTest extends CandidateTest {
  /** Information expected of it, bits. */
  readonly bits: number;
  readonly why: string;
}

const POWERS_DIRECTLY: ReadonlySet<Reading['kind']> = new Set(['direct-feed', 'module-bypass']);
/** Hypotheses lighter than this don't change what to do next. */
const NEGLIGIBLE = 1e-3;
const BINS = 24;
const GROSS = 0.02;
/** A test that tells less parts nobody any more, bits. */
const DECIDES = 0.05;
/** Neither does one that tells less than this say anything. */
const NOTHING = 0.001;
/** What a proof that the likeliest verdict still lacks is worth, in bits, when that verdict is all but certain (house rule). */
const LACKING = 1.5;
/** Every test costs so much beside its own minutes: to set up, write down and think again (common practice, no published source). */
const BESIDE = 2;
/** A verdict lighter than this isn't worked for yet. */
const LIKELY = 0.3;
/** A reading is repeated so often, and then believed to be what it is. */
const MOST_REPEATS = 2;

export interface Plan {
  readonly posterior: Posterior;
  readonly readings: readonly Reading[];
  readonly contradictions: readonly Contradiction[];
  readonly gates: Readonly<Record<Verdict, Gate>>;
  readonly rules: Pick<HouseRules, 'order' | 'directFeed'>;
}

/** All tests that still say something, the best first: by what they tell and by what the likeliest verdict lacks, a minute. */
export function planTests({ posterior, readings, contradictions, gates, rules }: Plan): PlannedTest[] {
  const circumstances = circumstancesOf(posterior, readings);
  const lacks = lackingProofs(gates);
  const wanted = wantedSpeakers(gates, posterior);
  const again = repeats(contradictions, gates, readings);
  const heavy = posterior.hypotheses.filter(({ weight }) => weight > NEGLIGIBLE);
  const own = candidateTests(posterior.vehicle, circumstances);
  const known = new Set(own.map(({ id }) => id));
  const asked = [...lacks.keys()]
    .map((key) => makeTest(posterior.vehicle, JSON.parse(key) as Question, circumstances))
    .filter(({ id }) => !known.has(id));
  const planned = [...own, ...asked]
    .filter((test) => !isDone(test, readings) || again.has(test.id))
    .filter(({ question: { kind } }) => rules.directFeed !== 'never' || !POWERS_DIRECTLY.has(kind))
    .map((test): PlannedTest & { readonly serves: number } => {
      const { bits, parted } = again.has(test.id) ? { bits: 0, parted: [] } : expectedBits(test, posterior, heavy);
      const bears = wanted.reduce(
        (sum, { value, hypothesis }) => sum + value * bearing(test, posterior, hypothesis),
        0,
      );
      const lacking = lacks.get(keyOf(test.question));
      const serves = (lacking?.value ?? 0) + bears + (again.has(test.id) ? LACKING / 2 : 0);
      const why = again.has(test.id)
        ? 'Much hangs on it: read it again before it is believed.'
        : serves > bits
          ? (lacking?.text ?? 'Another reading that bears on what is suspected.')
          : bits < DECIDES
            ? 'Confirms what is suspected.'
            : reason(parted);
      return { ...test, bits, why, serves };
    })
    .filter(({ bits, serves }) => bits > NOTHING || serves > 0);
  return planned.sort(byOrder(rules.order, posterior)).map(({ serves: _serves, ...test }) => test);
}

const keyOf = ({ kind, at, keyState, reference }: Question): string =>
  JSON.stringify({ kind, at, keyState, ...(reference && { reference }) });

/** What the likely verdicts still lack, by the question that would answer it, and its worth in bits. */
function lackingProofs(gates: Plan['gates']): ReadonlyMap<string, { readonly value: number; readonly text: string }> {
  const worth = new Map<string, { value: number; text: string }>();
  for (const { weight, allowed, proofs } of Object.values(gates)) {
    if (allowed || weight < LIKELY) continue;
    const lacking = proofs.filter(({ met, asks }) => !met && asks && asks.length > 0);
    for (const { asks = [], text } of lacking) {
      for (const question of asks) {
        const key = keyOf(question);
        const known = worth.get(key);
        const value = (LACKING * weight * weight) / lacking.length;
        worth.set(key, { value: (known?.value ?? 0) + value, text: known?.text ?? text });
      }
    }
  }
  return worth;
}

/** Likely verdicts that lack readings which bear on them: the likeliest size of what they condemn, and what one is worth. */
function wantedSpeakers(
  gates: Plan['gates'],
  posterior: Posterior,
): readonly { readonly value: number; readonly hypothesis: Hypothesis }[] {
  return Object.values(gates).flatMap(({ weight, allowed, proofs, suspect }) => {
    if (allowed || weight < LIKELY || !proofs.some(({ met, asksAnything }) => !met && asksAnything)) return [];
    const own = posterior.hypotheses.filter((h) => h.suspect.id === suspect);
    if (own.length === 0) return [];
    return [{ value: LACKING * weight * weight, hypothesis: own.reduce((a, b) => (b.weight > a.weight ? b : a)) }];
  });
}

/** So much information about suspect against sound, in natural units, makes a reading bear on it. */
const BEARS = 1.5;

/** How surely a test would show the suspect where a sound vehicle shows otherwise, 0 to 1: the Kullback-Leibler divergence. */
function bearing(test: CandidateTest, posterior: Posterior, { severity }: Hypothesis): number {
  const foretell = posterior.foreteller(test.question, EVIDENCE[test.question.kind].probe);
  const sound = foretell(HEALTHY);
  const divergence = foretell(severity).map((one, part) => {
    const other = sound[part];
    if (!other) return 0;
    if (!isAnswer(one) && !isAnswer(other)) return (one.mean - other.mean) ** 2 / (2 * (other.sd ** 2 + one.sd ** 2));
    if (!isAnswer(one) || !isAnswer(other)) return 0;
    return Object.entries(one.shares).reduce(
      (sum, [name, p]) => sum + p * Math.log(p / (other.shares[name] ?? 0.003)),
      0,
    );
  });
  const most = Math.max(0, ...divergence);
  return most < BEARS / 2 ? 0 : Math.min(1, most / BEARS);
}

/** Readings that contradict the rest and were not repeated often enough yet, by their test's id. */
function repeats(
  contradictions: readonly Contradiction[],
  gates: Plan['gates'],
  readings: readonly Reading[],
): ReadonlySet<string> {
  const lone = Object.values(gates).flatMap(({ weight, proofs }) =>
    weight < LIKELY ? [] : proofs.flatMap(({ again }) => (again === undefined ? [] : [again])),
  );
  const doubted = contradictions
    .filter(({ settled, wrongPart, readings: ids }) => !settled && wrongPart === undefined && ids.length <= 2)
    .flatMap(({ readings: ids }) => ids.slice(-1));
  const ids = readings
    .filter(({ id, kind }) => (doubted.includes(id) && kind !== 'battery') || lone.includes(id))
    .filter((reading) => {
      const asked = readings.filter(
        (r) => r.kind === reading.kind && r.at === reading.at && r.keyState === reading.keyState,
      );
      return asked.length <= MOST_REPEATS && asked.every(({ value }) => value !== NOT_POSSIBLE);
    })
    .map(({ kind, at, keyState, reference }) =>
      [kind, at, keyState, kind === 'voltage' ? (reference ?? 'battery-') : reference].filter(Boolean).join(':'),
    );
  return new Set(ids);
}

/** Below this share of its pressure an engine hardly starts (common practice, no published source). */
const STARTS = 0.55;

function circumstancesOf(posterior: Posterior, readings: readonly Reading[]): Circumstances {
  const ran = readings.some(
    ({ keyState, faultPresent, kind }) =>
      (keyState === 'idle' || keyState === 'loaded') && faultPresent && kind !== 'check',
  );
  let starts = 0;
  let turns = 0;
  let stands = 0;
  for (const { severity, weight } of posterior.hypotheses) {
    if (weight < NEGLIGIBLE) continue;
    const { now } = posterior.scene(severity, { kind: 'pressure', at: 'rail', keyState: 'cranking' });
    const { lacks: what } = severity.fault;
    const lacks = what !== undefined && what !== 'air' && what !== 'other';
    if (now.railPa > STARTS * now.desiredPa && !lacks && severity.fault.fuel === undefined) starts += weight;
    if (now.speed > 0.05) turns += weight;
    if (now.locked) stands += weight;
  }
  const said = posterior.complaint;
  const engineRuns = ran || (said === 'no-start' ? false : said === 'none' || said === 'other' ? starts > 0.5 : true);
  return { engineRuns, silent: turns < 0.5, burns: stands > 0.5, comesAndGoes: posterior.comesAndGoes > 0.5 };
}

function byOrder(order: Order, { vehicle }: Posterior) {
  type Valued = PlannedTest & { readonly serves: number };
  const value = ({ bits, serves, minutes }: Valued) => (bits + serves) / (minutes + BESIDE);
  const best = (a: Valued, b: Valued) => value(b) - value(a);
  if (order === 'best-value') return best;
  const { pumpAt } = vehicle;
  const distance = ({ place, question }: Valued) => {
    if (place === undefined || question.kind !== 'voltage') return Infinity;
    if (order === 'source-first') return place;
    return Math.abs(place - (order === 'pump-first' ? pumpAt : Math.round(pumpAt / 2)));
  };
  // A house order is for the path; a test that tells nothing is never proposed first.
  const tells = ({ bits, serves }: Valued) => (bits + serves > 0.02 ? 0 : 1);
  return (a: Valued, b: Valued) => tells(a) - tells(b) || compare(distance(a), distance(b)) || best(a, b);
}

function compare(a: number, b: number): number {
  return a === b ? 0 : a < b ? -1 : 1;
}

interface Information {
  readonly bits: number;
  /** The two suspects that the test parts best. */
  readonly parted: readonly string[];
}

/** Suspects that come to the same repair of the same part: telling them apart decides nothing. */
interface Group {
  weight: number;
  readonly title: string;
  readonly answers: Float64Array;
}

/**
 * Mutual information between what would be decided and the test's answer: H(answer) - H(answer given the decision), with
 * numbers sorted into bins. Of a test with several parts the best counts whole and the others half: they say much the same.
 */
function expectedBits(test: CandidateTest, posterior: Posterior, heavy: readonly Hypothesis[]): Information {
  const foretell = posterior.foreteller(test.question, EVIDENCE[test.question.kind].probe);
  const foretold = heavy.map(({ severity }) => foretell(severity));
  const parts = Math.max(0, ...foretold.map((own) => own.length));
  const all = Array.from({ length: parts }, (_, part) =>
    ofPart(
      foretold.map((own) => own[part]),
      heavy,
    ),
  );
  const [best, ...others] = all.sort((a, b) => b.bits - a.bits);
  return best
    ? { ...best, bits: best.bits + others.reduce((sum, { bits }) => sum + bits, 0) / 2 }
    : { bits: 0, parted: [] };
}

function ofPart(foretold: readonly (Foretold | undefined)[], heavy: readonly Hypothesis[]): Information {
  const table = answerTable(foretold);
  if (!table) return { bits: 0, parted: [] };
  const groups = new Map<string, Group>();
  const all = new Float64Array(table.width);
  let total = 0;
  heavy.forEach(({ suspect, weight }, h) => {
    const name = `${verdictOf(suspect)}/${suspect.station ?? ''}`;
    let own = groups.get(name);
    if (!own) groups.set(name, (own = { weight: 0, title: suspect.title, answers: new Float64Array(table.width) }));
    own.weight += weight;
    total += weight;
    for (let a = 0; a < table.width; a++) {
      const share = weight * table.shares[h * table.width + a];
      own.answers[a] += share;
      all[a] += share;
    }
  });
  let bits = entropy(all, total);
  for (const { answers, weight } of groups.values()) bits -= (weight / total) * entropy(answers, weight);
  return { bits: Math.max(0, bits), parted: mostParted([...groups.values()]) };
}

function entropy(shares: Float64Array, total: number): number {
  let bits = 0;
  for (const share of shares) if (share > 0) bits -= (share / total) * Math.log2(share / total);
  return bits;
}

/** Of the heaviest suspects, the pair whose answers overlap least. */
function mostParted(groups: readonly Group[]): readonly string[] {
  const [first, ...others] = [...groups].sort((a, b) => b.weight - a.weight).slice(0, 5);
  if (!first || others.length === 0) return [];
  const overlap = (other: Group) => {
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
  return a && b ? `Decides between “${a}” and “${b}”.` : 'Confirms what is suspected.';
}

interface AnswerTable {
  readonly width: number;
  /** Share of each answer under each hypothesis, row by row. */
  readonly shares: Float64Array;
}

function answerTable(foretold: readonly (Foretold | undefined)[]): AnswerTable | undefined {
  const first = foretold.find((one) => one !== undefined);
  if (!first) return undefined;
  if (isAnswer(first)) {
    const names = [...new Set(foretold.flatMap((one) => (one && isAnswer(one) ? Object.keys(one.shares) : [])))];
    const shares = new Float64Array(foretold.length * names.length);
    foretold.forEach((one, h) => {
      names.forEach(
        (name, a) =>
          (shares[h * names.length + a] = one && isAnswer(one) ? (one.shares[name] ?? 0.003) : 1 / names.length),
      );
    });
    return { width: names.length, shares };
  }
  let low = Infinity;
  let high = -Infinity;
  for (const one of foretold) {
    if (!one || isAnswer(one)) continue;
    low = Math.min(low, one.mean - 3 * one.sd);
    high = Math.max(high, one.mean + 3 * one.sd);
  }
  const shares = new Float64Array(foretold.length * BINS);
  foretold.forEach((one, h) => {
    let before = 0;
    for (let a = 0; a < BINS; a++) {
      if (!one || isAnswer(one)) {
        shares[h * BINS + a] = 1 / BINS;
        continue;
      }
      const edge = a === BINS - 1 ? 1 : normalCdf((low + ((a + 1) * (high - low)) / BINS - one.mean) / one.sd);
      shares[h * BINS + a] = (1 - GROSS) * (edge - before) + GROSS / BINS;
      before = edge;
    }
  });
  return { width: BINS, shares };
}

/** Normal distribution function by the logistic approximation of Bowling et al. (2009), within 1.4e-4. */
function normalCdf(z: number): number {
  return 1 / (1 + Math.exp(-z * (1.5976 + 0.07056 * z * z)));
}
