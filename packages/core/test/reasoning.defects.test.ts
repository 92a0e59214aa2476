import { FIRST_CHECKS, templateProfile, type Diagnosis, type Reading, type SystemProfile } from '../src/index.js';
import { opened, read, volts, weigh, weightOf } from './support/readings.js';

// Each of these went wrong once. The numbers are plausible ones of the trade (common practice, no published source).

const burnt = read('capture', 'pump', { meanA: 4.4, pattern: 'burnt-bars', ripplePercent: 34, badBars: 2 });
const proven = [
  volts('battery', 12.4),
  volts('pump', 12.2),
  volts('ground-pin', 0.06),
  read('current', 'pump', 4.4),
  burnt,
];
const missing = ({ gate }: Diagnosis) => gate['replace-pump'].missing.join(' ');
const without = (at: string) => proven.filter((reading) => reading.at !== at);
const first = ({ suspects }: Diagnosis) => suspects[0].id;
const titles = ({ nextTests }: Diagnosis) => nextTests.map(({ title }) => title);

describe('a gate that can’t be fooled', () => {
  it('opens on the whole proof', () => {
    const { gate } = weigh('P1', proven);
    expect(gate['replace-pump']).toMatchObject({ allowed: true, station: 'pump', missing: [] });
  });

  it('takes no ground from the body, and no battery that nobody read', () => {
    const onBody = volts('ground-pin', 0.06, 'prime', { reference: 'chassis' });
    expect(missing(weigh('P1', [...without('ground-pin'), onBody]))).toContain('Prove the ground');
    expect(missing(weigh('P1', without('battery')))).toContain('Read the battery itself');
  });

  it('counts one reading taken twice as one, and isn’t shut by a repeat', () => {
    const twice = weigh('P1', [volts('battery', 12.4), volts('relay', 0.01), volts('relay', 0.02)]);
    expect(twice.gate['replace-relay'].missing.join(' ')).toMatch(/reading.* of (something else|different things)/);
    const again = proven.map(({ id, ...reading }) => ({ ...reading, id: `${id}-again` }));
    expect(opened(weigh('P1', [...proven, ...again]))).toEqual(['replace-pump']);
  });

  it('isn’t shut by a contradiction that has nothing to do with it', () => {
    const beside = [
      read('battery', 'rest', 13.4, 'off'),
      read('pressure', 'rail', 20e3, 'prime', { trust: 'low' }),
      volts('cutoff', 2, 'idle', { faultPresent: false }),
    ];
    const answer = weigh('P1', [...proven, ...beside]);
    expect(answer.contradictions.length).toBeGreaterThan(0);
    expect(opened(answer)).toContain('replace-pump');
  });

  it('takes no three volts behind a module for a feed', () => {
    const driven = [
      volts('battery', 12.4),
      volts('pump', 3.2),
      volts('ground-pin', 0.05),
      read('current', 'pump', 2.2),
      burnt,
    ];
    expect(missing(weigh('P4', driven))).toContain('module’s supply');
  });

  it('a module at 0 % with a dead supply is no contradiction but the plain consequence', () => {
    const dead = [
      volts('battery', 12.4),
      volts('relay', 0),
      volts('module-feed', 0),
      read('duty', 'command', 100),
      read('duty', 'output', 0),
    ];
    const answer = weigh('P4', dead, 'no start');
    expect(answer.contradictions).toEqual([]);
    expect(weightOf(answer, 'module')).toBeLessThan(0.05);
  });

  it('a feed given at the switch proves nothing about the pump', () => {
    const silent = [read('heard', 'pump', 'silent'), volts('battery', 12.4), volts('relay', 12.4)];
    const answer = weigh('P1', [...silent, read('direct-feed', 'cutoff', 'dead')], 'no start');
    expect(opened(answer)).toEqual([]);
    expect(weightOf(answer, 'ground-wiring') + weightOf(answer, 'feed-wiring')).toBeGreaterThan(0.3);
  });

  it('a dragging pump that draws twice as much may lose twice as much, and one that hardly draws must lose little', () => {
    const dragging = [
      volts('battery', 12.5),
      volts('pump', 11.7),
      volts('ground-pin', 0.3),
      read('current', 'pump', 10.5),
      read('capture', 'pump', { meanA: 10.5, rpm: 2900, pattern: 'even' }),
      read('pressure', 'rail', 230e3),
    ];
    expect(opened(weigh('P1', dragging, 'lacks power'))).toEqual(['replace-pump']);
    const hardly = [
      volts('battery', 12.4),
      volts('pump', 12.0),
      volts('ground-pin', 0.02),
      read('capture', 'pump', { meanA: 1, pattern: 'burnt-bars', ripplePercent: 34, badBars: 2 }),
    ];
    expect(missing(weigh('P1', hardly))).toContain('Supply loses 0.40 V');
  });

  it('asks why a fuse blew', () => {
    const blown = [
      volts('battery', 12.5),
      volts('link', 12.48),
      volts('fuse', 0.01),
      read('visual', 'fuse', 'burnt', 'off'),
      read('heard', 'pump', 'silent'),
    ];
    const asked = weigh('P1', blown, 'no start');
    expect(asked.gate['replace-fuse'].missing.join(' ')).toContain('why it blew');
    expect(titles(asked)[0]).toContain('new fuse');
    expect(opened(weigh('P1', [...blown, read('new-fuse', 'fuse', 'holds')], 'no start'))).toEqual(['replace-fuse']);
    expect(weightOf(weigh('P1', [...blown, read('new-fuse', 'fuse', 'blows')]), 'feed-wiring')).toBeGreaterThan(0.8);
  });

  it('a stored crash event and a wrong part come before any part', () => {
    expect(missing(weigh('P1', [...proven, read('check', 'restraint_event', 'stored', 'off')]))).toContain(
      'crash event',
    );
    expect(missing(weigh('P1', [...proven, read('visual', 'relay', 'wrong-part', 'off')]))).toContain('wrong part');
  });

  it('a good volume clears a worn pump until the hose was seen', () => {
    const weak = [
      volts('battery', 12.5),
      volts('pump', 12.2),
      volts('ground-pin', 0.08),
      read('current', 'pump', 4.2),
      read('capture', 'pump', { meanA: 4.2, rpm: 6700, pattern: 'even' }),
      read('pressure', 'rail', 150e3),
      read('volume', 'rail', { volumeM3: 0.00068, durationS: 15 }),
      read('check', 'fuel_in_tank', 'yes', 'off'),
    ];
    const answer = weigh('P1', weak, 'lacks power');
    expect(opened(answer)).toEqual([]);
    expect(missing(answer)).toContain('volume is good');
  });

  it('a dead stretch repeats itself at every turn, and a locked pump needs no look into the tank', () => {
    const dead = read('capture', 'pump', { meanA: 3.4, pattern: 'dead-stretch', ripplePercent: 170, badBars: 3 });
    expect(opened(weigh('P1', [...proven.slice(0, 3), read('current', 'pump', 3.4), dead], 'stalls'))).toEqual([
      'replace-pump',
    ]);
    const locked = [
      volts('battery', 12.3),
      volts('pump', 11.2),
      volts('ground-pin', 0.3),
      read('current', 'pump', 17),
      read('heard', 'pump', 'silent'),
    ];
    expect(opened(weigh('P1', locked, 'no start'))).toEqual(['replace-pump']);
  });
});

describe('a model that is right, and listens', () => {
  it('reads a command through its table: 50 % means fully on, and the car is sound', () => {
    const profile: SystemProfile = {
      ...templateProfile('P4'),
      commandTable: [
        [0, 0],
        [50, 100],
      ],
    };
    const answer = weigh(
      profile,
      [read('duty', 'command', 50), read('duty', 'output', 100), volts('battery', 12.5)],
      'none',
    );
    expect(weightOf(answer, 'module-command')).toBeLessThan(0.03);
    expect(answer.contradictions).toEqual([]);
  });

  it('parts what was sent from what arrived', () => {
    const lost = [read('scan', 'commanded_duty', 90), read('duty', 'command', 20), read('duty', 'output', 20)];
    const answer = weigh('P4', [...lost, read('check', 'restraint_event', 'none', 'off')], 'no start');
    expect(opened(answer)).toEqual(['repair-module-command']);
    const arrives = weigh('P4', [...lost.slice(0, 1), read('duty', 'command', 90)], 'no start');
    expect(weightOf(arrives, 'module-command')).toBeLessThan(0.02);
  });

  it('takes what is read while the pump is fed directly for what it is', () => {
    const silent = [read('heard', 'pump', 'silent'), read('current', 'pump', 0)];
    const fed = (amperes: number) =>
      weigh('P1', [...silent, read('current', 'pump', amperes, 'prime', { helped: 'fed' })], 'no start');
    expect(weightOf(fed(5), 'pump-electrical')).toBeLessThan(0.03);
    expect(weightOf(fed(0), 'pump-electrical')).toBeGreaterThan(0.8);
    // And it proves nothing about the path as it is.
    expect(missing(fed(5))).toContain('Prove the feed');
  });

  it('finds a feed that touches ground by its ohms, and clears a blown fuse of it', () => {
    const blown = [
      volts('battery', 12.5),
      volts('link', 12.48),
      volts('fuse', 0),
      read('visual', 'fuse', 'burnt', 'off'),
    ];
    const ohms = (value: number) =>
      weigh('P1', [...blown, read('resistance', 'harness', value, 'off', { reference: 'chassis' })]);
    expect(weightOf(ohms(0.4), 'feed-wiring')).toBeGreaterThan(0.8);
    expect(weightOf(ohms(2e6), 'fuse')).toBeGreaterThan(0.9);
  });

  it('listens to feedback through the words of its table', () => {
    const profile: SystemProfile = {
      ...templateProfile('P6'),
      feedbackTable: [
        { fromPercent: 23, toPercent: 27, meaning: 'no valid command' },
        { fromPercent: 48, toPercent: 52, meaning: 'normal' },
        { fromPercent: 73, toPercent: 77, meaning: 'output open' },
      ],
    };
    const said = (percent: number) =>
      weigh(profile, [read('heard', 'pump', 'silent'), read('scan', 'feedback_duty', percent)], 'no start');
    expect(said(25).families[0].family).toBe('module-command');
    expect(weightOf(said(75), 'module-command')).toBeLessThan(0.02);
  });

  it('knows that a diode takes its share: 8.0 V at 60 % of 14 V is a healthy module', () => {
    const answer = weigh('P4', [
      read('duty', 'command', 60, 'idle'),
      read('duty', 'output', 60, 'idle'),
      volts('battery', 14.2, 'idle'),
      volts('module-feed', 14.05, 'idle'),
      volts('module', 8.0, 'idle'),
      read('pressure', 'rail', 380e3, 'idle'),
    ]);
    expect(weightOf(answer, 'module')).toBeLessThan(0.05);
  });

  it('takes manifold vacuum off a sound regulator, and misses it on a deaf one', () => {
    const profile: SystemProfile = {
      ...templateProfile('P1'),
      regulator: 'rail-vacuum',
      pressureWindows: { prime: { minPa: 280e3, maxPa: 320e3 } },
    };
    const at = (rail: number, hoseOff: number) =>
      weigh(profile, [
        read('pressure', 'rail', rail, 'idle'),
        read('pressure', 'rail_hose_off', hoseOff, 'idle'),
        read('pressure', 'manifold_vacuum', 58e3, 'idle'),
      ]);
    const sound = at(240e3, 298e3);
    expect(weightOf(sound, 'pump-electrical') + weightOf(sound, 'pump-mechanical')).toBeLessThan(0.3);
    expect(first(at(300e3, 301e3))).toBe('regulator-high');
  });

  it('finds a lying sensor by its gauge, high or low, and names the pair', () => {
    for (const actual of [260e3, 560e3]) {
      const answer = weigh('P4', [
        read('pressure', 'rail', actual === 260e3 ? 560e3 : 260e3, 'idle'),
        read('scan', 'actual_pressure', 380e3, 'idle'),
        read('scan', 'desired_pressure', 380e3, 'idle'),
      ]);
      expect(answer.families[0].family).toBe('sensor');
      expect(answer.contradictions[0].explanation).toContain('one of them lies');
    }
  });

  it('knows a weak battery by its three faces: 11.9 at rest, 8.6 cranking, 14.2 charging; and a collapse to 7.6', () => {
    const faces = [
      read('battery', 'rest', 11.9, 'off'),
      read('battery', 'cranking', 8.6, 'cranking'),
      read('battery', 'charging', 14.2, 'idle'),
    ];
    expect(opened(weigh('P1', faces, 'no start'))).toEqual(['repair-battery']);
    const collapse = [
      read('battery', 'rest', 12.5, 'off'),
      read('battery', 'cranking', 7.6, 'cranking'),
      volts('pump', 7.4, 'cranking'),
    ];
    expect(opened(weigh('P1', collapse, 'no start'))).toEqual(['repair-battery']);
  });

  it('takes 11.2, 4 and 9 V at one contact for one that comes and goes', () => {
    const wandering = [11.2, 4, 9].map((value) => volts('cutoff', value, 'idle'));
    const answer = weigh(
      'P1',
      [volts('battery', 14.1, 'idle'), volts('relay', 13.9, 'idle'), ...wandering],
      'surges now and then',
    );
    expect(first(answer)).toBe('cutoff');
    expect(weightOf(answer, 'cutoff-switch')).toBeGreaterThan(0.75);
    const shaken = read('disturb', 'cutoff', 'changed', 'idle');
    expect(
      opened(
        weigh(
          'P1',
          [volts('battery', 14.1, 'idle'), volts('relay', 13.9, 'idle'), ...wandering, shaken],
          'surges now and then',
        ),
      ),
    ).toEqual(['replace-switch']);
  });

  it('no amperes, no running pump: one of the two is a slip', () => {
    const answer = weigh('P1', [
      read('current', 'pump', 0),
      read('heard', 'pump', 'steady'),
      read('pressure', 'rail', 300e3),
    ]);
    expect(answer.contradictions[0].explanation).toContain('current at pump');
    expect(opened(answer)).toEqual([]);
  });

  it('a wire seen broken in two isn’t rust', () => {
    const seen = (value: string) =>
      weightOf(
        weigh('P1', [read('heard', 'pump', 'silent'), read('visual', 'harness', value, 'off')], 'no start'),
        'feed-wiring',
      );
    expect(seen('broken')).toBeGreaterThan(0.75);
    expect(seen('corroded')).toBeLessThan(0.35);
  });

  it.each([
    [10, 10.3],
    [16, 17],
    [28, 31],
  ])('a rotor that stands and draws %d A is no circuit in which nothing flows', (meanA, inrushPeakA) => {
    const still = { meanA, inrushPeakA, ripplePercent: 0.2, pattern: 'locked-rotor' as const };
    const answer = weigh('P1', [read('capture', 'pump', still)], 'no start');
    expect(first(answer)).toBe('pump-locked');
    expect(weightOf(answer, 'relay-control')).toBeLessThan(0.01);
  });

  it('even humps with 35 % of ripple accuse nobody', () => {
    const even = read('capture', 'pump', { meanA: 5, pattern: 'even', ripplePercent: 35, rpm: 6400 });
    const answer = weigh('P1', [even, volts('battery', 12.4), volts('pump', 12.2), volts('ground-pin', 0.06)], 'none');
    expect(answer.families[0].family).toBe('healthy');
  });

  it('asks after a table that is off two-fold before a module is blamed', () => {
    const answer = weigh('P6', [
      ...(['prime', 'cranking'] as const).flatMap((state) => [
        read('scan', 'commanded_duty', 50, state),
        read('duty', 'output', 100, state),
      ]),
      read('pressure', 'rail', 380e3),
    ]);
    expect(answer.contradictions[0].explanation).toContain('check the table');
    expect(weightOf(answer, 'module')).toBeLessThan(0.2);
  });
});

describe('a planner that serves the verdict', () => {
  it('proposes what the gate still lacks when nothing else tells any more', () => {
    const answer = weigh('P1', without('ground-pin'));
    expect(missing(answer)).toContain('Prove the ground');
    expect(answer.nextTests[0].reading).toMatchObject({ kind: 'voltage', at: 'ground-pin', reference: 'battery-' });
    expect(weigh('P1', proven)).toMatchObject({ nextTests: [], remains: [expect.stringContaining('verdict')] });
  });

  it('plans idle where the engine runs and not where it doesn’t, cranking checks while it cranks, no spray into a running engine', () => {
    const states = (complaint: string) =>
      new Set(weigh('P1', [volts('battery', 12.4)], complaint).nextTests.map(({ reading }) => reading.state));
    expect(states('won’t start').has('idle')).toBe(false);
    const running = weigh(
      'P1',
      [read('pressure', 'rail', 250e3, 'idle'), volts('battery', 14.1, 'idle')],
      'lacks power',
    );
    expect(running.nextTests.some(({ reading: { at } }) => at.startsWith('spray'))).toBe(false);
    for (const { at, keyState } of FIRST_CHECKS.filter(({ at: check }) => check === 'spark')) {
      const asked = weigh(
        'P1',
        [read('pressure', 'rail', 300e3), read('heard', 'pump', 'steady'), read('current', 'pump', 5)],
        'no start',
      );
      const own = asked.nextTests.find(({ reading }) => reading.at === at);
      expect(own === undefined || own.reading.state === keyState).toBe(true);
    }
  });

  it('asks nothing twice, in whatever key state it was answered, and takes “not possible” for an answer', () => {
    const ids = (readings: readonly Reading[]) =>
      weigh(
        'P1',
        [read('heard', 'pump', 'silent'), volts('battery', 12.4), volts('fuse', 12.4), ...readings],
        'no start',
      ).nextTests.map(({ reading: { kind, at } }) => `${kind}:${at}`);
    expect(ids([])).toContain('swap:relay');
    expect(ids([read('swap', 'relay', 'unchanged', 'cranking')])).not.toContain('swap:relay');
    expect(ids([read('swap', 'relay', 'not-possible')])).not.toContain('swap:relay');
    // Without a scope nothing is captured, whatever the key's position.
    const captures = (readings: readonly Reading[]) =>
      weigh('P1', readings, 'hesitates').nextTests.filter(({ reading: { kind } }) => kind === 'capture');
    expect(captures([]).length).toBeGreaterThan(0);
    expect(captures([read('pattern', 'pump', 'not-possible')])).toEqual([]);
    // One low reading is asked for again, until that can't be done either; and the weights don't move with it.
    const low = [volts('battery', 12.4), volts('fuse', 12.36), volts('relay', 11.1)];
    const first = weigh('P1', low, 'stalls');
    expect(first.nextTests[0].title).toContain('Relay 87');
    const skipped = weigh('P1', [...low, volts('relay', 0, 'prime', { value: 'not-possible' })], 'stalls');
    expect(skipped.nextTests[0].title).not.toBe(first.nextTests[0].title);
    expect(skipped.families).toEqual(first.families);
  });

  it('doesn’t take volts from the body, or with the plug off, for the loaded test', () => {
    const soft = [
      volts('pump', 12.4, 'prime', { unloaded: true }),
      volts('relay', 12.4, 'prime', { reference: 'chassis' }),
    ];
    const answer = weigh('P1', [read('heard', 'pump', 'silent'), read('current', 'pump', 0), ...soft], 'no start');
    const asked = answer.nextTests.map(({ reading: { kind, at } }) => `${kind}:${at}`);
    expect(
      asked.some((test) => ['voltage:pump', 'voltage:relay', 'voltage:cutoff', 'voltage:ground-pin'].includes(test)),
    ).toBe(true);
    expect(missing(answer)).toContain('Prove the feed');
  });
});
