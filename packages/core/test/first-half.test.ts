import fc from 'fast-check';
import {
  checkEntry,
  checkIntake,
  complaintSentence,
  FIRST_CHECKS,
  heldPointers,
  type Family,
  guessSystem,
  KEY_STATES,
  NUMBER_MEASURES,
  pointersFrom,
  pressureSheet,
  readTroubleCode,
  suggestCodes,
  SYSTEM_KINDS,
  YES_NO_UNKNOWN,
  type Entry,
  type Intake,
} from '../src/index.js';
import { entry, intake } from './support/entries.js';

// Intake and first checks: what is asked, what may be answered, and what the answers point to by plain rules.

const pointersOf = (entries: readonly Entry[], known = intake()) =>
  pointersFrom(entries, known, pressureSheet({ entries, intake: known }));

describe('first checks and intake', () => {
  it.each([
    ['no engine speed while cranking clears the pump', 'crank_speed', 'zero', 'not-fuel', 'pump-electrical'],
    ['an empty tank is on the fuel side', 'fuel_in_tank', 'no', 'hydraulic', undefined],
    ['fires and dies on a mild spray: it is the fuel side', 'spray_mild', 'fires', undefined, 'not-fuel'],
    ['silence accuses everything electrical, not the pump alone', 'prime_heard', 'silent', 'ground-wiring', undefined],
  ])('%s', (_name, at, answer, towards, away) => {
    const entries = [entry('check', at, answer, 'off')];
    const [first] = pointersOf(entries);
    if (towards) expect(first.towards).toContain(towards);
    if (away) expect(first.away).toContain(away);
    expect(first.because).toEqual([entries[0].id]);
  });

  it('says what a charger, a bypass and a weak battery do to everything else', () => {
    const known = intake({ batterySupport: 'charger', tampering: ['bypassed-relay'] });
    const entries = [entry('battery', 'rest', 11.9, 'off')];
    const text = pointersOf(entries, known)
      .map((p) => p.text)
      .join(' ');
    expect(text).toMatch(/charger or jump pack/);
    expect(text).toMatch(/bypassed relay/);
    expect(text).toMatch(/11.90 V at rest: charge the battery first/);
  });

  it('guesses the system by what is on the rail, and says what would settle it', () => {
    expect(guessSystem({ railSensor: 'yes', returnLine: 'no', module: 'yes' })).toEqual({
      kind: 'returnless-electronic',
      doubts: [],
    });
    expect(guessSystem({ railSensor: 'no', returnLine: 'yes', module: 'no' }).kind).toBe('return-rail');
    expect(guessSystem({ railSensor: 'no', returnLine: 'no', module: 'unknown' }).doubts[0]).toMatch(/two-speed/);
    expect(guessSystem({ railSensor: 'unknown', returnLine: 'unknown', module: 'unknown' }).kind).toBe('unknown');
  });

  it('knows a trouble code from what is none (SAE J2012, from memory)', () => {
    expect(readTroubleCode(' p0087 ')).toEqual({
      code: 'P0087',
      name: 'Fuel rail/system pressure too low',
      makers: false,
    });
    expect(readTroubleCode('P1233')).toMatchObject({ makers: true });
    for (const text of ['', 'P087', 'P4087', 'X0087', 'P00G7', 'P00877']) expect(readTroubleCode(text)).toBeUndefined();
    expect(() => checkIntake(intake({ codes: ['P0O87'] }))).toThrow(/"P0O87" is no trouble code/);
  });
});

describe('pointers under the weights of all the evidence', () => {
  it('name only what still weighs something, and never speak against what is likeliest', () => {
    const [sensor] = pointersOf([], intake({ codes: ['P0191'] }));
    const held = (family: Family, probability: number) => heldPointers([sensor], [{ family, probability }]);
    expect(held('sensor', 0.6)).toMatchObject([{ towards: ['sensor'] }]);
    expect(held('feed-wiring', 0.99)).toEqual([]);
    const [steady] = pointersOf([entry('check', 'prime_heard', 'steady', 'prime')]);
    expect(steady.away).toContain('fuse');
    expect(heldPointers([steady], [{ family: 'fuse', probability: 0.9 }])[0]?.away ?? []).not.toContain('fuse');
  });
});

describe('what can’t be is refused in words', () => {
  it.each([
    ['below a perfect vacuum', 'pressure', 'rail', -102e3, 'idle', /perfect vacuum/],
    ['a high side on a hand gauge', 'pressure', 'rail', 5e6, 'idle', /scan tool only/],
    ['a duty over 100 %', 'scan', 'commanded_duty', 120, 'idle', /between 0 and 100/],
    ['a number for an answer', 'check', 'spark', 3, 'cranking', /strong, weak, none/],
    ['text for a number', 'pressure', 'rail', 'high', 'idle', /enter a number/],
    ['an unknown place', 'pressure', 'bonnet', 1, 'idle', /keeps no pressure of "bonnet"/],
    ['idle pressure with the key off', 'pressure', 'rail_hose_off', 3e5, 'off', /read at idle/],
    [
      'hold times that go back',
      'hold',
      'rail',
      {
        points: [
          [0, 1e5],
          [5, 1e5],
          [3, 1e5],
        ],
        blocked: 'none',
      },
      'after-off',
      /must rise/,
    ],
    ['a volume in no time', 'volume', 'rail', { volumeM3: 1e-3, durationS: 0 }, 'prime', /seconds/],
  ] as const)('%s', (_name, kind, at, value, state, words) => {
    expect(() => checkEntry(kind, at, value, state)).toThrow(words);
  });
});

describe('the plain rules of intake and battery (common practice, no published source)', () => {
  it.each([
    ['wrong-fuse', 'fuse', /blew the right one/],
    ['added-wiring', 'feed-wiring', /corrodes first/],
    ['pierced-wires', 'feed-wiring', /corrodes first/],
    ['bypassed-relay', 'relay-control', /restore it before measuring/],
  ] as const)('%s points to %s', (tampering, family, words) => {
    const [first] = pointersOf([], intake({ tampering: [tampering] }));
    expect(first.towards).toContain(family);
    expect(first.text).toMatch(words);
  });

  it.each([
    ['P0191', 'sensor', /three-way check/],
    ['P0230', 'feed-wiring', /measure the path first/],
    ['P025A', 'module', /measure the path first/],
    ['P0628', 'relay-control', /measure the path first/],
    ['P0335', 'not-fuel', /without rotation seen/],
  ] as const)('%s points to %s, and never to the pump', (code, family, words) => {
    const [first] = pointersOf([], intake({ codes: [code] }));
    expect(first.towards).toContain(family);
    expect(first.towards.some((towards) => towards.startsWith('pump'))).toBe(false);
    expect(first.text).toMatch(words);
  });

  it('many codes at once follow a dead battery', () => {
    const codes = ['U0100', 'P0562', 'P0606', 'P0460'];
    expect(pointersOf([], intake({ codes })).map(({ text }) => text)).toEqual([
      'Many codes at once often follow a dead battery: charge, clear, read again.',
    ]);
  });

  it.each([
    ['cranking', 9.2, 'cranking', /pulls everything down/],
    ['charging', 12.6, 'idle', /too low: the pump slows/],
    ['charging', 15.6, 'idle', /too high: it cooks/],
  ] as const)('battery %s at %d V', (at, volts, state, words) => {
    expect(pointersOf([entry('battery', at, volts, state)])).toMatchObject([{ towards: ['supply'] }]);
    expect(pointersOf([entry('battery', at, volts, state)])[0].text).toMatch(words);
  });

  it('ten volts while cranking and 14.2 V charging are nothing to speak of', () => {
    expect(pointersOf([entry('battery', 'cranking', 10, 'cranking'), entry('battery', 'charging', 14.2)])).toEqual([]);
  });

  it('an injector that is hardly driven is no fuel pump’s fault', () => {
    const weak = [entry('timing', 'injector_on_time', 0.2e-3), entry('voltage', 'injector_kick', 13)];
    expect(pointersOf(weak)).toMatchObject([{ towards: ['not-fuel'] }]);
  });

  it('no answer of the first checks condemns the pump alone, and each says what it means or nothing', () => {
    for (const check of FIRST_CHECKS) {
      for (const { value, meaning } of check.answers) {
        const [first] = pointersOf([entry('check', check.at, value, check.keyState)]);
        expect(first?.text).toBe(meaning?.text);
        const pump = first?.towards.filter((family) => family.startsWith('pump')) ?? [];
        // A growl is the motor's own sound; it still asks for the current ramp.
        if (pump.length > 0 && first.towards.length === pump.length) expect(first.text).toMatch(/ramp tells/);
      }
    }
  });
});

describe('the complaint as one sentence', () => {
  it.each([
    [{}, ''],
    [{ symptoms: ['stalls'] }, 'Stalls.'],
    [
      {
        symptoms: ['stalls', 'no-power'],
        circumstances: ['hot', 'after-minutes'],
        afterMinutes: 10,
        frequency: 'often',
      },
      'Stalls, no power at speed; hot, after 10 minutes; often.',
    ],
    [{ circumstances: ['after-minutes'], since: 'last spring' }, 'after some minutes; since last spring.'],
  ] as const)('%j', (changes, sentence) => {
    expect(complaintSentence(intake(changes))).toBe(sentence);
  });
});

describe('what an intake may not say', () => {
  it.each([
    ['a vehicle without a name', { vehicle: { model: ' ', engine: '2.0', plate: 'A1' } }, /Name the vehicle/],
    ['a window upside down', { makersWindows: { idle: { minPa: 4e5, maxPa: 3e5 } } }, /from a lower to a higher/],
    ['a window below zero', { makersWindows: { idle: { minPa: -1, maxPa: 3e5 } } }, /both above zero/],
    ['a window without numbers', { makersWindows: { idle: { minPa: 3e5, maxPa: Number.NaN } } }, /from a lower/],
    ['a window of no state', { makersWindows: { parked: { minPa: 1, maxPa: 2 } } }, /no key state "parked"/],
    [
      'a table that falls',
      {
        sensorTable: [
          [0.5, 0],
          [4.5, 5e5],
          [4.6, 4e5],
        ],
      },
      /must rise/,
    ],
    ['a table of one column', { sensorTable: [[0.5], [4.5]] }, /must rise/],
  ])('%s', (_name, changes, words) => {
    expect(() => checkIntake(intake(changes as Partial<Intake>))).toThrow(words);
  });
});

describe('trouble codes (SAE J2012 / ISO 15031-6, from memory)', () => {
  it('offers codes by how they begin and by what they are about', () => {
    expect(suggestCodes('p019').map(({ code }) => code)).toEqual(['P0190', 'P0191', 'P0192', 'P0193', 'P0194']);
    expect(suggestCodes('immobilizer').map(({ code }) => code)).toEqual(['P0513']);
    expect(suggestCodes('fuel').length).toBe(6);
    expect(suggestCodes('  ')).toEqual([]);
    expect(suggestCodes('zebra')).toEqual([]);
  });

  it('every code that it names is a generic one, readable and offered', () => {
    for (const { code, name } of suggestCodes('c', 1000)) {
      expect(readTroubleCode(code.toLowerCase())).toEqual({ code, name, makers: false });
    }
  });

  it('any five characters are a code or none, and what is one stays one', () => {
    const five = fc.string({ unit: fc.constantFrom(...'PCBUXpcbu0123456789ABCDEFG'), minLength: 5, maxLength: 5 });
    fc.assert(
      fc.property(five, (text) => {
        const shape = /^[PCBU][0-3][0-9A-F]{3}$/i.test(text);
        expect(readTroubleCode(text) !== undefined).toBe(shape);
        if (shape) expect(() => checkIntake(intake({ codes: [text] }))).not.toThrow();
      }),
      { endOnFailure: true },
    );
  });
});

describe('which fuel system it is', () => {
  it('every answer to the three questions gives a kind, and doubts wherever something is open or odd', () => {
    for (const railSensor of YES_NO_UNKNOWN) {
      for (const returnLine of YES_NO_UNKNOWN) {
        for (const module of YES_NO_UNKNOWN) {
          const { kind, doubts } = guessSystem({ railSensor, returnLine, module });
          expect(SYSTEM_KINDS).toContain(kind);
          // A sensor on the rail decides it by itself.
          if (railSensor === 'yes') expect(kind).toBe('returnless-electronic');
          else expect(kind).not.toBe('returnless-electronic');
          if (railSensor === 'unknown' || (railSensor === 'yes' && module !== 'yes')) {
            expect(doubts.length).toBeGreaterThan(0);
          }
        }
      }
    }
  });
});

describe('what may be kept, for every measure there is', () => {
  const measure = fc.constantFrom(...NUMBER_MEASURES);

  it('any value within its range at any of its states is kept; beyond it is refused in its own words', () => {
    fc.assert(
      fc.property(measure, fc.integer({ min: 0, max: 1000 }), fc.nat(20), (one, thousandths, pick) => {
        const { kind, at, states } = one;
        const { least, most, beyond } = one.value;
        const share = thousandths / 1000;
        const state = states[pick % states.length];
        expect(() => checkEntry(kind, at, least + share * (most - least), state)).not.toThrow();
        const slip = 0.01 + share * Math.max(1, most);
        expect(() => checkEntry(kind, at, most + slip, state)).toThrow(beyond);
        expect(() => checkEntry(kind, at, least - slip, state)).toThrow(beyond);
        for (const value of [Number.NaN, Infinity, '12', null, true]) {
          expect(() => checkEntry(kind, at, value, state)).toThrow('enter a number');
        }
      }),
      { endOnFailure: true },
    );
  });

  it('a state in which it can’t be read is refused, with those in which it can', () => {
    for (const { kind, at, value, states } of NUMBER_MEASURES) {
      const { least, most } = value;
      const wrong = KEY_STATES.filter((state) => !states.includes(state));
      for (const state of wrong) {
        expect(() => checkEntry(kind, at, (least + most) / 2, state)).toThrow(`is read at ${states.join(' or ')}`);
      }
    }
  });

  it('an answer of a check is one of its own, whatever is sent', () => {
    fc.assert(
      fc.property(fc.constantFrom(...FIRST_CHECKS), fc.anything(), (check, value) => {
        const known = check.answers.some((answer) => answer.value === value);
        const keep = () => checkEntry('check', check.at, value, check.keyState);
        if (known) expect(keep).not.toThrow();
        else expect(keep).toThrow(`Answer with one of: ${check.answers.map((answer) => answer.value).join(', ')}.`);
      }),
      { endOnFailure: true },
    );
  });

  it.each([
    [
      'hold',
      {
        points: [
          [0, 1],
          [1, 1],
        ],
        blocked: 'none',
      },
      /at least 3 points/,
    ],
    ['hold', { points: 'many', blocked: 'none' }, /at least 3 points/],
    [
      'hold',
      {
        points: [
          [0, 1],
          [1, 1],
          [2, 1],
        ],
        blocked: 'all',
      },
      /which line was blocked/,
    ],
    [
      'hold',
      {
        points: [
          [0, 1],
          [1, '1'],
          [2, 1],
        ],
        blocked: 'none',
      },
      /a time and a pressure/,
    ],
    [
      'hold',
      {
        points: [
          [0, 1],
          [1, 1],
          [2, 5e6],
        ],
        blocked: 'none',
      },
      /hand gauge has no place/,
    ],
    ['hold', null, /at least 3 points/],
    ['volume', { volumeM3: -1, durationS: 5 }, /0 to 100 litres/],
    ['volume', { volumeM3: 1, durationS: 5 }, /0 to 100 litres/],
    ['volume', { volumeM3: 1e-3, durationS: 601 }, /up to ten minutes/],
    ['volume', null, /0 to 100 litres/],
  ] as const)('%s of %j is refused', (kind, value, words) => {
    expect(() => checkEntry(kind, 'rail', value, 'prime')).toThrow(words);
  });
});
