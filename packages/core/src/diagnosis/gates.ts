import type { HouseRules } from '../rules/house-rules.js';
import type { Contradiction } from './contradictions.js';
import { FAMILY_NAMES, type Family } from './families.js';
import type { Proof } from './loaded-proof.js';
import type { Posterior } from './posterior.js';
import type { CaptureResult, Reading } from './reading.js';
import {
  fuelSideProofs,
  moduleProofs,
  pumpProofs,
  relayProofs,
  sensorProofs,
  soundProofs,
  type VerdictProofs,
} from './verdict-proofs.js';

/** What can be decided, and the families that it condemns. */
export const VERDICTS = {
  'replace-pump': ['pump-electrical', 'pump-mechanical'],
  'replace-relay': ['relay-contact'],
  'repair-relay-control': ['relay-control'],
  'replace-module': ['module'],
  'repair-module-command': ['module-command'],
  'repair-feed-wiring': ['feed-wiring'],
  'repair-ground': ['ground-wiring'],
  'replace-fuse': ['fuse'],
  'replace-switch': ['cutoff-switch'],
  'repair-battery': ['supply'],
  'replace-sensor': ['sensor'],
  'repair-fuel-side': ['hydraulic'],
  'no-fault-found': ['healthy', 'not-fuel'],
} as const satisfies Readonly<Record<string, readonly Family[]>>;
export type Verdict = keyof typeof VERDICTS;

export interface GateResult {
  readonly allowed: boolean;
  /** What is still to be proven, in plain words. */
  readonly missing: readonly string[];
  /** What it rests on already. */
  readonly proven: readonly string[];
}

/** Weight that a verdict needs, and the most that any other family may keep (house rule, no published source). */
const ENOUGH = 0.9;
const RIVAL = 0.06;
/** A reading that speaks this much for a family, as a natural logarithm, is a proof of its own. */
const SPEAKS = 0.7;
const PROOFS = 2;

/** What a verdict needs beside its weight; wiring and contacts are convicted by the volts themselves. */
const PROOFS_OF: Partial<Record<Verdict, VerdictProofs>> = {
  'replace-pump': pumpProofs,
  'replace-module': moduleProofs,
  'replace-relay': relayProofs,
  'replace-sensor': sensorProofs,
  'repair-fuel-side': fuelSideProofs,
  'no-fault-found': soundProofs,
};

/** Every verdict's gate. */
export function verdictGates(
  posterior: Posterior,
  readings: readonly Reading[],
  contradictions: readonly Contradiction[],
  rules: HouseRules,
): Record<Verdict, GateResult> {
  const present = readings.filter(({ faultPresent }) => faultPresent);
  const gate = (verdict: Verdict): GateResult => {
    const families: readonly Family[] = VERDICTS[verdict];
    const doubts = contradictions
      .filter(({ spoils }) => !spoils || !families.includes(spoils))
      .map(({ explanation }): Proof => ({ met: false, text: explanation }));
    const proofs = [
      weightProof(posterior, families, verdict === 'replace-pump' ? rules.pumpWeight : ENOUGH),
      // Soundness is the sum of many small things; each says little.
      ...(verdict === 'no-fault-found' ? [] : [speakingProof(posterior, readings, families, rules)]),
      ...(PROOFS_OF[verdict]?.(posterior, present, rules) ?? []),
      ...doubts,
    ];
    const texts = (met: boolean) => proofs.filter((proof) => proof.met === met).map(({ text }) => text);
    const missing = texts(false);
    return { allowed: missing.length === 0, missing, proven: texts(true) };
  };
  const verdicts = Object.keys(VERDICTS) as Verdict[];
  return Object.fromEntries(verdicts.map((verdict) => [verdict, gate(verdict)])) as Record<Verdict, GateResult>;
}

function weightProof({ families: weights }: Posterior, families: readonly Family[], enough: number): Proof {
  const own = families.reduce((sum, family) => sum + (weights.get(family) ?? 0), 0);
  const [rival] = [...weights].filter(([family]) => !families.includes(family));
  const met = own >= enough && rival[1] <= RIVAL;
  const beside = `next to it stands ${FAMILY_NAMES[rival[0]]} with ${percent(rival[1])}`;
  return {
    met,
    text: met
      ? `The evidence gives this ${percent(own)}; ${beside}.`
      : `The evidence gives this ${percent(own)}, it needs ${percent(enough)}; ${beside}.`,
  };
}

function percent(share: number): string {
  // Nothing here is ever certain.
  return `${Math.min(99, Math.round(100 * share))} %`;
}

/** Two readings of their own, so that no single slip convicts anyone; a notch at every turn repeats itself. */
function speakingProof(
  { suspects }: Posterior,
  readings: readonly Reading[],
  families: readonly Family[],
  { waveform }: HouseRules,
): Proof {
  const best = suspects.find(({ suspect }) => families.includes(suspect.family));
  if (!best) return { met: false, text: 'There is nothing of the kind in this path.' };
  const speaking = readings.filter(({ id, faultPresent }) => faultPresent && (best.evidence.get(id) ?? 0) > SPEAKS);
  const repeats = waveform === 'with-supply' && speaking.some(isLocked);
  const missing = repeats ? 0 : PROOFS - speaking.length;
  return missing > 0
    ? {
        met: false,
        text: `Take ${missing === 1 ? 'one more reading that bears' : 'two readings that bear'} on it, with the fault present.`,
      }
    : {
        met: true,
        text: repeats
          ? 'The capture shows it again at every turn.'
          : `${speaking.length} readings bear on it, each by itself.`,
      };
}

/** A dropout that comes back with the rotor is one of its bars, seen as often as it turned. */
function isLocked({ kind, value }: Reading): boolean {
  const pattern = kind === 'capture' ? (value as CaptureResult).pattern : undefined;
  return pattern === 'locked-notch' || pattern === 'burnt-bars';
}
