import fc from 'fast-check';
import {
  diagnose,
  PATHS,
  templateProfile,
  VERDICTS,
  type Diagnosis,
  type Family,
  type HouseRules,
  type KeyState,
  type Order,
  type PathKind,
  type Reading,
  type Verdict,
} from '../src/index.js';
import { drawFault } from './support/circuit-fault.js';
import { CircuitVehicle } from './support/circuit-vehicle.js';

const MOST_STEPS = 25;
/** `npm run trials` works more of them. */
const LONG = process.env.JARRO_TRIALS === 'long';
const VEHICLES = LONG ? 120 : 30;
const BY_EACH_ORDER = LONG ? 20 : 7;

interface Outcome {
  readonly label: string;
  readonly alike: readonly Family[];
  readonly minutes: number;
  readonly opened: readonly Verdict[];
  readonly diagnosis: Diagnosis;
  /** How sure it was of its first family after each test, and whether that was right. */
  readonly trail: readonly { readonly sure: number; readonly right: boolean }[];
}

/** Works a vehicle as a technician would who does whatever is proposed first, until a verdict may be given. */
function work(seed: number, order: Order = 'best-value'): Outcome {
  const path = PATHS[seed % PATHS.length];
  const profile = templateProfile(path);
  const fault = drawFault(profile, seed);
  const vehicle = new CircuitVehicle(profile, fault, seed * 17);
  const options = { complaint: vehicle.complaint, rules: { order } };
  const readings: Reading[] = [];
  const trail: Outcome['trail'][number][] = [];
  const opened = ({ gate }: Diagnosis) => (Object.keys(gate) as Verdict[]).filter((verdict) => gate[verdict].allowed);
  let minutes = 0;
  let diagnosis = diagnose(profile, readings, options);
  while (readings.length < MOST_STEPS && opened(diagnosis).length === 0) {
    const [next] = diagnosis.nextTests;
    if (!next) break;
    readings.push(vehicle.answer(`r${readings.length}`, next));
    minutes += next.minutes;
    diagnosis = diagnose(profile, readings, options);
    const [{ family, probability }] = diagnosis.families;
    trail.push({ sure: probability, right: fault.alike.includes(family) });
  }
  const label = `${path} ${seed} ${JSON.stringify(fault)} ${readings.map(({ kind, at }) => `${kind}:${at}`).join(' ')}`;
  return { label, alike: fault.alike, minutes, opened: opened(diagnosis), diagnosis, trail };
}

describe('vehicles with one fault, of a circuit simulator that shares nothing with the reasoning but the profile', () => {
  let outcomes: readonly Outcome[];
  beforeAll(() => {
    outcomes = Array.from({ length: VEHICLES }, (_, i) => work(i + 1));
  });
  const mends = ({ alike }: Outcome, verdict: Verdict) => VERDICTS[verdict].some((family) => alike.includes(family));
  const isSolved = (outcome: Outcome) => outcome.opened.some((verdict) => mends(outcome, verdict));
  const labels = (list: readonly Outcome[]) => list.map(({ label, opened }) => `${label} -> ${opened.join()}`);

  it('gives the right verdict by its own tests in at least 85 %', () => {
    const missed = outcomes.filter((outcome) => !isSolved(outcome));
    expect({ missed: labels(missed), enough: missed.length <= 0.15 * outcomes.length }).toMatchObject({ enough: true });
  });

  it('opens no wrong verdict, and lets no good pump be condemned', () => {
    const wrong = outcomes.filter((outcome) => outcome.opened.some((verdict) => !mends(outcome, verdict)));
    expect(labels(wrong)).toEqual([]);
  });

  it('is right nine times in ten when it says nine in ten, and nearly always when it says more, on the way there too', () => {
    const steps = outcomes.flatMap(({ trail }) => trail);
    const share = (list: typeof steps) => list.filter(({ right }) => right).length / list.length;
    const said = (least: number) => steps.filter(({ sure }) => sure >= least);
    expect(said(0.9).length).toBeGreaterThan(VEHICLES);
    expect(share(said(0.9))).toBeGreaterThanOrEqual(0.9);
    expect(share(said(0.99))).toBeGreaterThanOrEqual(0.97);
    for (const { diagnosis } of outcomes) {
      expect(diagnosis.families.reduce((sum, { probability }) => sum + probability, 0)).toBeCloseTo(1, 9);
    }
  });

  it('needs at most 60 % of the minutes of the best house order, where both come to the verdict', () => {
    const few = outcomes.slice(0, BY_EACH_ORDER);
    const shares = (['pump-first', 'source-first', 'mid-point'] as const).map((order) => {
      const both = few
        .map((own, i) => ({ own, fixed: work(i + 1, order) }))
        .filter(({ own, fixed }) => isSolved(own) && isSolved(fixed));
      const sum = (pick: 'own' | 'fixed') => both.reduce((total, pair) => total + pair[pick].minutes, 0);
      return sum('own') / sum('fixed');
    });
    expect(Math.max(...shares)).toBeLessThanOrEqual(0.6);
  });
});

let count = 0;
const read = (
  kind: Reading['kind'],
  at: string,
  value: Reading['value'],
  keyState: KeyState = 'prime',
  more: Partial<Reading> = {},
): Reading => ({ id: `${kind}-${at}-${++count}`, kind, at, value, keyState, faultPresent: true, ...more });
const volts = (at: string, value: number, keyState?: KeyState, more: Partial<Reading> = {}) =>
  read('voltage', at, value, keyState, { reference: 'battery-', ...more });
const weigh = (path: PathKind, readings: readonly Reading[]) => diagnose(templateProfile(path), readings);
const weightOf = ({ families }: Diagnosis, family: Family) =>
  families.find((weight) => weight.family === family)?.probability ?? 0;

describe('worked cases of the trade (common practice, no published source)', () => {
  it('13.0 V behind a relay with 14.2 V before it condemns the contact', () => {
    const answer = weigh('P1', [
      volts('battery', 14.2, 'idle'),
      volts('fuse', 14.15, 'idle'),
      volts('relay', 13, 'idle'),
      read('current', 'pump', 4.6, 'idle'),
    ]);
    expect(answer.families[0].family).toBe('relay-contact');
    expect(answer.gate['replace-pump'].allowed).toBe(false);
  });

  it('feed while cranking 10 V with a weak battery, ground rise a few mV and no sound: the pump is open', () => {
    const readings = [
      volts('battery', 10.1, 'cranking'),
      volts('pump', 10, 'cranking'),
      volts('ground-pin', 0.004, 'cranking'),
      read('heard', 'pump', 'silent', 'cranking'),
      read('current', 'pump', 0, 'cranking'),
    ];
    const answer = weigh('P1', readings);
    expect(answer.suspects[0].id).toBe('pump-open');
    // Volts without current prove neither side: a lamp on each does, and then the pump may be condemned.
    expect(answer.gate['replace-pump'].missing.join(' ')).toMatch(/Prove the feed.*Prove the ground/);
    const lamps = [
      read('test-light', 'pump', 'bright', 'cranking', { reference: 'battery-' }),
      read('test-light', 'ground-pin', 'bright', 'cranking', { reference: 'battery+' }),
    ];
    expect(weigh('P1', [...readings, ...lamps]).gate['replace-pump']).toMatchObject({ allowed: true, missing: [] });
  });

  it('a ground pin at feed voltage is an open ground, and clears the pump', () => {
    const answer = weigh('P1', [volts('battery', 12.4), volts('pump', 12.4), volts('ground-pin', 12.3)]);
    expect(answer.families[0].family).toBe('ground-wiring');
    expect(weightOf(answer, 'pump-electrical')).toBeLessThan(0.02);
  });

  it('half the current at every duty with a good command and supply is the module', () => {
    const answer = weigh('P4', [
      volts('battery', 12.4),
      volts('module-feed', 12.25),
      read('duty', 'command', 100),
      read('duty', 'output', 48),
      read('current', 'pump', 2.9),
      read('pressure', 'rail', 140e3),
    ]);
    expect(answer.families[0].family).toBe('module');
  });

  it('a switch that wanders and loses volts though its button is down is bad', () => {
    const answer = weigh('P1', [
      read('check', 'cutoff_button', 'set', 'off'),
      read('resistance', 'cutoff', 'wandering', 'off'),
      volts('relay', 12.2),
      volts('cutoff', 0.4),
    ]);
    expect(answer.families[0].family).toBe('cutoff-switch');
  });

  it('lost prime, then runs on the oil-pressure switch: the relay side, not the pump', () => {
    const answer = weigh('P2', [
      read('heard', 'pump', 'silent', 'prime'),
      read('heard', 'pump', 'steady', 'idle'),
      volts('fuse', 12.4),
      volts('relay', 0),
    ]);
    expect(weightOf(answer, 'relay-contact') + weightOf(answer, 'relay-control')).toBeGreaterThan(0.9);
  });
});

describe('traps', () => {
  it('a bad meter ground: low everywhere from the chassis, right from the post', () => {
    const chassis = { reference: 'chassis' } as const;
    const answer = weigh('P1', [
      volts('battery', 7.9, 'prime', chassis),
      volts('fuse', 7.9, 'prime', chassis),
      volts('pump', 7.7, 'prime', chassis),
      read('current', 'pump', 4.9),
      read('heard', 'pump', 'steady'),
    ]);
    expect(answer.contradictions.map(({ explanation }) => explanation).join(' ')).toContain('battery post');
    expect(Math.max(weightOf(answer, 'supply'), weightOf(answer, 'feed-wiring'))).toBeLessThan(0.25);
    // Read from the post it is plain: the vehicle is sound, and was read wrongly.
    const post = { reference: 'battery-' } as const;
    const repeated = [
      volts('battery', 12.4, 'prime', chassis),
      ...(['battery', 'fuse', 'pump'] as const).flatMap((at, i) => [
        volts(at, 6.9 - 0.1 * i, 'idle', chassis),
        volts(at, 14.1 - 0.1 * i, 'idle', post),
      ]),
    ];
    const plain = diagnose(templateProfile('P1'), repeated, { complaint: 'none' });
    expect(plain.families[0].family).toBe('measurement-error');
  });

  it('a pin that didn’t touch: the repeat differs, and the slip convicts nobody', () => {
    const answer = weigh('P1', [
      volts('battery', 12.4),
      volts('pump', 0.2),
      volts('pump', 12.1),
      volts('ground-pin', 0.07),
      read('current', 'pump', 4.9),
      read('heard', 'pump', 'steady'),
    ]);
    expect(answer.contradictions.some(({ explanation }) => explanation.includes('repeat'))).toBe(true);
    expect(weightOf(answer, 'feed-wiring')).toBeLessThan(0.15);
    expect(Object.values(answer.gate).filter(({ allowed }) => allowed)).toEqual([]);
  });

  it('a charger on shows as what it is', () => {
    const answer = weigh('P1', [read('battery', 'rest', 13.6, 'off')]);
    expect(answer.contradictions[0].explanation).toContain('charger');
  });

  it('ten volts while cranking is normal', () => {
    const answer = weigh('P1', [volts('battery', 10, 'cranking'), volts('pump', 9.75, 'cranking')]);
    expect(weightOf(answer, 'supply')).toBeLessThan(0.1);
  });

  it('a command table misread two-fold is asked after before the module is blamed', () => {
    const answer = weigh('P4', [read('duty', 'command', 40, 'idle'), read('duty', 'output', 79, 'idle')]);
    expect(answer.contradictions[0].explanation).toMatch(/twice what the table makes.*fully on/);
  });

  it('a lying rail sensor is told from a struggling pump', () => {
    const answer = weigh('P4', [
      read('pressure', 'rail', 640e3, 'idle'),
      read('scan', 'actual_pressure', 380e3, 'idle'),
      read('scan', 'desired_pressure', 380e3, 'idle'),
      read('scan', 'commanded_duty', 78, 'idle'),
    ]);
    expect(answer.families[0].family).toBe('sensor');
    expect(answer.gate['replace-pump'].allowed).toBe(false);
  });

  it('what was read with the fault absent clears nobody', () => {
    const absent = { faultPresent: false };
    const good = [volts('battery', 12.4, 'prime', absent), volts('pump', 12.2, 'prime', absent)];
    const before = weigh('P1', []);
    const after = weigh('P1', good);
    expect(weightOf(after, 'feed-wiring')).toBeGreaterThan(0.6 * weightOf(before, 'feed-wiring'));
    expect(after.contradictions[0].explanation).toContain('absent');
    expect(
      weightOf(
        weigh(
          'P1',
          good.map((r) => ({ ...r, faultPresent: true })),
        ),
        'feed-wiring',
      ),
    ).toBeLessThan(0.3 * weightOf(before, 'feed-wiring'));
  });

  it('the pump is never condemned with its ground unchecked', () => {
    const answer = weigh('P1', [
      volts('battery', 12.4),
      volts('pump', 12.2),
      read('current', 'pump', 4.4),
      read('capture', 'pump', { meanA: 4.4, pattern: 'burnt-bars', ripplePercent: 34, badBars: 2 }),
    ]);
    expect(answer.families[0].family).toBe('pump-electrical');
    expect(answer.gate['replace-pump'].missing.join(' ')).toContain('Prove the ground');
  });

  describe('a burnt commutator on a proven feed and ground', () => {
    const proven = [
      volts('battery', 12.4),
      volts('pump', 12.2),
      volts('ground-pin', 0.06),
      read('current', 'pump', 4.4),
      read('capture', 'pump', { meanA: 4.4, pattern: 'burnt-bars', ripplePercent: 34, badBars: 2 }),
    ];
    const gate = (readings: readonly Reading[], rules: Partial<HouseRules> = {}) =>
      diagnose(templateProfile('P1'), readings, { rules }).gate['replace-pump'];

    it('may be condemned, and says on what', () => {
      const { allowed, missing, proven: rests } = gate(proven);
      expect({ allowed, missing }).toEqual({ allowed: true, missing: [] });
      expect(rests.join(' ')).toMatch(/Supply proven: 0.20 V of 0.50 V allowed.*Ground proven: 0.06 V of 0.20 V/);
    });

    it('is held back by the house’s own limits and schools', () => {
      expect(gate(proven, { supplyDropV: 0.15 }).missing.join()).toContain('Supply loses 0.20 V of 0.15 V');
      expect(gate(proven, { waveform: 'never-alone' }).missing.join()).toContain('a pattern alone condemns nothing');
      const pressed = [...proven, read('pressure', 'rail', 290e3)];
      expect(gate(pressed, { waveform: 'never-alone' }).missing.join()).not.toContain('a pattern alone');
    });

    it('is condemned where supply and ground lose what they may, and never past that (drops on both sides of the limits)', () => {
      const lost = (most: number) => fc.integer({ min: 0, max: 100 * most }).map((centivolts) => centivolts / 100);
      let condemned = 0;
      let refused = 0;
      fc.assert(
        fc.property(lost(1), lost(0.4), (supply, ground) => {
          const readings = proven.map((r) =>
            r.at === 'pump' && r.kind === 'voltage'
              ? { ...r, value: 12.4 - supply }
              : r.at === 'ground-pin'
                ? { ...r, value: ground }
                : r,
          );
          const { allowed } = gate(readings);
          if (allowed) condemned++;
          else refused++;
          // Half a volt and a fifth, and a meter's last digits.
          return !allowed || (supply <= 0.525 && ground <= 0.225);
        }),
        { numRuns: 80, endOnFailure: true },
      );
      expect(condemned).toBeGreaterThan(8);
      expect(refused).toBeGreaterThan(20);
    });

    it('waits while a jumper or a wrong fuse sits in the path, until the right part is seen', () => {
      const wrong = [...proven, read('visual', 'fuse', 'wrong-part', 'off')];
      expect(gate(wrong).missing.join()).toContain('A wrong part or a jumper sits at Fuse');
      expect(gate([...wrong, read('visual', 'fuse', 'clean', 'off')]).allowed).toBe(true);
    });
  });
});

describe('the gates of other verdicts', () => {
  const missing = (path: PathKind, verdict: Verdict, readings: readonly Reading[]) =>
    weigh(path, readings).gate[verdict].missing.join(' ');

  it('a module isn’t condemned before its supply and its command are known', () => {
    const half = [volts('battery', 12.4), read('duty', 'output', 48), read('current', 'pump', 2.9)];
    expect(missing('P4', 'replace-module', half)).toMatch(/Read its supply pin.*Read its command/);
    const whole = [...half, volts('module-feed', 12.25), read('duty', 'command', 96)];
    expect(missing('P4', 'replace-module', whole)).not.toMatch(/supply pin|its command/);
  });

  it('a relay isn’t before something arrives at it, a sensor not without a gauge, the pump isn’t cleared unseen', () => {
    expect(missing('P1', 'replace-relay', [volts('cutoff', 0)])).toContain('Read what arrives at the relay');
    expect(missing('P1', 'replace-relay', [read('swap', 'relay', 'changed')])).not.toContain('arrives');
    expect(missing('P4', 'replace-sensor', [read('scan', 'actual_pressure', 2e5)])).toContain(
      'Read a gauge at the rail',
    );
    expect(missing('P1', 'no-fault-found', [volts('battery', 12.5)])).toContain('Measure what it does');
    expect(missing('P1', 'repair-fuel-side', [])).toMatch(/Measure pressure or volume.*See what is in the tank/);
  });
});

describe('the plan', () => {
  it('shows the caution at every test that can hurt someone, and offers power only by the diagram and fused', () => {
    const { nextTests } = weigh('P1', [volts('battery', 12.4), read('heard', 'pump', 'silent')]);
    const all = nextTests.filter(({ reading: { kind } }) => ['bridge', 'direct-feed', 'pressure'].includes(kind));
    expect(all.every(({ cautions }) => cautions.length > 0)).toBe(true);
  });

  it('feeds no pump directly where the house doesn’t', () => {
    const kinds = (rules: Partial<HouseRules>) =>
      diagnose(templateProfile('P5'), [read('heard', 'pump', 'silent'), volts('battery', 12.4)], {
        rules,
      }).nextTests.map(({ reading: { kind } }) => kind);
    expect(kinds({ directFeed: 'never' })).not.toContain('direct-feed');
    expect(kinds({ directFeed: 'never' })).not.toContain('module-bypass');
  });

  it('a rotor that stands is proven in the two seconds of a prime, not fed until it burns', () => {
    const locked = read('capture', 'pump', { meanA: 22, inrushPeakA: 23, pattern: 'locked-rotor' }, 'prime');
    const { nextTests, families } = weigh('P1', [locked]);
    expect(families[0].family).toBe('pump-mechanical');
    expect(nextTests[0].reading.state).toBe('prime');
    // A pump that is open inside may be cranked on: nothing flows in it.
    const open = weigh('P1', [read('capture', 'pump', { meanA: 0, pattern: 'no-current' }, 'prime')]);
    const clamped = (tests: typeof nextTests) =>
      tests.find(({ reading: { kind, state } }) => kind === 'current' && state === 'cranking')?.minutes ?? Infinity;
    expect(clamped(nextTests)).toBeGreaterThanOrEqual(clamped(open.nextTests) + 10);
  });

  it('follows a house order where the house has one', () => {
    const first = (order: Order) => diagnose(templateProfile('P1'), [], { rules: { order } }).nextTests[0].reading.at;
    expect(first('source-first')).toBe('battery');
    expect(first('pump-first')).toBe('pump');
  });

  it('doesn’t ask again what was answered with the fault present', () => {
    const done = volts('relay', 12.3);
    const ids = weigh('P1', [volts('battery', 12.4), done]).nextTests.map(({ id }) => id);
    expect(ids).not.toContain('voltage:relay:prime:battery-');
  });
});
