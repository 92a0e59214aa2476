import { analyzeRamp } from '../src/measure/current/analyze-ramp.js';
import { seededRandom } from '../src/signal/random.js';
import { asChannel, draw } from './support/drawn-capture.js';
import { BURNT, measured } from './support/measured-capture.js';

describe('zero, direction and level of a record', () => {
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

  it('takes a clamp’s offset that drifts, hums or spikes, with no hump in it, for no running pump', () => {
    for (const seed of [57234, 57244, 57359, 57568, 53202, 51325]) {
      const { ramp, findings } = measured(seed);
      expect([seed, ramp.pattern, ramp.steady]).toEqual([seed, 'no-current', undefined]);
      expect(findings.map(({ code }) => code)).toEqual(['clamp-not-zeroed', 'no-current']);
    }
  });

  it('judges bars beside what may flow at most where a small level may be the clamp’s own', () => {
    const { ramp } = measured(320_184);

    expect([ramp.zeroOffsetA, ramp.pattern]).toEqual([undefined, 'even']);
  });

  it('lets hum move no off away from a zero that has drifted', () => {
    const { ramp, truth } = measured(330_187);

    expect(Math.abs(ramp.offS! - truth.runs[0][1])).toBeLessThan(0.005);
  });

  it.each([
    // Humps of 70 % of a small draw are no sound pump's: an AC-coupled input left an ampere of eight.
    { seed: 320_184, told: false, code: undefined },
    { seed: 300_311, told: false, code: undefined },
    // A small draw may be a clamp's zero: told, with a caution.
    { seed: 300_365, told: true, code: 'level-doubtful' },
    { seed: 330_146, told: true, code: 'level-doubtful' },
  ])('goes by no small level whose zero nothing shows: seed $seed', ({ seed, told, code }) => {
    const { ramp, findings } = measured(seed);
    expect(ramp.steady !== undefined).toBe(told);
    expect(findings.find((finding) => finding.code.startsWith('level-'))?.code).toBe(code);
    // Nor is a clamp on backwards that may just be off.
    expect(findings.map((finding) => finding.code)).not.toContain('clamp-reversed');
  });

  it('lets a pump coast about a stated zero, which no fading makes doubtful', () => {
    const { ramp, truth, zeroStated } = measured(340_109);

    expect(zeroStated).toBe(true);
    expect(Math.abs(ramp.offS! - truth.runs[0][1])).toBeLessThan(0.005);
    expect(ramp.rpm! / truth.rpm).toBeCloseTo(1, 2);
  });

  it('knows the off before and after a run though the clamp’s zero wandered between them, at a small draw too', () => {
    for (const seed of [65394, 67321]) {
      const { ramp, truth } = measured(seed);
      expect(ramp.onsetS).toBeCloseTo(truth.runs[0][0], 2);
      expect(ramp.offS).toBeCloseTo(truth.runs[0][1], 2);
    }
  });

  it('keeps the level of a locked rotor among spikes, of dead bars under a clamp that wandered, and beside hum in coarse steps', () => {
    for (const [seed, pattern] of [
      [75080, 'locked-rotor'],
      [79717, 'locked-rotor'],
      [73228, 'dead-stretch'],
      [77534, 'dead-stretch'],
      [79728, 'even'],
      [73744, 'even'],
    ] as const) {
      const { ramp, truth, sampleRateHz } = measured(seed);

      const { fromS, toS, meanA } = ramp.steady!;
      const part = truth.currentA.subarray(Math.round(fromS * sampleRateHz), Math.round(toS * sampleRateHz));
      const mean = part.reduce((sum, value) => sum + value, 0) / part.length;
      expect([seed, ramp.pattern, Math.abs(meanA - mean) < 0.01 * mean + truth.driftA]).toEqual([seed, pattern, true]);
    }
  });

  it('knows a short head that is off where noise hides the humps that it would be calmer than', () => {
    const { ramp, findings, truth } = measured(820_372);
    // The file's own zero made the mean a third too much, and of the head a contact that opens.
    expect(Math.abs(ramp.steady!.meanA / truth.meanA - 1)).toBeLessThan(0.02);
    expect(ramp.onsetS).toBeCloseTo(truth.runs[0][0], 2);
    expect(findings.map(({ code }) => code)).not.toContain('interrupted');
  });

  it('sees through the hum that the end of a record is off, an ampere from zero', () => {
    const { ramp, truth } = measured(40671);

    expect(ramp.offS).toBeCloseTo(truth.runs[0][1], 2);
    expect(ramp.rpm! / truth.rpm).toBeCloseTo(1, 2);
  });

  /** What a driver's clock makes of a current: on for 55 % of each cycle, beginning with the record and never off for longer. */
  const chopped = (current: Float32Array, hz: number, offA: number, rateHz: number) =>
    current.map((value, i) => (((i / rateHz) * hz) % 1 < 0.55 ? value : offA));

  it('takes the level on which a chopped current rests for its zero where nothing is ever off, reversed or not', () => {
    for (const [hz, offsetA, sign] of [
      [60, 1.2, 1],
      [110, -0.3, 1],
      [150, 1.2, -1],
      [400, -1.2, 1],
    ] as const) {
      // prettier-ignore
      const { samples } = draw({ onS: 0, offsetA, sign, rpm: 6130, noiseA: 0.02 }).channel;
      const { ramp } = analyzeRamp(asChannel(chopped(samples, hz, offsetA, 50_000)), 50_000, 0);
      expect({ hz, pattern: ramp.pattern, inverted: ramp.inverted }).toEqual({
        hz,
        pattern: 'pulsed',
        inverted: sign < 0,
      });
      expect(Math.abs(ramp.zeroOffsetA! - offsetA)).toBeLessThan(0.05);
      // On for 55 % of 5 A.
      expect(ramp.steady!.meanA / 2.75).toBeCloseTo(1, 1);
    }
  });

  it('takes a rotor’s dead bars for its zero likewise, and calls them burnt', () => {
    // Drawn with the clamp below zero and no off to see.
    for (const seed of [90046, 90164, 90279]) {
      const { ramp, truth } = measured(seed);
      expect(BURNT).toContain(ramp.pattern);
      expect(Math.abs(ramp.steady!.meanA / truth.meanA - 1)).toBeLessThan(0.01);
    }
  });

  it('takes a clamp that wanders while a small draw holds for no input that forgets', () => {
    const { ramp, cannotTell } = measured(240_026);

    expect(cannotTell).toEqual([]);
    expect(ramp.pattern).toBe('burnt-bars');
  });

  it('takes no notched current’s top for a floor', () => {
    const { ramp } = measured(210039);
    expect(ramp.inverted).toBe(true);
  });

  it('takes a zeroed clamp’s drift and hum for no pump', () => {
    const random = seededRandom(5);
    const drifting = Float32Array.from({ length: 60_000 }, (_, i) => {
      const t = i / 50_000;
      return 0.2 * t + 0.1 * Math.sin(2 * Math.PI * 50 * t) + 0.02 * random.normal();
    });
    const { ramp } = analyzeRamp({ samples: drifting, zeroStated: true }, 50_000, 0);
    expect(ramp.pattern).toBe('no-current');
    expect(ramp.rpm).toBeUndefined();
  });

  it('takes a locked rotor seen in coarse steps for no off thirteen amperes from zero', () => {
    const { ramp, truth } = measured(90312);

    expect({ inverted: ramp.inverted, pattern: ramp.pattern }).toEqual({ inverted: false, pattern: 'locked-rotor' });
    expect(Math.abs(ramp.steady!.meanA / truth.meanA - 1)).toBeLessThan(0.02);
  });
});
