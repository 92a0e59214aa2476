import type { RampResult } from './current/types.js';
import type { CutStep } from './pulses/sweep-steps.js';

/** The command steps first, and the current with it: of a step's own run so much may lie outside of it, s. */
const LAG_S = 0.3;

/**
 * Puts beside each step of a sweep how fast the pump turned in it, where the humps were counted and not assumed: a speed that
 * rests on a guess belongs to no evidence.
 */
export function withSpeeds(steps: readonly CutStep[], ramp: RampResult | undefined): CutStep[] {
  if (!ramp?.humps || ramp.humps.basis === 'assumed') return [...steps];
  return steps.map((step) => {
    const runs = (ramp.runs ?? []).filter(
      ({ steady, rpm }) =>
        rpm !== undefined && steady && steady.fromS >= step.fromS - LAG_S && steady.toS <= step.toS + LAG_S,
    );
    const longest = runs.reduce<(typeof runs)[number] | undefined>(
      (a, b) => (a && a.toS - a.fromS >= b.toS - b.fromS ? a : b),
      undefined,
    );
    return longest?.rpm === undefined ? step : { ...step, rpm: longest.rpm };
  });
}
