import { analyzeRamp, trueRpm, woundCapture } from '@jarro/core';

// Motors that are solved as circuits: humps, notches and lobes come out of coils, bars and brushes, and nobody drew them.
// More of them are scored in scripts/test/accuracy.test.ts.

function measured(seed: number) {
  const capture = woundCapture(seed);
  const { samples, sampleRateHz, truth } = capture;
  const { ramp } = analyzeRamp({ samples, zeroStated: false }, sampleRateHz, 0);
  const { fromS, toS, meanA } = ramp.steady!;
  const part = truth.currentA.subarray(Math.round(fromS * sampleRateHz), Math.round(toS * sampleRateHz));
  const mean = part.reduce((sum, value) => sum + value, 0) / part.length;
  return { ramp, truth, mean: meanA / mean, speed: (ramp.rpm ?? NaN) / trueRpm(capture, fromS, toS) };
}

it.each([9, 30])('measures the turn and the draw of a motor: seed %d', (seed) => {
  const { ramp, mean, speed } = measured(seed);
  expect(ramp.humps!.basis).toBe('measured');
  expect(speed).toBeCloseTo(1, 2);
  expect(mean).toBeCloseTo(1, 2);
});

it('takes no half of a turn for the whole along a harmonic of the humps, whose turn is longer than any that is compared', () => {
  // Twelve bars under brushes that are nearly alike: six at twice the speed, measured.
  const { ramp, speed } = measured(75);
  expect(ramp.humps!.perRevolution).toBe(12);
  expect(speed).toBeCloseTo(1, 2);
});

it('takes no half of a turn for the whole where each bar’s hump is two', () => {
  // Eight bars under brushes that are quite alike, a little off their place: eight lobes in half a turn, and twice the speed, measured.
  const { ramp, speed } = measured(3135);
  expect(ramp.humps!.perRevolution).toBe(8);
  expect(speed).toBeCloseTo(1, 2);
});

it('calls no half measured of what has lines that only the whole turn has', () => {
  // An open coil, of which half a turn is nearly like the other.
  const { ramp, speed } = measured(2093);
  expect(Math.abs(speed - 1)).toBeGreaterThan(0.5);
  expect(ramp.humps!.basis).toBe('assumed');
});

it.each([4020, 6053])(
  'makes no turn of one line that happens to keep step, where likelier turns wander: seed %d',
  (seed) => {
    // 26 humps at a third of the speed and at twice it; the first of them measured.
    const { ramp, speed } = measured(seed);
    expect(ramp.humps!.perRevolution).toBe(8);
    expect(speed).toBeCloseTo(1, 2);
  },
);

it.each([8186, 9051])('blames no bar for what a brush or a hump of two lobes does to every one: seed %d', (seed) => {
  // Seven bars, each a twentieth lower under one brush; six bars, the second lobe of each hump a twelfth lower.
  const { ramp, truth } = measured(seed);
  expect(truth.fault).toBe('sound');
  expect(ramp.humps!.basis).toBe('measured');
  expect(ramp.bars).toBeUndefined();
});

it.each([8064, 8092, 8112, 8192])(
  'tells the turn of an open coil that draws two or four bumps in it: seed %d',
  (seed) => {
    // No motor has so few humps, so that no turn was told, or two taken for one.
    const { ramp, truth, speed } = measured(seed);
    expect([truth.fault, ramp.pattern]).toEqual(['open-coil', 'burnt-bars']);
    expect(ramp.humps!.basis).toBe('assumed');
    expect(speed).toBeCloseTo(1, 2);
  },
);

it.each([2187, 3079])('makes no turn of what a slow recorder folds back of the humps: seed %d', (seed) => {
  expect(measured(seed).speed).toBeCloseTo(1, 2);
});

it.each([2071, 3061])('knows a turn by its own lines where its bars hardly differ: seed %d', (seed) => {
  const { ramp, speed } = measured(seed);
  expect(ramp.humps!.basis).toBe('measured');
  expect(speed).toBeCloseTo(1, 2);
});

it('takes what the record begins with for the clamp’s zero, and not what a bad bar lets through before the rotor moves', () => {
  const { ramp, truth, mean } = measured(3052);
  expect(truth.fault).toBe('burnt-bar');
  expect(Math.abs(ramp.zeroOffsetA!)).toBeLessThan(0.05);
  expect(mean).toBeCloseTo(1, 2);
});

it.each([147, 2198])('blames no bar where low ones lie evenly around, all as low: seed %d', (seed) => {
  const { ramp, truth } = measured(seed);
  expect(truth.fault).toBe('sound');
  expect(ramp.pattern).toBe('even');
  expect((ramp.bars ?? []).filter(({ state }) => state !== 'sound')).toEqual([]);
});

it('judges bars against those that carry the most: an open coil takes from all the others', () => {
  const { ramp, truth } = measured(100);
  expect(truth.fault).toBe('open-coil');
  // Even humps, by the middle of the bars.
  expect(ramp.pattern).toBe('burnt-bars');
  expect(ramp.bars!.filter(({ state }) => state === 'open')).toHaveLength(8);
});

it('calls no current even that goes up and down by half of it', () => {
  const { ramp } = measured(5);
  expect(ramp.steady!.ripplePercent).toBeGreaterThan(50);
  expect(ramp.pattern).toBe('irregular');
});
