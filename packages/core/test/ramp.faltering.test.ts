import { analyzeRamp } from '../src/measure/current/analyze-ramp.js';
import { simulateCapture } from '../src/simulate/capture-spec.js';
import { intermittentRecord } from '../src/simulate/wide-intermittent.js';
import { wideCapture } from '../src/simulate/wide-capture.js';
import { asChannel, draw } from './support/drawn-capture.js';

/** One clamp on a pump that falters while it runs, with nothing off on the record. */
function byClampAlone(seed: number, zeroStated: boolean) {
  const { currentA, flowsA, sampleRateHz, truth } = intermittentRecord(seed);
  const { ramp, findings, cannotTell } = analyzeRamp({ samples: currentA, zeroStated }, sampleRateHz, 0);
  const [from, to] = [ramp.steady?.fromS ?? 0, ramp.steady?.toS ?? 0].map((s) => Math.round(s * sampleRateHz));
  const meanA = flowsA.subarray(from, to).reduce((sum, value) => sum + value, 0) / (to - from);
  return { ramp, truth, meanA, codes: findings.map(({ code }) => code), cannotTell };
}

describe('a pump that falters while it runs, by its clamp alone', () => {
  it.each([
    // Runs dry, clogs, has a weak brush: each was taken for an off at a level of its own, or for an input that forgets.
    ...[178_001, 178_004, 178_022, 178_042, 178_061, 178_080, 178_088, 178_092, 180_001, 180_004],
    // Contacts that bounce and feeds that step: each new start was taken for a current thrown up by no motor.
    ...[178_009, 178_037, 178_048, 178_060, 178_070, 180_069, 180_090],
  ])('seed %d keeps its level, its direction and its zero', (seed) => {
    for (const zeroStated of [false, true]) {
      const { ramp, truth, meanA, cannotTell } = byClampAlone(seed, zeroStated);
      expect(cannotTell.map(({ because }) => because).join()).not.toMatch(/AC-coupled/);
      expect(ramp.inverted).toBe(truth.clamp.isBackwards);
      if (truth.clamp.isZeroed) {
        const reach = Math.max(0.01 * meanA, truth.clamp.stepA / 2);
        expect(Math.abs(ramp.steady!.meanA - meanA)).toBeLessThanOrEqual(reach);
      }
    }
  });

  it('says when far less flows for a while, and leaves it out of the steady part', () => {
    const { ramp, truth, codes } = byClampAlone(178_001, false);
    expect(truth.fault).toBe('starve');
    expect(codes).toContain('current-low');
    const [[from, to]] = truth.incidents;
    expect(ramp.steady!.toS < from || ramp.steady!.fromS > to).toBe(true);
  });

  it('calls no new start after a contact’s bounce a rotor that stands, and blames no bars for it', () => {
    for (const seed of [178_009, 178_040, 178_069, 178_087]) {
      const { ramp, truth, codes } = byClampAlone(seed, true);
      expect([seed, truth.fault]).toEqual([seed, 'contact-bounce']);
      expect(codes).toContain('interrupted');
      expect(codes).not.toContain('stall');
      const [[from]] = truth.incidents;
      expect(ramp.dropouts.some(({ startS }) => Math.abs(startS - from) < 0.03)).toBe(true);
      expect(['dead-stretch', 'burnt-bars', 'locked-notch']).not.toContain(ramp.pattern);
    }
  });

  it('takes a gap that is longer than a turn for no dead stretch of the rotor, and asks for the volts', () => {
    const { capture } = simulateCapture({ dead: [{ startS: 1.1, durationS: 0.03 }] });
    const { ramp, findings } = analyzeRamp(asChannel(capture.channels[0].samples), 100_000, 0);
    expect(ramp.pattern).toBe('random-dropouts');
    const [{ startS, endS }] = ramp.dropouts;
    expect(startS).toBeCloseTo(1.1, 2);
    expect(endS - startS).toBeGreaterThan(0.025);
    expect(findings.find(({ code }) => code === 'interrupted')?.text).toMatch(/once, longest for \d+ ms.*voltage/);
  });
});

it('names what every turn brings back before a current that was cut off for longer', () => {
  const { samples, sampleRateHz, zeroStated, truth } = wideCapture(190_030);
  const { ramp } = analyzeRamp({ samples, zeroStated }, sampleRateHz, 0);
  expect([truth.fault, ramp.pattern]).toEqual(['dead-segment', 'dead-stretch']);
});

it('takes what a coasting rotor feeds back for no input that forgets, and the zero from where it is over', () => {
  for (const meanA of [1.8, 6]) {
    const { channel } = draw({ meanA, onS: 0.2, durationS: 1.2 });
    const samples = new Float32Array(1.7 * 50_000);
    samples.set(channel.samples);
    for (let i = channel.samples.length; i < samples.length; i++) {
      // A tenth of its draw, backwards, as long as it turns (what was seen of relays with other loads: common practice).
      const since = (i - channel.samples.length) / 50_000;
      samples[i] = channel.samples[i % 8000] - 0.1 * meanA * Math.exp(-since / 0.06);
    }
    const { ramp, cannotTell } = analyzeRamp(asChannel(samples), 50_000, 0);
    expect(cannotTell.map(({ because }) => because).join()).not.toMatch(/AC-coupled/);
    expect(ramp.offS).toBeCloseTo(1.2, 2);
    expect(ramp.steady!.meanA / meanA).toBeCloseTo(1, 1);
  }
});

describe('an input that passes no steady current', () => {
  it.each([
    [
      'a running pump that reads nothing beside an off that reads its draw',
      [160_145, 170_130, 170_154, 171_019, 175_330],
    ],
    ['a start that comes back to the level before it', [160_123, 170_519]],
    ['a locked rotor’s current that goes on falling', [170_306, 171_418, 176_217]],
    ['a level that falls while the humps keep their rate', [166_327, 175_620, 175_837]],
  ])('is known by %s', (_how, seeds) => {
    for (const seed of seeds) {
      const { samples, sampleRateHz, zeroStated } = wideCapture(seed);
      const { ramp, cannotTell } = analyzeRamp({ samples, zeroStated }, sampleRateHz, 0);
      expect([seed, ramp.steady]).toEqual([seed, undefined]);
      expect(cannotTell.find(({ what }) => what === 'steady')?.because).toMatch(/AC-coupled/);
    }
  });

  it.each([178_047, 178_075, 178_097, 214_081, 214_100])(
    'takes no weak contact for the clamp’s zero: seed %d',
    (seed) => {
      const { ramp, truth, meanA, cannotTell } = byClampAlone(seed, false);
      expect(truth).toMatchObject({ fault: 'brush-weak', clamp: { isZeroed: true } });
      expect(cannotTell.map(({ what }) => what)).toContain('zeroOffsetA');
      expect(Math.abs(ramp.steady!.meanA / meanA - 1)).toBeLessThan(0.01);
    },
  );

  // The mains made a turn of sixteen of an alternator's cycles; a fifth of a recorder's step, of 26.
  it.each([161_191, 178_062])('calls no turn measured that isn’t the rotor’s: seed %d', (seed) => {
    const { ramp, truth } = byClampAlone(seed, false);
    const right = ramp.rpm && Math.abs(ramp.rpm / truth.rpm(ramp.steady!.fromS, ramp.steady!.toS) - 1) < 0.02;
    expect(ramp.humps?.basis === 'measured' && !right).toBe(false);
  });
});
