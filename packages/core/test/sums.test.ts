import fc from 'fast-check';
import * as reference from 'simple-statistics';
import {
  analyzeCapture,
  buildPyramid,
  dropLedger,
  findLines,
  findUnit,
  levels,
  median,
  minMaxWindow,
  pumpGate,
  quantile,
  rpmFromPeriod,
  toPascal,
  voltageLadder,
  welchSpectrum,
  type RampResult,
} from '../src/index.js';
import { draw } from './support/drawn-capture.js';

describe('units against NIST SP 811 (2008), appendix B.8; values from memory', () => {
  it('pressure factors', () => {
    expect(toPascal(1, 'psi')).toBeCloseTo(6894.757, 3);
    expect(toPascal(1, 'bar')).toBe(1e5);
    expect(toPascal(1, 'inHg')).toBeCloseTo(3386.389, 3);
  });

  it('never takes a prefix for another by its case', () => {
    expect(findUnit('mV')?.factor).toBe(1e-3);
    expect(findUnit('[µs]')?.factor).toBe(1e-6);
    expect(findUnit('MPa')?.factor).toBe(1e6);
    expect(findUnit('mpa')).toMatchObject({ symbol: 'MPa' });
    expect(findUnit('furlongs')).toBeUndefined();
  });
});

describe('check values of the trade (common practice, no published source)', () => {
  it.each([
    [9.12, 6579],
    [10.11, 5935],
  ])('%d ms a revolution is %d rpm', (ms, rpm) => {
    expect(Math.round(rpmFromPeriod(ms / 1000))).toBe(rpm);
  });

  it('13.0 V at the relay output with 14.2 V at the battery condemns the contact', () => {
    const steps = voltageLadder({ battery: 14.2, fuse_output: 14.15, relay_output: 13.0 });
    expect(steps.find(({ station }) => station === 'relay_output')).toMatchObject({ standing: 'suspect' });
    const { lines } = dropLedger({ batteryV: 14.2, pumpFeedV: 13, currentA: 5 });
    expect(lines[0]).toMatchObject({ within: false });
    expect(lines[0].dropV).toBeCloseTo(1.2);
    expect(lines[0].resistanceOhm).toBeCloseTo(0.24);
    expect(lines[0].powerW).toBeCloseTo(6);
  });

  it('a ground pin at feed voltage is an open ground', () => {
    expect(dropLedger({ batteryV: 12.4, pumpFeedV: 12.4, pumpGroundV: 12.3 }).doubts.join()).toMatch(/ground is open/);
    expect(() => dropLedger({ batteryV: 124 })).toThrow(/decimal point/);
  });
});

describe('the pump gate', () => {
  const healthy: RampResult = { inverted: false, dropouts: [], pattern: 'even' };
  const burnt: RampResult = {
    ...healthy,
    pattern: 'burnt-bars',
    bars: [{ index: 1, meanA: 2, relative: -0.5, state: 'open' }],
  };
  const open: RampResult = { ...healthy, pattern: 'no-current' };
  const gate = (feed: number, ground: number, ramps: RampResult[], loadA?: number) => {
    const ledger = dropLedger({ batteryV: 12.5, pumpFeedV: feed, pumpGroundV: ground });
    return pumpGate({ ledger, batteryV: 12.5, ramps, ...(loadA !== undefined && { loadA }) }).allowed;
  };

  it('opens only for a shown pump fault on a supply and ground proven under load', () => {
    expect(gate(12.3, 0.05, [burnt], 5)).toBe(true);
    expect(gate(11.5, 0.05, [burnt], 5)).toBe(false);
    expect(gate(12.3, 0.4, [burnt], 5)).toBe(false);
    expect(gate(12.3, 0.05, [healthy], 5)).toBe(false);
    expect(gate(12.3, 0.05, [], 5)).toBe(false);
    expect(pumpGate({ ledger: dropLedger({}), ramps: [burnt] }).allowed).toBe(false);
  });

  it('takes no unloaded voltage for a proof', () => {
    expect(gate(12.5, 0, [open])).toBe(false);
    expect(gate(12.5, 0, [open], 0)).toBe(false);
    expect(gate(12.3, 0.05, [open], 4)).toBe(true);
  });

  it('never allows what the ledger does not (any voltages)', () => {
    const volts = fc.double({ min: 0, max: 15, noNaN: true });
    fc.assert(
      fc.property(
        volts,
        volts,
        (feed, ground) => !gate(feed, ground, [burnt], 5) || (12.5 - feed <= 0.5 && ground <= 0.2),
      ),
    );
  });
});

describe('signal sums against reference packages and plain definitions', () => {
  // Adding zero makes a negative zero positive: which of the two an extreme is says nothing.
  const number = fc.double({ min: -1e3, max: 1e3, noNaN: true }).map((value) => value + 0);
  const numbers = fc.array(number, { minLength: 2, maxLength: 200 });

  it('levels and quantiles agree with simple-statistics', () => {
    fc.assert(
      fc.property(numbers, (values) => {
        const { mean, deviation, min, max } = levels(values);
        expect(mean).toBeCloseTo(reference.mean(values), 8);
        expect(deviation).toBeCloseTo(reference.sampleStandardDeviation(values), 6);
        expect([min, max]).toEqual([reference.min(values), reference.max(values)]);
        expect(median(values)).toBeCloseTo(reference.median(values), 9);
        expect(quantile(values, 1)).toBe(max);
      }),
    );
  });

  it('the spectrum finds a line where a sine was put', () => {
    fc.assert(
      fc.property(fc.double({ min: 200, max: 3800, noNaN: true }), (hz) => {
        const samples = Float64Array.from({ length: 8000 }, (_, i) => Math.sin((2 * Math.PI * hz * i) / 10_000));
        const [line] = findLines(welchSpectrum(samples, 10_000, 2000, 8), 150, 4300, 400);
        expect(line.hz / hz).toBeCloseTo(1, 3);
      }),
      { numRuns: 30 },
    );
  });

  it('any window drawn from the pyramid has the extremes of its samples', () => {
    const { channel } = draw({ durationS: 0.4 });
    const { samples } = channel;
    const pyramid = buildPyramid(samples);
    const unitsOf = (level: number, at: number, count: number) =>
      level === 0 ? samples.subarray(at, at + count) : pyramid.levels[level - 1].subarray(2 * at, 2 * (at + count));
    fc.assert(
      fc.property(
        fc.nat(samples.length - 2),
        fc.nat(samples.length - 2),
        fc.integer({ min: 1, max: 900 }),
        (a, b, columns) => {
          const [from, to] = [Math.min(a, b), Math.max(a, b) + 1];
          const pairs = minMaxWindow(unitsOf, pyramid.levels.length, samples.length, from, to, columns);
          const part = levels(samples, from, to);
          const lows = pairs.filter((_, i) => i % 2 === 0);
          const highs = pairs.filter((_, i) => i % 2 === 1);
          expect(Math.min(...lows)).toBeLessThanOrEqual(part.min);
          expect(Math.max(...highs)).toBeGreaterThanOrEqual(part.max);
        },
      ),
    );
  });
});

describe('a whole capture', () => {
  it('guesses roles, scales and keeps what it could not tell', () => {
    const { channel } = draw({});
    const capture = {
      sampleRateHz: 50_000,
      startS: 0,
      notes: ['a note'],
      channels: [
        { ...channel, name: 'Pump clamp', unit: 'V' as const, samples: channel.samples.map((v) => v / 10) },
        { ...channel, name: 'Battery', unit: 'V' as const },
      ],
    };
    const analysis = analyzeCapture('x', capture, { setups: { 'Pump clamp': { factor: 10 } } });
    expect(analysis.capture.channels.map(({ role }) => role)).toEqual(['pump_current', 'battery_voltage']);
    expect(analysis.ramp?.steady?.meanA).toBeCloseTo(5, 1);
    expect(analysis.cannotTell[0].because).toBe('a note');
    expect(() => analyzeCapture('x', capture, { setups: { Battery: { factor: 0 } } })).toThrow(/other than zero/);
  });
});
