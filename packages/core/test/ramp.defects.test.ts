import { analyzeRamp } from '../src/measure/current/analyze-ramp.js';
import { simulateCapture } from '../src/model/capture-spec.js';
import { asChannel, draw } from './support/drawn-capture.js';

const BURNT = ['locked-notch', 'burnt-bars', 'dead-stretch'];

describe('one record, one defect', () => {
  it('takes no top of a notched current for its zero, with nothing off to see and the zero stated or not', () => {
    const notched = draw({ onS: 0, burnt: [{ bar: 1, depth: 0.95 }, { bar: 2, depth: 0.9 }], rpm: 5200 }); // prettier-ignore
    for (const zeroStated of [false, true]) {
      const { ramp } = analyzeRamp({ ...notched.channel, zeroStated }, 50_000, 0);
      expect(ramp.inverted).toBe(false);
      const mean = notched.trueA.reduce((sum, value) => sum + value, 0) / notched.trueA.length;
      expect(ramp.steady!.meanA / mean).toBeCloseTo(1, 1);
      expect(BURNT).toContain(ramp.pattern);
    }
  });

  it('keeps a nearly even 8.5 A what it is', () => {
    const { channel } = draw({ onS: 0, meanA: 8.55, humpShare: 0.015, noiseA: 0.005 });
    const { ramp } = analyzeRamp(channel, 50_000, 0);
    expect(ramp.steady!.meanA).toBeCloseTo(8.55, 0);
    expect(ramp.inverted).toBe(false);
  });

  it('turns a current that a stated zero shows backwards', () => {
    const { channel } = draw({ onS: 0, sign: -1 });
    const { ramp } = analyzeRamp({ ...channel, zeroStated: true }, 50_000, 0);
    expect(ramp.inverted).toBe(true);
    expect(ramp.steady!.meanA).toBeGreaterThan(3);
  });

  it('gives every run of a record whose contact drops out, and the whole numbers of the longest', () => {
    const { channel, sampleRateHz } = (() => {
      const first = draw({ onS: 0.05, durationS: 0.6, rpm: 5600 }).channel.samples;
      const second = draw({ onS: 0.2, durationS: 1.2, rpm: 5600 }).channel.samples;
      const samples = new Float32Array(first.length + second.length);
      samples.set(first);
      samples.set(second, first.length);
      return { channel: asChannel(samples), sampleRateHz: 50_000 };
    })();
    const { ramp } = analyzeRamp(channel, sampleRateHz, 0);
    expect(ramp.runs!.map(({ fromS, toS }) => [fromS.toFixed(2), toS.toFixed(2)])).toEqual([
      ['0.05', '0.60'],
      ['0.80', '1.80'],
    ]);
    expect(ramp.rpm! / 5600).toBeCloseTo(1, 2);
    expect(ramp.onsetS).toBeCloseTo(0.05, 2);
    expect(ramp.dropouts.some(({ startS, endS }) => Math.abs(startS - 0.6) < 0.01 && Math.abs(endS - 0.8) < 0.01)).toBe(
      true,
    );
  });

  it('names a rotor that stands still, and blames no wiring for its low first peak', () => {
    const { capture } = simulateCapture({ locked: true, durationS: 0.5, sampleRateHz: 50_000, onS: 0.1 });
    const { ramp, findings } = analyzeRamp(asChannel(capture.channels[0].samples), 50_000, 0);
    expect(ramp.pattern).toBe('locked-rotor');
    const codes = findings.map(({ code }) => code);
    expect(codes).toContain('locked-rotor');
    expect(codes).not.toContain('inrush-low');
  });

  it('says of no filter that it takes the current away', () => {
    const { channel } = draw({ burnt: [{ bar: 1, depth: 0.95 }, { bar: 2, depth: 0.95 }] }); // prettier-ignore
    const { findings } = analyzeRamp(channel, 50_000, 0);
    expect(findings.find(({ code }) => code === 'ripple-high')!.text).toMatch(
      /comes from the commutator, not from the filter/,
    );
  });

  it('draws as many bars as were given', () => {
    const { channel } = draw({ bars: 14, rpm: 4000, heightSpread: 0.2 });
    expect(analyzeRamp(channel, 50_000, 0, { bars: 14 }).ramp.bars).toHaveLength(14);
  });
});
