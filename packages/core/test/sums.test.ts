import fc from 'fast-check';
import * as reference from 'simple-statistics';
import {
  analyzeCapture,
  DEFAULT_HOUSE_RULES,
  buildPyramid,
  dropLedger,
  findLines,
  findUnit,
  levels,
  median,
  minMaxWindow,
  quantile,
  rpmFromPeriod,
  toPascal,
  SUMS,
  welchSpectrum,
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

  it('13.0 V at the relay output with 14.2 V at the battery is a drop of 1.2 V', () => {
    const { lines } = dropLedger({ batteryV: 14.2, pumpFeedV: 13, currentA: 5, ratedA: 5 }, DEFAULT_HOUSE_RULES);
    expect(lines[0]).toMatchObject({ within: false });
    expect(lines[0].dropV).toBeCloseTo(1.2);
    expect(lines[0].resistanceOhm).toBeCloseTo(0.24);
    expect(lines[0].powerW).toBeCloseTo(6);
  });

  it('a ground pin at feed voltage is an open ground', () => {
    const hanging = { batteryV: 12.4, pumpFeedV: 12.4, pumpGroundV: 12.3, ratedA: 5 };
    expect(dropLedger(hanging, DEFAULT_HOUSE_RULES).doubts.join()).toMatch(/ground is open/);
    const slipped = dropLedger({ batteryV: 12.5, pumpFeedV: 124, currentA: 463, ratedA: 5 }, DEFAULT_HOUSE_RULES);
    expect(slipped.lines).toEqual([]);
    expect(slipped.doubts.join()).toMatch(/pump feed voltage can't be.*current can't be/);
  });
});

describe('the sums that people do by hand', () => {
  type Numbers = Record<string, number>;
  const work = (id: string, numbers: Numbers, chosen: Record<string, string> = {}) =>
    SUMS.find((sum) => sum.id === id)?.work({ numbers, chosen }) ?? [];
  const answer = (...given: Parameters<typeof work>) => work(...given)[0].text;

  it.each<[string, Numbers, Record<string, string>, string, string]>([
    ['speed', { period: 9.12 }, {}, '6579 rpm', 'common practice'],
    ['speed', { rpm: 5934.7 }, {}, '10.11 ms', 'common practice'],
    ['drop', { before: 14.2, after: 13 }, {}, '1.20 V', 'common practice'],
    [
      'wire',
      { size: 18, length: 304.8 },
      { size: 'AWG' },
      '6.38 Ω',
      'ASTM B258, 6.385 ohm a thousand feet, from memory',
    ],
    ['fuse', { rating: 15, current: 30 }, {}, 'after 0.15 s to 5.0 s', 'ISO 8820-3, from memory'],
    ['fuse', { rating: 15, current: 15 }, {}, 'never: it must carry this', 'ISO 8820-3, from memory'],
    ['duty', { onTime: 1.22, frequency: 100 }, {}, '12.20 %', 'definition'],
    ['pressure', { value: 40 }, { value: 'psi' }, '40.00 psi = 275.8 kPa = 2.76 bar', 'NIST SP 811'],
    [
      'regulator',
      { rail: 29, vacuum: 22 },
      { rail: 'psi', vacuum: 'inHg' },
      '39.81 psi = 274.4 kPa = 2.74 bar',
      'common practice',
    ],
    [
      'sensor',
      { volts: 2.5, fullScale: 1000 },
      { fullScale: 'kPa' },
      '72.52 psi = 500.0 kPa = 5.00 bar',
      'common practice',
    ],
    ['flow', { litres: 0.5, seconds: 30 }, {}, '60.0 L/h', 'definition'],
    ['effective', { supply: 14.2, duty: 50, drop: 0.2 }, {}, '7.00 V', 'mean of a pulse'],
    ['compared', { rpm: 6000, volts: 12, current: 4, ohm: 0.5, otherVolts: 11 }, {}, '5400 rpm', 'back-EMF'],
  ])('%s of %j %j is %s (%s)', (id, numbers, chosen, expected) => {
    expect(answer(id, numbers, chosen)).toBe(expected);
  });

  it('says nothing while too little is known, and refuses what can’t be', () => {
    for (const sum of SUMS) expect(sum.work({ numbers: {}, chosen: {} })).toEqual([]);
    expect(() => work('duty', { duty: 120, frequency: 100 })).toThrow(/between 0 and 100/);
    expect(() => work('duty', { onTime: 30, frequency: 100 })).toThrow(/longer than the period/);
    expect(() => work('regulator', { rail: 40, vacuum: 40 }, { vacuum: 'psi' })).toThrow(/30 inHg/);
    expect(() => work('wire', { size: 50, length: 3 }, { size: 'AWG' })).toThrow(/AWG/);
  });

  it('going there and back changes nothing (any speed, any duty)', () => {
    const number = (text: string) => Number(text.split(' ')[0]);
    fc.assert(
      fc.property(fc.double({ min: 1000, max: 20_000, noNaN: true }), (rpm) => {
        const period = number(answer('speed', { rpm }));
        expect(Math.abs(number(answer('speed', { period })) / rpm - 1)).toBeLessThan(2e-3);
      }),
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
        { name: 'Pump clamp', unit: 'V' as const, fileFactor: 1, samples: channel.samples.map((v) => v / 10) },
        { name: 'Battery', unit: 'V' as const, fileFactor: 1, samples: channel.samples },
      ],
    };
    const analysis = analyzeCapture('x', capture, { setups: { 'Pump clamp': { factor: 10 } } });
    expect(analysis.capture.channels.map(({ role }) => role)).toEqual(['pump_current', 'battery_voltage']);
    expect(analysis.ramp?.steady?.meanA).toBeCloseTo(5, 1);
    expect(analysis.cannotTell[0].because).toBe('a note');
    expect(() => analyzeCapture('x', capture, { setups: { Battery: { factor: 0 } } })).toThrow(/other than zero/);
  });
});
