import { analyzeCapture, type Analysis } from '../src/analyze.js';
import { knownGoodOf } from '../src/casework/known-good.js';
import { findSteppedRunning } from '../src/measure/current/stepped.js';
import { sweepCapture, type SweepCapture } from '../src/simulate/wide-sweep.js';
import { wideCapture } from '../src/simulate/wide-capture.js';

// A pump that runs at several levels of current: the lowest is no off, and the steps between them are no bars.

function ofCurrent({ currentA, sampleRateHz }: SweepCapture): Analysis {
  const channels = [{ name: 'I', unit: 'A', fileFactor: 1, samples: currentA } as const];
  const record = { sampleRateHz, startS: 0, channels, notes: [] };
  return analyzeCapture('steps.csv', record, { setups: { I: { role: 'pump_current' } } });
}

it('measures each level by itself, whatever the record', () => {
  for (let seed = 300; seed < 306; seed++) {
    const capture = sweepCapture(seed, 'stepped');
    const { ramp, findings } = ofCurrent(capture);
    const { runs = [], steady, pattern, zeroOffsetA } = ramp ?? {};
    const held =
      steady && capture.truth.find(({ fromS, toS }) => steady.fromS >= fromS - 0.1 && steady.toS <= toS + 0.3);
    expect({ seed, pattern, inverted: ramp?.inverted, isOneStep: held !== undefined }).toEqual({
      ...{ seed, pattern: 'even', inverted: false, isOneStep: true },
    });
    expect(findings.map(({ code }) => code)).toContain('stepped');
    expect(ramp?.stepped).toBe(true);
    expect(ramp && knownGoodOf(ramp, 'idle', {})).toBeUndefined();
    // Where it sees the pump off it knows the clamp's zero; else it says that it doesn't.
    if (zeroOffsetA === undefined) expect(capture.offsetA).toBe(0);
    else expect(Math.abs(zeroOffsetA - capture.offsetA)).toBeLessThan(0.05);
    expect(Math.abs((steady?.meanA ?? 0) / (held?.currentA ?? 1) - 1)).toBeLessThan(0.02);
    expect(Math.abs((ramp?.rpm ?? 0) / (held?.rpm ?? 1) - 1)).toBeLessThan(0.01);
    expect(runs.length).toBeGreaterThan(1);
  }
});

it('still finds the bad bar of a pump that is stepped', () => {
  for (let seed = 320; seed < 323; seed++) {
    const { ramp } = ofCurrent(sweepCapture(seed, 'stepped', 0.35));
    expect(['locked-notch', 'burnt-bars']).toContain(ramp?.pattern);
  }
});

it('finds no steps in a pump with one speed, whatever else is wrong with it', () => {
  const stepped: string[] = [];
  for (let seed = 0; seed < 60; seed++) {
    const { samples, sampleRateHz, truth } = wideCapture(seed);
    if (findSteppedRunning(samples, sampleRateHz)) stepped.push(`${seed} ${truth.fault} ${truth.instrument}`);
  }
  expect(stepped).toEqual([]);
});
