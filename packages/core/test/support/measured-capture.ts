import { analyzeRamp } from '../../src/measure/current/analyze-ramp.js';
import { wideCapture } from '../../src/simulate/wide-capture.js';

/** What a pump with bad bars is called. */
export const BURNT: readonly string[] = ['locked-notch', 'burnt-bars', 'dead-stretch'];

/** A drawn record with what is true of it, and what is read of it. */
export function measured(seed: number) {
  const capture = wideCapture(seed);
  return { ...capture, ...analyzeRamp(capture, capture.sampleRateHz, 0) };
}
