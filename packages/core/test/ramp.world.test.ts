import { analyzeRamp } from '../src/measure/current/analyze-ramp.js';
import { simulateCapture } from '../src/model/capture-spec.js';
import { wideCapture, type WideCapture } from '../src/model/wide-capture.js';
import { asChannel, draw } from './support/drawn-capture.js';

// Pumps, clamps and recorders of every kind: odd bar counts, dead stretches, brush bounce, mains pick-up, ignition, coarse
// steps, contacts that drop out. `npm run bench -- accuracy` scores more of them.

const SEEDS = Array.from({ length: 60 }, (_, i) => 9001 + i);
const BURNT = ['locked-notch', 'burnt-bars', 'dead-stretch'];

const measured = SEEDS.map((seed) => {
  const capture = wideCapture(seed);
  const channel = { ...asChannel(capture.samples), zeroStated: capture.zeroStated };
  return { seed, ...capture, ramp: analyzeRamp(channel, capture.sampleRateHz, 0).ramp };
});
type Measured = (typeof measured)[number];
const missed = (of: (one: Measured) => boolean, holds: (one: Measured) => boolean) => {
  const all = measured.filter(of);
  expect(all.length).toBeGreaterThan(5);
  return { all: all.length, seeds: all.filter((one) => !holds(one)).map(({ seed }) => seed) };
};
const within = (value: number | undefined, truth: number, share: number) =>
  value !== undefined && Math.abs(value / truth - 1) <= share;

function trueMean({ truth, sampleRateHz, ramp }: WideCapture & Measured): number {
  const from = Math.round(ramp.steady!.fromS * sampleRateHz);
  const part = truth.currentA.subarray(from, Math.round(ramp.steady!.toS * sampleRateHz));
  return part.reduce((sum, value) => sum + value, 0) / part.length;
}

it('finds direction and mean wherever the record shows its zero', () => {
  const flows = ({ truth, ramp }: Measured) =>
    truth.zeroTold && ramp.steady !== undefined && !['open', 'chopped'].includes(truth.fault);
  expect(missed(flows, ({ truth, ramp }) => ramp.inverted === truth.inverted).seeds).toEqual([]);
  const means = missed(flows, (one) => within(one.ramp.steady!.meanA, trueMean(one), 0.01));
  expect(means.seeds.length).toBeLessThanOrEqual(0.02 * means.all);
});

it('finds the speed, and is right where it says that it measured it', () => {
  const told = missed(
    ({ truth }) => truth.turnTold,
    ({ truth, ramp }) => within(ramp.rpm, truth.rpm, 0.01),
  );
  expect(told.seeds.length).toBeLessThanOrEqual(0.12 * told.all);
  const sure = missed(
    ({ ramp }) => ramp.humps?.basis === 'measured',
    ({ truth, ramp }) => within(ramp.rpm, truth.rpm, 0.02),
  );
  expect(sure.seeds.length).toBeLessThanOrEqual(0.05 * sure.all);
});

it('calls burnt what is burnt, and nothing that is sound', () => {
  const burnt = missed(
    ({ truth }) => truth.turnTold && ['burnt-bar', 'dead-segment'].includes(truth.fault),
    ({ ramp }) => BURNT.includes(ramp.pattern),
  );
  expect(burnt.seeds.length).toBeLessThanOrEqual(0.08 * burnt.all);
  const sound = ({ truth }: Measured) => ['healthy', 'contact-dropout'].includes(truth.fault);
  expect(missed(sound, ({ ramp }) => !BURNT.includes(ramp.pattern)).seeds.length).toBeLessThanOrEqual(1);
});

it('tells a driver’s chopping from a rotor’s dead stretches', () => {
  const { all, seeds } = missed(
    () => true,
    ({ truth, ramp }) => (truth.fault === 'chopped') === (ramp.pattern === 'pulsed'),
  );
  expect(seeds.length).toBeLessThanOrEqual(0.03 * all);
});

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
