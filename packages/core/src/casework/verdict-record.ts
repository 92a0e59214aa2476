import type { CaseEvidence } from './from-case.js';
import { caseProfile, caseReadings, recordOf } from './from-case.js';
import { describeEvidence, sentenceOf } from '../evidence/describe.js';
import { FAMILY_NAMES, type Family } from '../terms/families.js';
import { VERDICTS, type Verdict } from '../terms/verdicts.js';
import type { PressureUnitName } from '../units/display.js';
import type { CaseLadder } from './case-ladder.js';
import { caseBench } from './case-bench.js';
import type { Diagnosis } from './diagnose.js';
import type { HouseRules } from '../rules/house-rules.js';

/** A family that was suspected and isn't any more, and the reading that took the most off it. */
export interface RuledOut {
  readonly family: Family;
  readonly probability: number;
  /** Absent where no single reading stands out. */
  readonly by?: string;
}

/** What a verdict rested on, as it stood when it was given; kept and sealed with it. */
export interface VerdictGrounds {
  readonly ruledOut: readonly RuledOut[];
  /** What isn't known, each in a sentence. */
  readonly notKnown: readonly string[];
  /** The staircase that was read last; absent where nothing of the path was read. */
  readonly ladder?: CaseLadder;
  /** The capture that spoke loudest for it; absent where none did. */
  readonly captureId?: string;
}

/** Below this share a family is ruled out; above it, and not condemned, it is still possible. */
const RULED_OUT = 0.02;
/** Of those that are still possible only the likeliest are named. */
const MOST_POSSIBLE = 3;

/**
 * What a verdict rests on, in words that stand for ever.
 * @param verdict what is decided
 */
export function verdictGrounds(
  evidence: CaseEvidence,
  diagnosis: Diagnosis,
  verdict: Verdict,
  rules: HouseRules,
  unit: PressureUnitName,
): VerdictGrounds {
  const profile = caseProfile(evidence.intake, evidence.system);
  const readings = caseReadings(evidence);
  const told = (id: string | undefined) => {
    const reading = readings.find((one) => one.id === id) ?? readings.find((one) => recordOf(one.id) === id);
    return reading && sentenceOf(describeEvidence(reading, profile, unit));
  };
  const condemned: readonly Family[] = VERDICTS[verdict];
  const others = diagnosis.families.filter(({ family }) => !condemned.includes(family));
  const suspectOf = (family: Family) => diagnosis.suspects.find((one) => one.family === family);
  const guilty = diagnosis.suspects.find((one) => condemned.includes(one.family));
  const speaks = guilty?.because.find((id) => evidence.captures.some((capture) => capture.id === recordOf(id)));
  const { ladders } = caseBench(evidence, rules);
  const ladder = ladders[ladders.length - 1];
  const isRead = ladder.rungs.some(({ volts }) => volts !== undefined);
  return {
    ruledOut: others
      .filter(({ family, probability }) => probability < RULED_OUT && suspectOf(family))
      .map(({ family, probability }) => {
        const by = told(suspectOf(family)?.against[0]);
        return { family, probability, ...(by !== undefined && { by }) };
      }),
    notKnown: [
      ...others
        .filter(({ probability }) => probability >= RULED_OUT)
        .slice(0, MOST_POSSIBLE)
        .map(
          ({ family, probability }) => `Not ruled out: ${FAMILY_NAMES[family]}, ${Math.round(100 * probability)} %.`,
        ),
      ...diagnosis.gate[verdict].missing.map((text) => `Not proven: ${text}`),
      ...diagnosis.contradictions.map(({ explanation }) => explanation),
    ],
    ...(isRead && { ladder }),
    ...(speaks !== undefined && { captureId: recordOf(speaks) }),
  };
}
