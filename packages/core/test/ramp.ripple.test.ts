import { trueRippleA } from '../src/simulate/wide-capture.js';
import { measured } from './support/measured-capture.js';

// The ripple is the pump's own: not what the mains put into the clamp's lead, ignition's spikes, or what a recorder makes of them.

/** Measured over true. */
function share(seed: number): number {
  const { ramp, ...capture } = measured(seed);
  const { fromS, toS, rippleA } = ramp.steady!;
  return rippleA / trueRippleA(capture, fromS, toS);
}

it.each([
  ['hum of some tenths of an ampere', [480_012, 480_051, 480_092, 480_101, 480_172]],
  ['a spike in every turn', [480_002, 480_071, 482_205]],
  ['a recorder that keeps lowest and highest by turns', [480_026, 480_052, 480_233]],
  [
    'one whose pairs would round off the humps, or that has nothing to hide',
    [482_048, 482_341, 482_041, 483_039, 530_259],
  ],
  ['hum beside a shaft that turns at nearly its rate', [510_030, 510_223, 520_002, 530_082, 560_242, 560_258]],
  ['spikes that passed for noise while the pump was off', [570_120, 570_242]],
  ['steps of a quarter of it', [480_145, 480_281]],
])('is free of %s', (_, seeds) => {
  for (const seed of seeds) {
    expect([seed, Math.abs(share(seed) - 1) < 0.1]).toEqual([seed, true]);
  }
});

it('leaves a rotor its own lines where the mains’ lie among them', () => {
  // 7 195 rpm: twice the mains' 60 Hz.
  expect(share(482_190)).toBeCloseTo(1, 1);
});

it('is none of ignition’s where no turn is known: a rotor that stands draws a steady current', () => {
  for (const seed of [910_210, 910_234]) {
    const { ramp, truth } = measured(seed);
    expect([truth.fault, ramp.pattern]).toEqual(['locked', 'locked-rotor']);
    expect(ramp.steady!.rippleA).toBeLessThan(0.1);
  }
});

it('keeps what brushes that bounce in every turn make of it: a worse pump gives no quieter report', () => {
  for (const seed of [480_005, 480_049, 480_065]) {
    const one = measured(seed);
    expect(one.truth.fault).toBe('brush-bounce');
    expect([seed, one.ramp.steady!.ripplePercent > 60]).toEqual([seed, true]);
  }
});
