import fc from 'fast-check';
import {
  holdAgainst,
  knownGoodOf,
  presentEvidence,
  ratedByShelf,
  turnEnvelope,
  templateProfile,
  weighCase,
  DEFAULT_HOUSE_RULES,
  alignTurns,
  type ChainLink,
  type KnownGood,
} from '../src/index.js';
import { sweepBeside } from '../src/casework/sweep-beside.js';
import { chain, ground } from './support/case-chain.js';

// What a good pump of its kind shows, and what others are held against it for.

it('lays one turn on another whatever the record began with', () => {
  const shape = (angle: number) => 5 + Math.sin(2 * Math.PI * 8 * angle) - (angle > 0.4 && angle < 0.5 ? 2 : 0);
  fc.assert(
    fc.property(fc.double({ min: 0, max: 1, noNaN: true }), fc.integer({ min: 200, max: 900 }), (shift, points) => {
      const turn = (by: number, count: number) =>
        Float64Array.from({ length: count }, (_, i) => shape((i / count + by) % 1));
      const { reference, other } = alignTurns(turn(0, 512), turn(shift, points));
      const apart = reference.map((value, i) => Math.abs(value - other[i])).sort();
      // But for the notch's two edges, which fall between points, both are alike.
      expect(apart[Math.floor(0.95 * apart.length)]).toBeLessThan(0.25);
      // Three pumps of one shape, a tenth apart: the middle one between the other two, wherever each record began.
      const scaled = [1, 0.9, 1.1].map((gain, i) => turn(i * shift, points).map((amperes) => gain * amperes));
      const { median, least, most } = turnEnvelope(scaled);
      const within = reference.map((value, i) =>
        Math.max(Math.abs(median[i] - value), Math.abs(least[i] - 0.9 * value), Math.abs(most[i] - 1.1 * value)),
      );
      expect(within.sort()[Math.floor(0.9 * within.length)]).toBeLessThan(0.3);
    }),
  );
});

describe('a capture beside the known-goods of its kind', () => {
  const good = { keyState: 'prime', meanA: 5, ripplePercent: 10, rpm: 6000, pumpV: 12.5 } as const;
  const pump = { volts: 12.5, amperes: 5, rpm: 6000, pressurePa: 400e3, windingOhm: 0.5 };

  it('compares draws at one voltage and pressure: worked by hand', () => {
    // Half of the torque lifts pressure, three tenths follow the speed: 300 for 400 kPa takes off 0.125, 8 for 10 V of
    // back-EMF 0.06. So 5 A become 4.075 A.
    const low = { ...good, pumpV: 10.5, pressurePa: 300e3 };
    const [draw] = holdAgainst({ ...low, meanA: 4.1 }, [{ ...good, pressurePa: 400e3 }], pump);
    expect(draw).toMatchObject({ within: true, note: 'brought to this pump’s volts and pressure' });
    expect(draw.median).toBeCloseTo(4.075, 9);
    // Pressed without being read on one side, nothing is brought to it.
    expect(holdAgainst({ ...low, meanA: 4.1 }, [good], pump)[0].median).toBeCloseTo(4.7, 9);
    expect(holdAgainst(low, [good], undefined)[0]).not.toHaveProperty('note');
  });

  it('compares speeds at one voltage: worked by hand', () => {
    // 6000 rpm at 12.5 V with 5 A through 0.5 ohm is 10 V of back-EMF; at 10.5 V it is 8 V, so 4800 rpm.
    const [, , speed] = holdAgainst({ ...good, rpm: 4750, pumpV: 10.5 }, [good], pump);
    expect(speed).toMatchObject({ name: 'Speed', within: true, count: 1 });
    expect(speed.median).toBeCloseTo(4800, 9);
    expect(holdAgainst({ ...good, rpm: 4100, pumpV: 10.5 }, [good], pump)[2].within).toBe(false);
    // Without its volts a speed is held against twice as much.
    const { pumpV: _, ...blind } = good;
    expect(holdAgainst({ ...blind, rpm: 5300 }, [good], pump)[2]).toMatchObject({
      within: true,
      note: expect.stringMatching(/weren’t read/) as string,
    });
  });

  it('takes what several of them differ by, and none of another key state', () => {
    const several = [4.9, 5, 5.05, 5.1, 5.2].map((meanA) => ({ ...good, meanA }));
    expect(holdAgainst({ ...good, meanA: 5.6 }, several, pump)[0]).toMatchObject({
      median: 5.05,
      count: 5,
      within: false,
    });
    expect(holdAgainst({ ...good, meanA: 5.6 }, [good], pump)[0].within).toBe(true);
    expect(holdAgainst(good, [{ ...good, keyState: 'idle' }], pump)).toEqual([]);
  });

  it('keeps no speed that rests on an assumed bar count, and nothing of a pump that didn’t run', () => {
    const steady = { fromS: 0, toS: 1, meanA: 5, minA: 4, maxA: 6, rippleA: 0.5, ripplePercent: 10 };
    const ramp = { inverted: false, dropouts: [], pattern: 'even', steady, rpm: 6000 } as const;
    const humps = { rateHz: 800, perRevolution: 8, confidence: 0.6 };
    expect(knownGoodOf({ ...ramp, humps: { ...humps, basis: 'assumed' } }, 'prime', {})).not.toHaveProperty('rpm');
    expect(knownGoodOf({ ...ramp, humps: { ...humps, basis: 'measured' } }, 'prime', {})).toMatchObject({ rpm: 6000 });
    expect(knownGoodOf({ inverted: false, dropouts: [], pattern: 'no-current' }, 'prime', {})).toBeUndefined();
  });
});

describe('a pump rated by known-goods of its system', () => {
  const typed = { ...templateProfile('P1'), name: 'Osprey 1.8' };

  it('has their windows where they were taken, and moves the rest by the same share: worked by hand', () => {
    const currentWindows = { prime: { minA: 4, maxA: 6 }, idle: { minA: 4, maxA: 8 } };
    const pump = { ...typed.pump, amperes: 5, rpm: 6000 };
    const good = { keyState: 'prime', meanA: 8, ripplePercent: 10, rpm: 6600 } as const;
    const rated = ratedByShelf({ ...typed, pump, currentWindows, speedWindows: {} }, [good, { ...good, meanA: 7 }]);
    // The middle of 8 and 7 against the window's 5 is one and a half times; they may differ by 15 %, speeds by 8 %.
    expect(rated.pump.amperes).toBeCloseTo(7.5);
    expect(rated.pump.rpm).toBeCloseTo(6600);
    expect(rated.currentWindows.prime).toEqual({ minA: 7.5 * 0.85, maxA: 7.5 * 1.15 });
    expect(rated.currentWindows.idle).toEqual({ minA: 6, maxA: 12 });
    expect(rated.speedWindows?.prime?.maxRpm).toBeCloseTo(1.08 * 6600);
  });

  it('is rated by the volts that it had, behind a module too: worked by hand', () => {
    const pump = { volts: 12, amperes: 6, rpm: 5000, pressurePa: 400e3, windingOhm: 0.5 };
    const driven = { ...templateProfile('P4'), pump, currentWindows: {}, speedWindows: {}, pressureWindows: {} };
    // At 9.2 V and 6.4 A it turns by 6 V of back-EMF; rated it would be by some 8.
    const good = { keyState: 'idle', meanA: 6.4, ripplePercent: 10, rpm: 4000, pumpV: 9.2, pressurePa: 400e3 } as const;
    const rated = ratedByShelf(driven, [good]);
    // 12 V less 7.02 A through 0.5 ohm is 8.49 V: the torque was 0.2 + 0.3 · 6 / 8.49 + 0.5 = 0.912 of what it is there.
    expect(rated.pump.amperes).toBeCloseTo(7.02, 1);
    expect(rated.pump.rpm).toBeCloseTo((4000 * 8.49) / 6, -2);
    expect(rated.currentWindows.idle?.maxA).toBeCloseTo(6.4 * 1.15, 9);
    // Without its volts nothing is known of the rating, but what it draws in that state.
    const { pumpV: _, ...blind } = good;
    expect(ratedByShelf(driven, [blind]).pump).toEqual(pump);
    expect(ratedByShelf(driven, [blind]).currentWindows).toEqual(rated.currentWindows);
    expect(ratedByShelf(driven, [])).toBe(driven);
  });

  it('behind a module is not accused of drawing what sound ones draw there', () => {
    const { links, volts, read, add } = chain();
    const profile = { ...templateProfile('P4'), name: 'Osprey 2.0' };
    add('system', 'path', { shipped: false, line: 'l', version: 1, name: profile.name, profile });
    volts('battery', 12.5);
    volts('module-in', 12.3);
    read('current', 'pump', 1.6 * profile.pump.amperes);
    const goods = [1.55, 1.6, 1.62].map((share) => ({
      ...{ keyState: 'prime' as const, ripplePercent: 9 },
      meanA: share * profile.pump.amperes,
    }));
    expect(pumpFamilies(links, [])).toBeGreaterThan(2 * pumpFamilies(links, goods));
  });

  it('is not accused of drawing what sound ones of its kind draw', () => {
    const { links, volts, read, add } = chain();
    add('system', 'path', { shipped: false, line: 'l', version: 1, name: typed.name, profile: typed });
    volts('battery', 12.5);
    volts('pump', 11.85);
    volts('ground-pin', 0.1);
    read('current', 'pump', 8.4);
    const goods = [8.2, 8.5, 8.6].map((meanA) => ({ keyState: 'prime' as const, meanA, ripplePercent: 9 }));
    expect(pumpFamilies(links, [])).toBeGreaterThan(2 * pumpFamilies(links, goods));
  });
});

/** The weight of everything that would be the pump itself. */
function pumpFamilies(links: readonly ChainLink[], goods: readonly KnownGood[]): number {
  const evidence = presentEvidence({ ...ground(links), goods }, 'open');
  return weighCase(evidence, DEFAULT_HOUSE_RULES)
    .families.filter(({ family }) => family.startsWith('pump-'))
    .reduce((sum, { probability }) => sum + probability, 0);
}

describe('a duty sweep beside a known-good', () => {
  const good = [
    { commandPercent: 30, outputPercent: 50, currentA: 5, pressurePa: 380e3 },
    { commandPercent: 50, outputPercent: 90, currentA: 7, pressurePa: 384e3 },
  ];
  const at = (share: number, pressure = 1) =>
    [30.4, 40, 50].map((commandPercent) => ({
      commandPercent,
      currentA: share * (5 + (Math.max(0, commandPercent - 30.4) / 19.6) * 2),
      pressurePa: pressure * 380e3,
    }));

  it('takes a known-good’s step as it is where commands are the same, between two steps else, and nothing beyond', () => {
    const steps = [30.4, 40, 55].map((commandPercent) => ({ commandPercent, currentA: 6 }));
    const [same, between, beyond] = sweepBeside(steps, good).steps.map(({ good: theirs }) => theirs);
    expect(same).toMatchObject({ commandPercent: 30.4, outputPercent: 50, currentA: 5 });
    expect(between).toMatchObject({ outputPercent: 70, currentA: 6, pressurePa: 382e3 });
    expect(beyond).toBeUndefined();
  });

  it.each([
    ['half the current at every step', at(0.5), /^It draws (49 to )?50 % .* the module passes too little/],
    ['the same current without its pressure', at(1, 0.6), /the pump, or the fuel side/],
    ['the same in all', at(1.02), /^It draws what the known-good draws/],
    ['less at one step only', [...at(1).slice(0, 2), { commandPercent: 50, currentA: 3 }], undefined],
    ['one step', at(0.5).slice(0, 1), undefined],
  ])('says what %s means', (_, steps, says) => {
    const { says: said } = sweepBeside(steps, good);
    if (says) expect(said).toMatch(says);
    else expect(said).toBeUndefined();
  });
});
