import type { RunResult } from './current/types.js';
import type { CutStep } from './pulses/sweep-steps.js';

/** The command steps first, and the current with it: of a step's own run so much may lie outside of it, s. */
const LAG_S = 0.3;

/**
 * Puts beside each step of a sweep how fast the pump turned in it, where the humps of that very run were counted and not
 * assumed: a speed that rests on a guess belongs to no evidence.
 */
export function withSpeeds(steps: readonly CutStep[], runs: readonly RunResult[] = []): CutStep[] {
  const counted = runs.filter(({ rpm, basis = 'assumed' }) => rpm !== undefined && basis !== 'assumed');
  return steps.map((step) => {
    const within = counted.filter(
      ({ steady }) => steady && steady.fromS >= step.fromS - LAG_S && steady.toS <= step.toS + LAG_S,
    );
    const [longest] = within.sort((a, b) => b.toS - b.fromS - (a.toS - a.fromS));
    return longest?.rpm === undefined ? step : { ...step, rpm: longest.rpm };
  });
}
