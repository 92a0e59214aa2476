import type { HoldRecord } from '../measure/pressure/hold-record.js';
import type { CaptureResult } from '../evidence/records.js';
import type { Reading } from '../evidence/reading.js';
import type { Contradiction } from '../inference/contradictions.js';
import type { Posterior } from '../inference/posterior.js';
import type { Suspect } from '../inference/suspects.js';
import type { HouseRules } from '../rules/house-rules.js';
import { FAMILY_NAMES } from '../terms/families.js';
import { Facts } from './facts.js';
import { met, missing, type Proof } from './proof.js';
import { PROOFS_OF } from './verdict-proofs.js';
import { VERDICTS, type Verdict } from '../terms/verdicts.js';
import { verdictOf } from './verdict-of.js';

/** Whether the evidence allows a verdict, and what it still asks for. */
export interface GateResult {
  readonly allowed: boolean;
  /** Which part it would condemn: a station of the path; absent where the verdict names none. */
  readonly station?: string;
  /** What is still to be proven, in plain words. */
  readonly missing: readonly string[];
  /** What it rests on already. */
  readonly proven: readonly string[];
}

/** A gate with what would open it, for the planner. */
export interface Gate extends GateResult {
  readonly weight: number;
  /** Its likeliest suspect; absent where the path has none. */
  readonly suspect?: string;
  readonly proofs: readonly Proof[];
}

/**
 * Weight that a verdict needs, and the most that any other may keep (house rule, no published source). Clearing a vehicle takes
 * less than condemning a part: against it stand many small suspicions that nothing will ever rule out whole.
 */
const ENOUGH = 0.9;
const RIVAL = 0.06;
const CLEARED = { enough: 0.8, rival: 0.1 } as const;
/** A reading that a suspect explains so much better than a sound vehicle, as a natural logarithm, bears on it. */
const SPEAKS = 0.7;
const PROOFS = 2;

/** Every verdict's gate. */
export function verdictGates(
  posterior: Posterior,
  readings: readonly Reading[],
  contradictions: readonly Contradiction[],
  rules: HouseRules,
): Record<Verdict, Gate> {
  const facts = new Facts(posterior.vehicle, readings);
  const weights = verdictWeights(posterior);
  const gate = (verdict: Verdict): Gate => {
    const suspect = posterior.suspects.find((one) => verdictOf(one.suspect) === verdict);
    if (!suspect)
      return { allowed: false, missing: [NOTHING_SUCH], proven: [], weight: 0, proofs: [missing(NOTHING_SUCH)] };
    const own = PROOFS_OF[verdict]({ suspect: suspect.suspect, facts, posterior, rules });
    const speaking = facts.readings.filter(({ id }) => (suspect.beyondSound.get(id) ?? 0) > SPEAKS);
    const rests = new Set([...speaking.map(({ id }) => id), ...own.flatMap(({ from = [] }) => from)]);
    const proofs = [
      weightProof(weights, verdict, rules),
      // Soundness is the sum of many small things; each says little.
      ...(verdict === 'no-fault-found' ? [] : [speakingProof(speaking, verdict, rules)]),
      ...own,
      ...contradictions
        .filter(({ settled, excuses, wrongPart }) => !settled && wrongPart === undefined && !excuses?.includes(verdict))
        .filter(({ readings: spoilt }) => spoilt.some((id) => rests.has(id)))
        .map(({ explanation }) => missing(explanation)),
      ...tampered(facts, suspect.suspect, contradictions, verdict),
    ];
    const texts = (isMet: boolean) => [
      ...new Set(proofs.filter((proof) => proof.met === isMet).map(({ text }) => text)),
    ];
    const lacking = texts(false);
    const { station } = suspect.suspect;
    return {
      allowed: lacking.length === 0,
      ...(station !== undefined && { station }),
      missing: lacking,
      proven: texts(true),
      weight: weights.get(verdict) ?? 0,
      suspect: suspect.suspect.id,
      proofs,
    };
  };
  const verdicts = Object.keys(VERDICTS) as Verdict[];
  return Object.fromEntries(verdicts.map((verdict) => [verdict, gate(verdict)])) as Record<Verdict, Gate>;
}

const NOTHING_SUCH = 'There is nothing of the kind in this path.';

/** What all suspects of a verdict weigh together. */
export function verdictWeights({ suspects }: Pick<Posterior, 'suspects'>): ReadonlyMap<Verdict, number> {
  const sums = new Map<Verdict, number>();
  for (const { suspect, probability } of suspects) {
    const verdict = verdictOf(suspect);
    sums.set(verdict, (sums.get(verdict) ?? 0) + probability);
  }
  return sums;
}

/** Share of the weight, 0 to 1, that a verdict needs for itself. */
export function weightNeeded(verdict: Verdict, rules: HouseRules): number {
  if (verdict === 'no-fault-found') return CLEARED.enough;
  return verdict === 'replace-pump' ? rules.pumpWeight : ENOUGH;
}

function weightProof(weights: ReadonlyMap<Verdict, number>, verdict: Verdict, rules: HouseRules): Proof {
  const clears = verdict === 'no-fault-found';
  const enough = weightNeeded(verdict, rules);
  const most = clears ? CLEARED.rival : RIVAL;
  const own = weights.get(verdict) ?? 0;
  const [rival, beside] = [...weights]
    .filter(([other]) => other !== verdict)
    .reduce((a, b) => (b[1] > a[1] ? b : a), ['no-fault-found', 0] as [Verdict, number]);
  const next = `next to it stands ${FAMILY_NAMES[VERDICTS[rival][0]]} with ${percent(beside)}`;
  if (own >= enough && beside <= most) return met(`The evidence gives this ${percent(own)}; ${next}.`);
  return missing(
    own >= enough
      ? `The evidence gives this ${percent(own)}, but ${next}: it may keep ${percent(most)} at most.`
      : `The evidence gives this ${percentBelow(own, enough)}, it needs ${percent(enough)}; ${next}.`,
  );
}

function percent(share: number): string {
  // Nothing here is ever certain.
  return `${Math.min(99, Math.round(100 * share))} %`;
}

/** Never rounds up to what it falls short of. */
function percentBelow(share: number, enough: number): string {
  return Math.round(100 * share) >= Math.round(100 * enough) ? `just under ${percent(enough)}` : percent(share);
}

/** Two readings of different things, so that no single slip convicts anyone; a notch at every turn repeats itself. */
function speakingProof(speaking: readonly Reading[], verdict: Verdict, { waveform }: HouseRules): Proof {
  const asked = new Set(speaking.map(({ kind, at }) => `${kind}/${at}`));
  const ids = speaking.map(({ id }) => id);
  const repeats = verdict === 'replace-pump' && waveform === 'with-supply' && speaking.some(isLocked);
  if (repeats) return met('The capture shows it again at every turn.', ids);
  if (speaking.some(isWatched)) return met('The pressure was watched as it fell, reading after reading.', ids);
  const lacking = PROOFS - asked.size;
  return lacking > 0
    ? {
        met: false,
        text: `Take ${lacking === 1 ? 'one more reading of something else that bears' : 'two readings of different things that bear'} on it, with the fault present.`,
        asksAnything: true,
      }
    : met(`${asked.size} readings of different things bear on it.`, ids);
}

/** A dropout that comes back with the rotor is one of its bars, seen as often as it turned. */
function isLocked({ kind, value }: Reading): boolean {
  const pattern = kind === 'capture' ? (value as CaptureResult).pattern : undefined;
  return pattern === 'locked-notch' || pattern === 'burnt-bars' || pattern === 'dead-stretch';
}

/** A hold test is many readings, one after the other. */
function isWatched({ kind, value }: Reading): boolean {
  return kind === 'hold' && typeof value === 'object' && (value as HoldRecord).points.length >= WATCHED_POINTS;
}

const WATCHED_POINTS = 5;

/** Before a part goes out: no crash event that holds the pump off, and nothing left in the path that doesn't belong there. */
function tampered(facts: Facts, suspect: Suspect, contradictions: readonly Contradiction[], verdict: Verdict): Proof[] {
  if (verdict === 'no-fault-found') return [];
  const event = facts.newest('check', 'restraint_event');
  const proofs: Proof[] = contradictions
    .filter(
      ({ wrongPart, excuses }) =>
        wrongPart !== undefined && wrongPart !== suspect.station && !excuses?.includes(verdict),
    )
    .map(({ explanation }) => missing(explanation));
  if (event?.value === 'stored') {
    proofs.push(
      missing(
        'A crash event is stored and holds the pump off by design: clear it by the maker’s procedure first.',
        [],
        [event.id],
      ),
    );
  }
  return proofs;
}
