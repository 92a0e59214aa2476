import { analyzeCapture } from '../src/analyze.js';
import type { Role } from '../src/capture/capture.js';
import { ArraySource } from '../src/capture/source.js';
import { signalEntries } from '../src/casework/signal-entries.js';
import type { RunResult } from '../src/measure/current/types.js';
import { pulseAnalyser } from '../src/measure/pulses/pulse-analyser.js';
import type { SweepRecord } from '../src/measure/pulses/sweep-record.js';
import { withSpeeds } from '../src/measure/sweep-speeds.js';
import { sweepCapture, type SweepCapture } from '../src/simulate/wide-sweep.js';

// A duty sweep cut out of one record: which steps there were, and what settled in each.

const ROLES = {
  commandV: ['command_signal', 'V'],
  outputV: ['module_output_voltage', 'V'],
  currentA: ['pump_current', 'A'],
  pressurePa: ['rail_pressure', 'Pa'],
  supplyV: ['module_supply_voltage', 'V'],
} as const satisfies Partial<Record<keyof SweepCapture, readonly [Role, string]>>;

const NAMES = Object.keys(ROLES) as (keyof typeof ROLES)[];

/** Through the lines' own analyser: the whole analysis of a long record takes its time. */
function sweepOf(capture: SweepCapture, names = NAMES) {
  const signals = Object.fromEntries(
    names.map((name) => {
      const [role, unit] = ROLES[name];
      return [role, { name, role, unit, source: new ArraySource(capture[name]) }];
    }),
  );
  const { sampleRateHz } = capture;
  return pulseAnalyser.measure({ signals, sampleRateHz, startS: 0, disturbed: [], cranks: [] }).part.sweep;
}

it('finds each step with what settled in it, whatever the record', () => {
  const wrong: string[] = [];
  for (let seed = 0; seed < 6; seed++) {
    const capture = sweepCapture(seed, 'stepped');
    const sweep = sweepOf(capture) ?? [];
    const fits = capture.truth.every(({ commandPercent, fromS, toS, currentA, pressurePa }, i) => {
      const step = sweep[i] as (typeof sweep)[number] | undefined;
      return (
        step?.outputPercent !== undefined &&
        Math.abs(step.commandPercent - commandPercent) < 0.3 &&
        Math.abs(step.outputPercent - commandPercent) < 0.5 &&
        Math.abs((step.currentA ?? 0) / currentA - 1) < 0.02 &&
        Math.abs((step.pressurePa ?? 0) / pressurePa - 1) < 0.03 &&
        step.fromS >= fromS - 0.1 &&
        step.toS <= toS + 0.1
      );
    });
    if (!fits || sweep.length !== capture.truth.length) wrong.push(`seed ${seed}: ${JSON.stringify(sweep)}`);
  }
  expect(wrong).toEqual([]);
});

it('makes no steps of a command that slides, stands, or is missing', () => {
  for (let seed = 0; seed < 3; seed++) {
    expect(sweepOf(sweepCapture(seed, 'sliding'))).toBeUndefined();
    expect(sweepOf(sweepCapture(seed, 'still'))).toBeUndefined();
    expect(sweepOf(sweepCapture(seed, 'stepped'), ['outputV', 'currentA'])).toBeUndefined();
  }
});

it('goes into the sheet as one sweep, with what was recorded and nothing else', () => {
  const capture = sweepCapture(3, 'stepped');
  const names = ['commandV', 'currentA'] as const;
  const channels = names.map((name) => ({ name, unit: ROLES[name][1], fileFactor: 1, samples: capture[name] }));
  const setups = Object.fromEntries(names.map((name) => [name, { role: ROLES[name][0] }]));
  const record = { sampleRateHz: capture.sampleRateHz, startS: 0, channels, notes: [] };
  const entries = signalEntries(analyzeCapture('sweep.csv', record, { setups }), 'idle');
  expect(entries).toHaveLength(1);
  expect(entries[0]).toMatchObject({ kind: 'sweep', at: 'module', keyState: 'idle' });
  const { steps } = entries[0].value as SweepRecord;
  expect(steps).toHaveLength(capture.truth.length);
  expect(Object.keys(steps[0])).toEqual(['commandPercent', 'currentA', 'rpm']);
  for (const [i, { rpm }] of capture.truth.entries()) {
    expect(Math.abs((steps[i].rpm ?? 0) / rpm - 1)).toBeLessThan(0.01);
  }
});

it('gives a step no speed that rests on an assumed count', () => {
  const step = { fromS: 1, toS: 3, commandPercent: 40 };
  const steady = { fromS: 1.2, toS: 2.9, meanA: 4, minA: 3.8, maxA: 4.2, rippleA: 0.4, ripplePercent: 10 };
  const run = (basis: 'measured' | 'assumed', rpm: number): RunResult => ({
    ...{ fromS: 1, toS: 3, steady, pattern: 'even' },
    ...{ rpm, basis },
  });
  expect(withSpeeds([step], [run('assumed', 6000), run('measured', 3000)])).toEqual([{ ...step, rpm: 3000 }]);
  expect(withSpeeds([step], [run('assumed', 3000)])).toEqual([step]);
  expect(withSpeeds([{ ...step, fromS: 5, toS: 7 }], [run('measured', 3000)])[0].rpm).toBeUndefined();
});
