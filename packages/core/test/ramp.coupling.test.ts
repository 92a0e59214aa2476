import { analyzeRamp } from '../src/measure/current/analyze-ramp.js';
import { quantile } from '../src/signal/levels.js';
import { wideCapture } from '../src/simulate/wide-capture.js';
import { asChannel, draw } from './support/drawn-capture.js';
import { BURNT, measured } from './support/measured-capture.js';

describe('a clamp or an input that passes no steady current', () => {
  it.each(['measured', 'with the zero stated'])('tells a clamp that passes no steady current, %s', (how) => {
    const { samples } = draw({ onS: 0, durationS: 2, rpm: 6200 }).channel;
    const corner = Math.exp((-2 * Math.PI) / 50_000);
    let slow = samples[0];
    const passed = samples.map((value) => {
      slow = value + corner * (slow - value);
      return value - slow;
    });
    const { ramp, cannotTell } = analyzeRamp({ samples: passed, zeroStated: how !== 'measured' }, 50_000, 0);
    expect(ramp.steady).toBeUndefined();
    expect(ramp.rpm! / 6200).toBeCloseTo(1, 2);
    expect(ramp.pattern).toBe('even');
    expect(cannotTell[0].because).toMatch(/AC-coupled/);
  });

  /** What an input with a coupling capacitor makes of a record: a first-order high-pass (any textbook of electronics). */
  const coupled = (samples: Float32Array, cornerHz: number, rateHz: number) => {
    const forget = Math.exp((-2 * Math.PI * cornerHz) / rateHz);
    let slow = 0;
    return samples.map((value) => value - (slow = value + forget * (slow - value)));
  };

  it.each([
    ['slowly, its off left below zero', 0.4],
    ['at once, the steady current next to nothing', 3],
  ])(
    'an input that forgets its level %s gives no mean, burns no sound pump and misses no burnt one',
    (_how, cornerHz) => {
      for (const seed of [3, 4, 5, 6]) {
        const burnt = seed % 2 === 0 ? [{ bar: 2, depth: 0.9 }] : [];
        const spec = { seed, burnt, rpm: 5400 + 300 * seed, onS: 0.2, durationS: 1.6, levelSpread: 0.02 };
        const { samples } = draw(spec).channel;
        // Switched off again before the record ends, as it was before it began.
        samples.copyWithin(1.5 * 50_000, 0, 0.1 * 50_000);
        const { ramp } = analyzeRamp(asChannel(coupled(samples, cornerHz, 50_000)), 50_000, 0);
        expect(ramp.steady).toBeUndefined();
        expect({ seed, found: ['burnt-bars', 'locked-notch', 'dead-stretch'].includes(ramp.pattern) }).toEqual({
          seed,
          found: burnt.length > 0,
        });
      }
    },
  );

  it('tells an AC-coupled clamp’s direction by its start, though the run that is followed begins after the surge', () => {
    for (const seed of [57201, 57219, 57256, 57259, 57055, 57163, 53828]) {
      const { samples, zeroStated, sampleRateHz, truth } = wideCapture(seed);
      const { ramp } = analyzeRamp({ samples, zeroStated }, sampleRateHz, 0);
      expect([seed, ramp.inverted]).toEqual([seed, truth.inverted]);
    }
  });

  it('takes a clamp that is an ampere off, with nothing off to see, for no AC-coupled one, and says what that does', () => {
    // An input that passes no steady current forgets its level; these hold theirs to the end.
    for (const seed of [85216, 85272, 85292, 85401, 85442, 85544, 85627, 83892]) {
      const { samples, zeroStated, sampleRateHz, truth } = wideCapture(seed);
      const { ramp, findings, cannotTell } = analyzeRamp({ samples, zeroStated }, sampleRateHz, 0);
      expect(cannotTell.map(({ what }) => what)).toContain('zeroOffsetA');
      expect(cannotTell.map(({ because }) => because).join()).not.toContain('AC-coupled');
      expect([seed, BURNT.includes(ramp.pattern), ramp.pattern === 'pulsed']).toEqual([
        seed,
        ['burnt-bar', 'dead-segment'].includes(truth.fault),
        truth.fault === 'chopped',
      ]);
      // Below nothing no current flows: where it reads so, the zero is what is wrong, and no level can be told.
      const upright = truth.inverted ? samples.map((value) => -value) : samples;
      const isBelow = quantile(upright, 0.02) < -0.3;
      expect([seed, findings.some(({ code }) => code === 'zero-wrong')]).toEqual([seed, isBelow]);
      expect([seed, ramp.steady === undefined, ramp.inrushPeakA]).toEqual([seed, isBelow, undefined]);
    }
  });

  it.each([
    // A prime that is all start: its level was gone by the time it had settled, and the humps went on in what was called off.
    320_178,
    // A locked rotor's current that fell to a twentieth without an end.
    340_379,
    // A rest, a start and humps, all before the only off: the rest was taken for the running pump.
    340_598,
    // Offs that no clamp shows: an ampere flowed the wrong way, or eleven from a zero of eleven.
    ...[350_108, 350_345],
    // What flows for moments only, between times that are as lively.
    300_141,
    // A fall by a third in a quarter of a second that left the humps' rate as it was.
    330_177,
  ])('tells no level that an input forgets: seed %d', (seed) => {
    const { samples, zeroStated, sampleRateHz, truth } = wideCapture(seed);
    const { ramp } = analyzeRamp({ samples, zeroStated }, sampleRateHz, 0);
    expect([truth.acCoupled, ramp.steady]).toEqual([true, undefined]);
  });

  it('says of no feed that it breaks off where an AC-coupled clamp swings about a rotor that stood', () => {
    const { samples, zeroStated, sampleRateHz } = wideCapture(301_056);
    const { ramp, findings } = analyzeRamp({ samples, zeroStated }, sampleRateHz, 0);
    expect([ramp.steady, ramp.pattern, findings]).toEqual([undefined, 'irregular', []]);
  });

  it('follows a short prime through an AC-coupled clamp', () => {
    for (const seed of [87271, 87720, 87763]) {
      const { samples, zeroStated, sampleRateHz, truth } = wideCapture(seed);
      const { ramp } = analyzeRamp({ samples, zeroStated }, sampleRateHz, 0);
      expect([seed, BURNT.includes(ramp.pattern)]).toEqual([seed, true]);
      expect(ramp.rpm! / truth.rpm).toBeCloseTo(1, 2);
    }
  });

  it('takes no calm head at the level of the running pump for a running pump: such an input forgets its level', () => {
    for (const seed of [16161, 16205, 19752]) {
      const { samples, sampleRateHz, zeroStated } = wideCapture(seed);
      expect(BURNT).not.toContain(analyzeRamp({ samples, zeroStated }, sampleRateHz, 0).ramp.pattern);
    }
  });

  it('tells a driver through an AC-coupled clamp in coarse steps, where the record begins with nothing flowing, and under spikes', () => {
    for (const seed of [17018, 16352, 19188, 17065, 25587]) {
      const { samples, sampleRateHz, zeroStated } = wideCapture(seed);
      expect(analyzeRamp({ samples, zeroStated }, sampleRateHz, 0).ramp.pattern).toBe('pulsed');
    }
  });

  it('sees humps that pass at a multiple of the mains: no pick-up has so strong an overtone', () => {
    // 1 200 a second, through an off that is as lively as the run; they passed for hum, and the start's fall for burnt bars.
    const { samples, sampleRateHz, zeroStated, truth } = wideCapture(450_056);
    const { ramp, cannotTell } = analyzeRamp({ samples, zeroStated }, sampleRateHz, 0);
    expect(cannotTell[0].because).toMatch(/AC-coupled/);
    expect([ramp.pattern, ramp.steady]).toEqual(['even', undefined]);
    expect(ramp.rpm! / truth.rpm).toBeCloseTo(1, 2);
  });

  it('tells an input that forgets a start’s level: the humps, a share of any current, don’t fall along', () => {
    for (const seed of [23016, 23060, 23215]) {
      const { samples, sampleRateHz, zeroStated } = wideCapture(seed);
      const { ramp, cannotTell } = analyzeRamp({ samples, zeroStated }, sampleRateHz, 0);
      expect(cannotTell.find(({ what }) => what === 'steady')?.because).toMatch(/AC-coupled/);
      expect(BURNT).not.toContain(ramp.pattern);
    }
  });

  it('takes what a recorder’s coarse steps make of hum for no humps of a pump that is off', () => {
    for (const seed of [19088, 16328, 17571, 27119]) {
      const { samples, sampleRateHz, zeroStated, truth } = wideCapture(seed);
      const { ramp } = analyzeRamp({ samples, zeroStated }, sampleRateHz, 0);
      // No AC-coupled clamp, so a mean is told.
      expect(Math.abs(ramp.steady!.meanA / truth.meanA - 1)).toBeLessThan(0.02);
      expect(BURNT).not.toContain(ramp.pattern);
    }
  });

  it.each([
    // Their stalls passed for a contact that opens, or for nothing at all.
    ...[400_131, 400_265, 400_278, 400_415, 360_722].map((seed) => ({ seed, said: ['stall'] })),
    ...[400_556, 360_185, 360_219].map((seed) => ({ seed, said: ['interrupted'] })),
    // Hum before a start passes for humps, and the start's surge is neither.
    ...[400_569, 360_014, 360_042, 360_198].map((seed) => ({ seed, said: [] })),
  ])('tells what parts two runs by which way the level goes, and how far back: seed $seed', ({ seed, said }) => {
    const { findings, cannotTell, truth } = measured(seed);
    expect(cannotTell[0].because).toMatch(/AC-coupled/);
    const codes = findings.map(({ code }) => code).filter((code) => ['stall', 'interrupted'].includes(code));
    expect([truth.fault === 'stall', codes]).toEqual([said.includes('stall'), said]);
  });

  it.each([400_339, 410_238, 410_193])(
    'takes no off that such an input lets fade for a pump on a backwards clamp, with brushes that bounce before it: seed %d',
    (seed) => {
      const { ramp, findings, cannotTell } = measured(seed);
      expect(cannotTell[0].because).toMatch(/AC-coupled/);
      expect([ramp.steady, ramp.inverted]).toEqual([undefined, false]);
      expect(findings.map(({ code }) => code)).not.toContain('interrupted');
    },
  );

  it.each([
    // What the current falls to in each turn or cycle reads as far below as what flows, and what flows reads nothing.
    ...[660_196, 660_251, 560_025],
    // A rotor that stood and turns again swings below; that passed for an off with a zero of its own.
    ...[680_393, 560_274],
    // The dip after a start's surge, or where it fades to, passed for the off.
    ...[690_134, 560_366, 560_095],
    // What a start left behind, a hundredth and less of its peak, passed for a run of its own, and its bars for burnt.
    810_206,
    // Of a floor that would be a clamp's, it is off by an ampere, backwards, on a pump that draws little: too much at once.
    810_170,
    // Its dead stretches have edges as high as the off that fades after them.
    850_056,
    // The record begins within a brush's gap, and what flowed of that was as lively as the off that was none.
    870_291,
    // A start and a rotor that stands, and nothing that shows a level: but the stalled current goes down by 8 % in 37 ms.
    890_312,
    // A rotor that never turns, whose current is forgotten within a fifth of a second and passed for one that was switched off.
    840_180,
  ])('gives no mean by a zero that the input made itself: seed %d', (seed) => {
    const { ramp, cannotTell, truth } = measured(seed);
    expect([truth.acCoupled, ramp.steady]).toEqual([true, undefined]);
    expect(cannotTell[0].because).toMatch(/AC-coupled/);
    expect(BURNT.includes(ramp.pattern)).toBe(truth.fault === 'dead-segment');
  });
});
