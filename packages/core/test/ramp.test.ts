import { analyzeRamp } from '../src/measure/current/analyze-ramp.js';
import { simulateCapture, type CaptureSpec } from '../src/simulate/capture-spec.js';
import { seededRandom } from '../src/signal/random.js';
import { levels } from '../src/signal/levels.js';
import { asChannel, between, draw, pick, type DrawnSpec } from './support/drawn-capture.js';

/** Conditions a technician's gear and pumps come in; the recorder's step is dithered by its own noise. */
function conditions(seed: number) {
  const random = seededRandom(seed * 7919 + 13);
  const bits = pick(random, [8, 10, 12]);
  const fullScale = pick(random, [20, 40]);
  const stepA = (2 * fullScale) / 2 ** bits;
  return {
    random,
    rateHz: pick(random, [10e3, 20e3, 50e3, 100e3, 200e3]),
    durationS: pick(random, [0.3, 0.5, 1]),
    bars: 6 + Math.floor(7 * random.uniform()),
    rpm: between(random, 3400, 10_000),
    meanA: between(random, 3, 9),
    sign: random.uniform() < 0.3 ? (-1 as const) : (1 as const),
    offsetA: between(random, -1.5, 1.5),
    bandwidthHz: between(random, 5e3, 20e3),
    noiseA: Math.max(pick(random, [0.01, 0.03, 0.08]), 0.4 * stepA),
    stepA,
    bits,
    fullScale,
  };
}

interface Outcome {
  readonly basis: string | undefined;
  readonly rpmError: number;
  readonly meanError: number;
  readonly rippleMiss: number;
  readonly polarityRight: boolean;
  readonly label: string;
}

function measure(
  samples: Float32Array,
  rateHz: number,
  trueA: Float64Array,
  rpmAt: (i: number) => number,
  noiseA: number,
  sign: number,
  label: string,
): Outcome {
  const { ramp } = analyzeRamp(asChannel(samples), rateHz, 0);
  if (!ramp.steady) throw new Error(`${label}: no steady part`);
  const from = Math.round(ramp.steady.fromS * rateHz);
  const to = Math.round(ramp.steady.toS * rateHz);
  let mean = 0;
  let rpm = 0;
  for (let i = from; i < to; i++) {
    mean += trueA[i] / (to - from);
    rpm += rpmAt(i) / (to - from);
  }
  const ripple = trueRipple(trueA.subarray(from, to), Math.round((60 / rpm) * rateHz));
  return {
    basis: ramp.humps?.basis,
    rpmError: ramp.rpm === undefined ? NaN : Math.abs(ramp.rpm / rpm - 1),
    meanError: Math.abs(ramp.steady.meanA / mean - 1),
    rippleMiss: Math.abs(ramp.steady.rippleA - ripple) - 0.05 * ripple - noiseA,
    polarityRight: ramp.inverted === sign < 0,
    label,
  };
}

/** Median over turns of highest minus lowest. */
function trueRipple(trueA: Float64Array, turn: number): number {
  const ranges: number[] = [];
  for (let i = 0; i + turn <= trueA.length; i += turn) {
    const part = trueA.subarray(i, i + turn);
    ranges.push(Math.max(...part) - Math.min(...part));
  }
  return ranges.sort((a, b) => a - b)[ranges.length >> 1];
}

const SEEDS = Array.from({ length: 40 }, (_, i) => i + 1);

function physical(seed: number): Outcome {
  const c = conditions(seed);
  const burntBars = c.random.uniform() < 0.3 ? 1 + Math.floor(2 * c.random.uniform()) : 0;
  const spec: Partial<CaptureSpec> = {
    seed,
    sampleRateHz: c.rateHz,
    durationS: c.durationS,
    onS: 0.04,
    ratedA: c.meanA,
    ratedRpm: c.rpm,
    windingOhm: Math.min(0.8, 4.8 / c.meanA),
    bars: c.bars,
    humpDepth: between(c.random, 0.15, 0.35),
    barSpread: pick(c.random, [0.012, 0.03]),
    burnt: Array.from({ length: burntBars }, (_, i) => ({ bar: 1 + 3 * i, extraOhm: between(c.random, 0.6, 2.5) })),
    clampBandwidthHz: c.bandwidthHz,
    clampOffsetA: c.offsetA,
    clampGain: c.sign,
    noiseA: c.noiseA,
    bits: c.bits,
    fullScaleA: c.fullScale,
  };
  const { capture, truth } = simulateCapture(spec);
  const rpmAt = (i: number) => (truth.speedRadS[i] * 30) / Math.PI;
  const { samples } = capture.channels[0];
  return measure(samples, c.rateHz, truth.currentA, rpmAt, c.noiseA, c.sign, `model ${seed}`);
}

function drawn(seed: number): Outcome {
  const c = conditions(seed + 1000);
  const spec: Partial<DrawnSpec> = {
    ...c,
    seed,
    onS: 0.04,
    humpShare: between(c.random, 0.05, 0.14),
    heightSpread: pick(c.random, [0.1, 0.2]),
    levelSpread: pick(c.random, [0.003, 0.01]),
    shape: pick(c.random, ['arch', 'cosine', 'saw']),
    burnt: c.random.uniform() < 0.3 ? [{ bar: 2, depth: between(c.random, 0.2, 0.5) }] : [],
  };
  const { channel, trueA, rpmAt } = draw(spec);
  return measure(channel.samples, c.rateHz, trueA, (i) => rpmAt[i], c.noiseA, c.sign, `drawn ${seed}`);
}

describe('pump current of known truth, from two generators that share nothing with the analysis', () => {
  const outcomes = [...SEEDS.map(physical), ...SEEDS.map(drawn)];
  const measured = outcomes.filter(({ basis }) => basis === 'measured');

  it('finds the speed within 0.5 % wherever it says that it measured it', () => {
    const wrong = measured.filter(({ rpmError }) => !(rpmError < 0.005)).map(({ label }) => label);
    expect(measured.length).toBeGreaterThan(0.6 * outcomes.length);
    expect(wrong.length).toBeLessThanOrEqual(Math.floor(0.02 * measured.length));
  });

  it('has the mean draw within 1 %', () => {
    expect(outcomes.filter(({ meanError }) => !(meanError < 0.01)).map(({ label }) => label)).toEqual([]);
  });

  it('has the ripple within 5 % and the noise in at least 95 %', () => {
    const missed = outcomes.filter(({ rippleMiss }) => rippleMiss > 0);
    expect(missed.length).toBeLessThanOrEqual(0.05 * outcomes.length);
  });

  it('notices every clamp that is on backwards', () => {
    expect(outcomes.filter(({ polarityRight }) => !polarityRight)).toEqual([]);
  });
});

const HEALTHY_RATE_HZ = 25_000;

describe('bars', () => {
  it('calls no healthy pump burnt, out of 300', () => {
    const accused: number[] = [];
    for (let seed = 1; seed <= 300; seed++) {
      const c = conditions(seed + 5000);
      const { channel } = draw({
        ...c,
        seed,
        rateHz: HEALTHY_RATE_HZ,
        durationS: 0.4,
        humpShare: between(c.random, 0.04, 0.14),
        levelSpread: 0.01,
        shape: pick(c.random, ['arch', 'cosine', 'saw']),
      });
      const { ramp } = analyzeRamp(channel, HEALTHY_RATE_HZ, 0);
      if (ramp.bars?.some(({ state }) => state !== 'sound')) accused.push(seed);
    }
    expect(accused).toEqual([]);
  });

  it.each([
    [[{ bar: 4, depth: 0.25 }], 'locked-notch'],
    [
      [
        { bar: 1, depth: 0.3 },
        { bar: 4, depth: 0.5 },
      ],
      'burnt-bars',
    ],
  ] as const)('finds every burnt bar of %j', (burnt, pattern) => {
    for (const bars of [6, 8, 10]) {
      const { channel } = draw({ bars, burnt, seed: bars });
      const { ramp } = analyzeRamp(channel, 50_000, 0);
      expect(ramp.pattern).toBe(pattern);
      expect(ramp.bars?.filter(({ state }) => state !== 'sound')).toHaveLength(burnt.length);
      expect(ramp.dropouts.filter(({ locked }) => locked).length).toBeGreaterThan(0.9 * ramp.dropouts.length);
    }
  });

  it.each([
    { bars: 6, every: 2 },
    { bars: 6, every: 3 },
    { bars: 8, every: 4 },
    { bars: 10, every: 2 },
    { bars: 12, every: 3 },
  ])('finds burnt bars that come as regularly as humps: each $every. of $bars', ({ bars, every }) => {
    for (let seed = 1; seed <= 4; seed++) {
      const random = seededRandom(seed * 31 + bars);
      const rpm = between(random, 3800, 9800);
      const burnt = Array.from({ length: bars / every }, (_, i) => ({
        bar: i * every,
        depth: between(random, 0.22, 0.5),
      }));
      const { channel } = draw({ seed, bars, rpm, burnt });
      const { ramp } = analyzeRamp(channel, 50_000, 0);
      expect({ seed, humps: ramp.humps?.perRevolution }).toEqual({ seed, humps: bars });
      // A turn could be half of one with like brushes: that is said, where it isn't ruled out.
      expect(ramp.humps!.confidence).toBeGreaterThan(0.8);
      expect(Math.abs(ramp.rpm! / rpm - 1)).toBeLessThan(0.005);
      expect(ramp.bars?.filter(({ state }) => state !== 'sound')).toHaveLength(burnt.length);
      expect(ramp.pattern).toBe('burnt-bars');
    }
  });

  it('makes no assumption that would make an impossible pump', () => {
    // The usual eight bars would make it 13 500 rpm.
    const { channel } = draw({ bars: 12, rpm: 9000, heightSpread: 0, levelSpread: 0 });
    const { humps, rpm } = analyzeRamp(channel, 50_000, 0).ramp;
    expect(humps!.basis).toBe('assumed');
    expect(rpm).toBeLessThan(11_500);
    const counts = [humps!.perRevolution, ...humps!.alternatives!.map(({ perRevolution }) => perRevolution)];
    expect(counts).toContain(12);
    expect(counts).not.toContain(8);
    expect(analyzeRamp(channel, 50_000, 0, { bars: 12 }).ramp.rpm! / 9000).toBeCloseTo(1, 2);
  });

  it('says so when the revolution rests on an assumed or a given bar count', () => {
    const { channel } = draw({ heightSpread: 0, levelSpread: 0 });
    const assumed = analyzeRamp(channel, 50_000, 0);
    expect(assumed.ramp.humps?.basis).toBe('assumed');
    expect(assumed.cannotTell.map(({ what }) => what)).toContain('humps.perRevolution');
    const given = analyzeRamp(channel, 50_000, 0, { bars: 10 });
    expect(given.ramp.humps).toMatchObject({ basis: 'given', perRevolution: 10 });
    expect(given.ramp.rpm! / assumed.ramp.rpm!).toBeCloseTo(0.8, 3);
  });

  it('keeps to the pattern when the bar count given contradicts it', () => {
    const { channel } = draw({ bars: 8, levelSpread: 0.02 });
    const { ramp, findings } = analyzeRamp(channel, 50_000, 0, { bars: 10 });
    expect(ramp.humps).toMatchObject({ basis: 'measured', perRevolution: 8 });
    expect(findings.map(({ code }) => code)).toContain('bars-disagree');
  });
});

describe('what else a current shows', () => {
  it('tells random dropouts from locked ones', () => {
    const { ramp } = analyzeRamp(draw({ randomGaps: 14 }).channel, 50_000, 0);
    expect(ramp.pattern).toBe('random-dropouts');
    expect(ramp.dropouts.length).toBeGreaterThanOrEqual(10);
    expect(ramp.dropouts.every(({ locked }) => !locked)).toBe(true);
  });

  it('finds key-on, key-off and the first peak', () => {
    const { capture, truth } = simulateCapture({ onS: 0.2, offS: 1.7, clampOffsetA: 0.4, clampGain: -1 });
    const { ramp } = analyzeRamp(asChannel(capture.channels[0].samples), 100_000, 0);
    expect(ramp.onsetS).toBeCloseTo(0.2, 3);
    expect(ramp.offS).toBeCloseTo(1.7, 2);
    expect(ramp.zeroOffsetA).toBeCloseTo(0.4, 2);
    expect(ramp.inverted).toBe(true);
    expect(ramp.inrushPeakA! / levels(truth.currentA).max).toBeCloseTo(1, 1);
  });

  it('makes no number and no added resistance of a first peak that the recorder cut off', () => {
    const { capture } = simulateCapture({ onS: 0.2, durationS: 1, noiseA: 0.02 });
    const whole = analyzeRamp(asChannel(capture.channels[0].samples), 100_000, 0).ramp;
    const most = 1.7 * whole.steady!.meanA;
    expect(whole.inrushPeakA).toBeGreaterThan(1.2 * most);
    const cut = asChannel(capture.channels[0].samples.map((value) => Math.min(value, most)));
    const { ramp, findings, cannotTell } = analyzeRamp(cut, 100_000, 0);
    expect(ramp.inrushPeakA).toBeUndefined();
    expect(cannotTell.find(({ what }) => what === 'inrushPeakA')?.because).toContain(`${most.toFixed(1)} A`);
    expect(findings.map(({ code }) => code)).not.toContain('inrush-low');
    expect(ramp.rpm! / whole.rpm!).toBeCloseTo(1, 3);
  });

  it('takes the smooth current of a locked rotor for current, whichever way the clamp is on', () => {
    for (const clampGain of [1, -1]) {
      for (let seed = 1; seed <= 8; seed++) {
        const clamp = { clampGain, clampOffsetA: seed / 10, noiseA: 0.1, bits: 8, fullScaleA: 40 };
        const { capture } = simulateCapture({ seed, locked: true, durationS: 0.2, sampleRateHz: 50_000, ...clamp });
        const { ramp } = analyzeRamp(asChannel(capture.channels[0].samples), 50_000, 0);
        expect(ramp.inverted).toBe(clampGain < 0);
        expect(ramp.steady!.meanA).toBeGreaterThan(12);
      }
    }
  });

  it('says no current for an open circuit, and makes no speed of noise', () => {
    const { capture } = simulateCapture({ groundOhm: 1e6, clampOffsetA: 0.15 });
    const { ramp, cannotTell } = analyzeRamp(asChannel(capture.channels[0].samples), 100_000, 0);
    expect(ramp).toMatchObject({ pattern: 'no-current', dropouts: [] });
    expect(ramp.rpm).toBeUndefined();
    expect(cannotTell.map(({ what }) => what)).toContain('rpm');
  });

  it('spots a clamp scale that is ten times off', () => {
    const { channel } = draw({ meanA: 0.4, noiseA: 0.003, stepA: 0.001 });
    const { findings } = analyzeRamp(channel, 50_000, 0);
    expect(findings.find(({ code }) => code === 'scale-small')?.text).toContain('ten times too small');
  });

  it('knows a current that a driver switches', () => {
    const samples = Float32Array.from({ length: 50_000 }, (_, i) => (i < 5000 ? 0 : i % 200 < 120 ? 5 : 0.02));
    expect(analyzeRamp(asChannel(samples), 50_000, 0).ramp.pattern).toBe('pulsed');
  });

  it('slows a good pump down by a resistive feed, as measured', () => {
    const rpmWith = (feedOhm: number) =>
      analyzeRamp(asChannel(simulateCapture({ feedOhm }).capture.channels[0].samples), 100_000, 0).ramp.rpm!;
    expect(rpmWith(0.4)).toBeLessThan(0.9 * rpmWith(0.05));
  });
});
