import {
  analyzeCapture,
  analyzeRecord,
  ArraySource,
  asRecord,
  chunksOf,
  GrowingSource,
  signalOf,
  wholeOf,
} from '../src/index.js';
import { buildPyramid, minMaxWindow, pyramidOf } from '../src/signal/pyramid.js';
import { draw } from './support/drawn-capture.js';

const noise = (length: number) => Float32Array.from({ length }, (_, i) => Math.sin(i * i));
const channelOf = (samples: Float32Array, unit: 'A' | 'V' | '1', fileFactor = 1, name = 'Pump current') => ({
  sampleRateHz: 50_000,
  startS: 0,
  notes: [],
  channels: [{ name, unit, fileFactor, samples }],
});

describe('a record is a source', () => {
  it('reads the same in any pieces, growing or whole, with its extremes beside', () => {
    const samples = noise(200_001);
    const growing = new GrowingSource();
    for (let at = 0, step = 1; at < samples.length; at += step, step = (step * 7) % 9001) {
      growing.push(samples.subarray(at, at + step));
    }
    expect(growing.length).toBe(samples.length);
    expect(growing.read(65_530, 131_080)).toEqual(samples.subarray(65_530, 131_080));
    const whole = new ArraySource(samples);
    for (const [from, to, columns] of [
      [0, 200_001, 900],
      [199_990, 200_001, 5],
      [3, 70_000, 333],
    ]) {
      // prettier-ignore
      const drawn = growing.minMax(from, to, columns);
      // Both keep every extreme; where a column begins may differ by less than a block.
      expect(Math.min(...drawn)).toBe(Math.min(...whole.minMax(from, to, columns)));
      expect(Math.max(...drawn)).toBe(Math.max(...whole.minMax(from, to, columns)));
    }
    const { levels } = buildPyramid(samples);
    const units = (level: number, at: number, count: number) =>
      level === 0 ? samples.subarray(at, at + count) : levels[level - 1].subarray(2 * at, 2 * (at + count));
    expect(whole.minMax(0, 200_001, 640)).toEqual(minMaxWindow(units, levels.length, samples.length, 0, 200_001, 640));
  });

  it.each([0, 1, 15, 4096, 4097, 65_536, 200_001])(
    'gives %i samples chunk by chunk, scaled, with the same levels',
    (count) => {
      const [channel] = asRecord(channelOf(noise(count), 'V')).channels;
      const { source } = signalOf(channel, { role: 'pump_current', factor: 10, zero: 0.25, invert: true });
      const whole = source.read(0, count);
      // A chunk holds until the next is asked for, so it is copied.
      const chunks = [...chunksOf(source)].length;
      expect(chunks).toBe(Math.ceil(count / 65_536));
      const copied = Array.from(chunksOf(source), (chunk) => chunk.slice());
      expect(Float32Array.from(copied.flatMap((chunk) => [...chunk]))).toEqual(whole);
      expect(pyramidOf(count, chunksOf(source))).toEqual(buildPyramid(whole));
    },
  );

  it('waits for the end where a measurement needs the whole of it', () => {
    const { channel } = draw({});
    const source = new GrowingSource();
    source.push(channel.samples.subarray(0, 30_000));
    const record = {
      sampleRateHz: 50_000,
      startS: 0,
      notes: [],
      channels: [{ name: 'Clamp', unit: 'A' as const, fileFactor: 1, source }],
    };
    expect(() => wholeOf(source)).toThrow(/still being taken/);
    const early = analyzeRecord('live', record);
    expect(early.ramp).toBeUndefined();
    expect(early.capture).toMatchObject({ samples: 30_000 });
    expect(early.cannotTell).toEqual([{ what: 'ramp', because: expect.stringMatching(/still being taken/) as string }]);
    source.push(channel.samples.subarray(30_000));
    source.end();
    const late = analyzeRecord('live', record);
    expect(late.ramp).toEqual(analyzeCapture('live', channelOf(channel.samples, 'A')).ramp);
    expect(late.values.find(({ what }) => what === 'ramp.rpm')).toMatchObject({ unit: 'rpm', basis: 'measured' });
    expect(late.events[0]).toMatchObject({ kind: 'current-on' });
  });

  it('calls a level assumed where the record shows no zero, and measured where it does', () => {
    const basisOf = (onS: number) =>
      analyzeCapture('x', channelOf(draw({ onS }).channel.samples, 'A')).values.find(
        ({ what }) => what === 'ramp.steady.meanA',
      )?.basis;
    expect([basisOf(0.1), basisOf(0)]).toEqual(['measured', 'assumed']);
  });

  it('scales extremes as it scales samples, backwards too', () => {
    const [raw] = asRecord(channelOf(noise(5000), 'V', 1e-3)).channels;
    const { source } = signalOf(raw, { role: 'pump_current', factor: 0.1, zero: 3, invert: true });
    const pairs = source.minMax(0, 5000, 10);
    const samples = source.read(0, 5000);
    expect(Math.min(...pairs)).toBeCloseTo(Math.min(...samples), 4);
    expect(Math.max(...pairs)).toBeCloseTo(Math.max(...samples), 4);
    // (raw V - 3 mV) * 100 A/V, turned round.
    expect(samples[7]).toBeCloseTo(-(raw.source.read(7, 8)[0] - 0.003) * 100, 3);
  });
});

describe('a role never relabels a unit', () => {
  const millivolts = draw({}).channel.samples.map((ampere) => ampere * 0.1);

  it('asks for the clamp’s scale where the file gives millivolts, and measures nothing until it is stated', () => {
    const capture = channelOf(millivolts, 'V', 1e-3);
    const asked = analyzeCapture('clamp', capture);
    expect(asked.ramp).toBeUndefined();
    expect(asked.capture.channels[0]).toMatchObject({ role: 'pump_current', unit: 'V' });
    expect(asked.cannotTell[0].because).toMatch(/gives mV.*state the clamp’s scale.*100 mV\/A: 0\.01/);
    const { usual } = asked.scaleQuestions[0];
    expect(usual.map(({ label }) => label)).toEqual(['1 mV/A', '10 mV/A', '100 mV/A']);
    const factor = usual[2].factor;
    const told = analyzeCapture('clamp', capture, { setups: { 'Pump current': { factor } } });
    expect(told.ramp!.steady!.meanA).toBeCloseTo(5, 1);
    expect(told.scaleQuestions).toEqual([]);
  });

  it('asks for a transducer’s range where a rail pressure comes in volts', () => {
    const volts = Float32Array.from({ length: 2000 }, (_, i) => (i < 500 ? 0.5 : 2.5) + 0.001 * Math.sin(i));
    const capture = { ...channelOf(volts, 'V', 1, 'Rail pressure'), sampleRateHz: 200 };
    const asked = analyzeCapture('rail', capture);
    expect(asked.pressure).toBeUndefined();
    expect(asked.cannotTell.map(({ what }) => what)).toContain('scale of "Rail pressure"');
    const { factor, zero } = asked.scaleQuestions[0].usual[0];
    const told = analyzeCapture('rail', capture, { setups: { 'Rail pressure': { factor, zero } } });
    // Half of 100 psi.
    expect(told.pressure!.primePa! / 6894.757).toBeCloseTo(50, 0);
  });

  it('takes a column without a unit in its role’s own, and says so', () => {
    const analysis = analyzeCapture('plain', channelOf(draw({}).channel.samples, '1'));
    expect(analysis.ramp!.steady!.meanA).toBeCloseTo(5, 1);
    expect(analysis.findings[0]).toMatchObject({
      code: 'unit-assumed',
      text: expect.stringMatching(/taken as A/) as string,
    });
  });
});
