import { analyzeRamp } from '../src/measure/current/analyze-ramp.js';
import { intermittentRecord } from '../src/simulate/wide-intermittent.js';

// Which line of a rotor is followed, and what a slow recorder folds: drawn records with a speed that is known.

it('keeps a faint line of one a turn by a stronger one of many', () => {
  const { currentA, sampleRateHz, truth } = intermittentRecord(113_143);
  const { ramp } = analyzeRamp({ samples: currentA, zeroStated: false }, sampleRateHz, 0);
  expect(Math.abs(ramp.rpm! / truth.rpm - 1)).toBeLessThan(0.01);
});

it('calls no turn measured whose humps may be faster ones folded back, though it is steady', () => {
  const { currentA, sampleRateHz, truth } = intermittentRecord(113_117);
  // Thirty-five samples make three turns, and so a turn of their own, until a contact opens.
  expect(sampleRateHz).toBe(1000);
  const before = currentA.subarray(0, Math.floor((truth.incidents[0][0] - 0.05) * sampleRateHz));
  const { ramp } = analyzeRamp({ samples: before, zeroStated: false }, sampleRateHz, 0);
  expect(Math.abs(ramp.rpm! / truth.rpm - 1)).toBeGreaterThan(0.1);
  expect(ramp.humps!.basis).toBe('assumed');
});
