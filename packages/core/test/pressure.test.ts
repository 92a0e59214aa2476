import fc from 'fast-check';
import {
  caseReadings,
  cautionsBefore,
  checkHouseRules,
  checkRailSensor,
  checkRegulator,
  DEFAULT_HOUSE_RULES,
  engineSpeedRpm,
  fuelPressurePa,
  fuelTrimPercent,
  pointersFrom,
  pressureSheet,
  railGaugePa,
  railRelativePa,
  ratiometricTable,
  sensorPressure,
  templateProfile,
  toPascal,
  type Entry,
  type HouseRules,
} from '../src/index.js';
import { bled, entry, intake } from './support/entries.js';

const psi = (value: number) => toPascal(value, 'psi');
const kPa = (value: number) => value * 1e3;

describe('worked examples of the trade (common practice, no published source)', () => {
  it('29 psi with vacuum, 40 without: 11 psi is 22 inHg, the regulator works', () => {
    const check = checkRegulator(psi(29), psi(40), toPascal(22, 'inHg'));
    expect(check.risePa / toPascal(1, 'inHg')).toBeCloseTo(22.4, 1);
    expect(check.works).toBe(true);
    expect(checkRegulator(psi(29), psi(40)).works).toBe(true);
    expect(checkRegulator(psi(38), psi(40), toPascal(20, 'inHg'))).toMatchObject({ works: false });
  });

  it('40 psi against 52 to 62 psi fails the pressure, and not yet the pump', () => {
    const makersWindows = { idle: { minPa: psi(52), maxPa: psi(62) } };
    const sheet = pressureSheet({
      entries: [bled, entry('pressure', 'rail', psi(40))],
      intake: intake({ makersWindows }),
    });
    expect(sheet.lines).toMatchObject([{ standing: 'low' }]);
    expect(sheet.windows.idle).toMatchObject({ basis: 'maker' });
    expect(sheet.verdict).toMatchObject({ standing: 'low' });
    expect(sheet.verdict.text).toMatch(/not proof of a bad pump/);
  });

  it('a pump at its target with 21 to 23 % duty is a good pump', () => {
    for (const duty of [21, 22, 23]) {
      const entries = [
        entry('scan', 'commanded_duty', duty),
        entry('scan', 'desired_pressure', psi(55)),
        entry('scan', 'actual_pressure', psi(54)),
      ];
      const sheet = pressureSheet({ entries, intake: intake() });
      expect(sheet.duty).toMatchObject({ ok: true });
      expect(pointersFrom([], intake(), sheet)[0].away).toContain('pump-mechanical');
    }
  });

  it('a long-term trim stuck at +40 % after a fix asks for a reset', () => {
    expect(pressureSheet({ entries: [entry('scan', 'long_trim', 40)], intake: intake() }).trims).toMatchObject({
      ok: false,
    });
    expect(pressureSheet({ entries: [entry('scan', 'long_trim', 40)], intake: intake() }).trims?.text).toMatch(/reset/);
    expect(pressureSheet({ entries: [entry('scan', 'long_trim', 1.5)], intake: intake() }).trims).toMatchObject({
      ok: true,
    });
  });

  it('an injector with 38 ms on-time and 37 V of kick while cranking is alive', () => {
    const entries = [
      entry('timing', 'injector_on_time', 38e-3, 'cranking'),
      entry('voltage', 'injector_kick', 37, 'cranking'),
    ];
    const [first] = pointersFrom(entries, intake(), pressureSheet({ entries, intake: intake() }));
    expect(first).toMatchObject({ text: 'Injectors alive: 38.0 ms and 37 V of kick.', away: ['not-fuel'] });
  });

  it('no number counts before the gauge is bled, on the sheet or on the scale', () => {
    const entries = [
      entry('pressure', 'rail', psi(40)),
      entry('pressure', 'rail_hose_off', psi(51)),
      entry('pressure', 'manifold_vacuum', toPascal(22, 'inHg')),
      entry('timing', 'rise_time', 4, 'prime'),
      entry('hold', 'rail', { points: [0, 60, 120].map((t) => [t, kPa(380 - t)]), blocked: 'none' }, 'after-off'),
      entry('scan', 'long_trim', 1),
    ];
    const sheet = pressureSheet({ entries, intake: intake() });
    expect(sheet).toMatchObject({ lines: [{ pascal: psi(40) }], trims: { ok: true } });
    for (const part of ['rise', 'regulator', 'hold'] as const) expect(sheet[part]).toBeUndefined();
    const weighedAt = (read: readonly Entry[]) =>
      caseReadings({ intake: intake(), entries: read, captures: [] }).map(({ at }) => at);
    expect(weighedAt(entries)).toEqual(['manifold_vacuum', 'long_trim']);
    // Bled afterwards, it is to be read again; a gauge taken off and fitted anew is bled anew.
    const known = intake({ system: 'return-rail' });
    const verdictOf = (read: readonly Entry[]) => pressureSheet({ entries: read, intake: known }).verdict;
    expect(weighedAt([...entries, bled])).toEqual(['manifold_vacuum', 'long_trim', 'gauge_bled']);
    expect(verdictOf([...entries, bled])).toMatchObject({
      standing: 'open',
      text: expect.stringMatching(/Read it again/) as string,
    });
    expect(weighedAt([bled, ...entries])).toHaveLength(entries.length + 1);
    expect(verdictOf([bled, ...entries]).standing).toBe('delivers');
    const off = entry('check', 'gauge_bled', 'no');
    expect(verdictOf([bled, ...entries, off])).toMatchObject({
      standing: 'open',
      text: expect.stringMatching(/Bleed the gauge first/) as string,
    });
    expect(verdictOf([bled, off, ...entries, bled])).toMatchObject({
      standing: 'open',
      text: expect.stringMatching(/Read it again/) as string,
    });
    expect(pressureSheet({ entries: [bled, ...entries], intake: known })).toMatchObject({
      lines: [{ counts: true }],
      rise: { ok: false },
      regulator: { works: true },
      hold: { judgement: { standing: 'falls' } },
    });
    expect(pressureSheet({ entries: [entry('pressure', 'rail', psi(55))], intake: intake() }).verdict.text).toMatch(
      /Bleed/,
    );
  });
});

describe('what the sheet is judged by', () => {
  const table = ratiometricTable(kPa(700));
  const profile = { ...templateProfile('P4'), sensorTable: table };
  const windows = { idle: { minPa: kPa(300), maxPa: kPa(340) }, prime: { minPa: kPa(310), maxPa: kPa(350) } };
  const system = { shipped: false, name: 'Orrin 3.0', profile: { ...profile, pressureWindows: windows } };
  const known = intake({ system: 'return-rail', makersWindows: { prime: { minPa: kPa(290), maxPa: kPa(330) } } });
  const entries = [bled, entry('pressure', 'rail', kPa(280)), entry('pressure', 'rail', kPa(300), 'prime')];

  it('the maker’s window for this vehicle, then its system’s, then the rule of thumb', () => {
    const sheet = pressureSheet({ entries, intake: known, system });
    expect(sheet.windows).toMatchObject({
      prime: { basis: 'maker', minPa: kPa(290) },
      idle: { basis: 'system', minPa: kPa(300), source: 'Orrin 3.0' },
      loaded: { basis: 'rule-of-thumb' },
    });
    expect(sheet.lines).toMatchObject([{ standing: 'within' }, { standing: 'low' }]);
  });

  it('a shipped path is nobody’s vehicle: the rule of thumb stays', () => {
    const sheet = pressureSheet({ entries, intake: known, system: { ...system, shipped: true } });
    expect(sheet.windows.idle).toMatchObject({ basis: 'rule-of-thumb' });
    expect(sheet.lines).toMatchObject([{}, { standing: 'within' }]);
  });

  it('the sensor’s table comes from the vehicle, else from its system', () => {
    const three = [
      bled,
      entry('pressure', 'rail', kPa(350)),
      entry('scan', 'actual_pressure', kPa(350)),
      entry('scan', 'sensor_volts', 2.5),
    ];
    expect(pressureSheet({ entries: three, intake: intake(), system }).sensor?.verdict).toBe('agree');
    const own = intake({ sensorTable: ratiometricTable(kPa(1000)) });
    expect(pressureSheet({ entries: three, intake: own, system }).sensor?.tablePa).toBeCloseTo(kPa(500), 6);
    expect(pressureSheet({ entries: three, intake: intake() })).toMatchObject({ sensorTableKnown: false });
  });

  it('a pressure within its window while the fault was away clears nothing', () => {
    const away = { ...entry('pressure', 'rail', kPa(320)), faultPresent: false };
    const grounds = { entries: [bled, away], intake: known, system };
    expect(pressureSheet(grounds).verdict).toMatchObject({ standing: 'open' });
    expect(pointersFrom(grounds.entries, known, pressureSheet(grounds))).toEqual([]);
    const heard = { ...entry('check', 'prime_heard', 'steady', 'prime'), faultPresent: false };
    expect(pointersFrom([heard], intake(), pressureSheet({ entries: [heard], intake: intake() }))).toMatchObject([
      { away: [], text: expect.stringMatching(/fault was away/) as string },
    ]);
    const now = entry('pressure', 'rail', kPa(320));
    expect(pressureSheet({ ...grounds, entries: [bled, away, now] }).verdict.standing).toBe('delivers');
  });

  it('the house’s own limits decide', () => {
    const measured = [
      bled,
      entry('timing', 'rise_time', 1.8, 'prime'),
      entry('pressure', 'before_filter', kPa(400)),
      entry('pressure', 'after_filter', kPa(370)),
      entry('volume', 'rail', { volumeM3: 0.6e-3, durationS: 30 }, 'prime'),
      entry('hold', 'rail', {
        points: [0, 60, 120, 180, 240, 300].map((t) => [t, kPa(380 - t / 12)]),
        blocked: 'none',
      }),
      entry('scan', 'commanded_duty', 62),
      entry('scan', 'desired_pressure', kPa(380)),
      entry('scan', 'actual_pressure', kPa(378)),
    ];
    const judged = (rules: HouseRules) => {
      const sheet = pressureSheet({ entries: measured, intake: intake() }, rules);
      const { rise, filter, volume, hold, duty } = sheet;
      return [rise?.ok, filter?.ok, volume?.ok, hold?.judgement.standing, duty?.ok];
    };
    expect(judged(DEFAULT_HOUSE_RULES)).toEqual([true, true, true, 'holds', undefined]);
    const strict = { riseTimeS: 1.5, filterDropPa: kPa(20), volumeLph: 90, holdLossPaPerMin: 3.5e3 };
    expect(judged({ ...DEFAULT_HOUSE_RULES, ...strict, strugglingDutyPercent: 60 })).toEqual([
      false,
      false,
      false,
      'falls',
      false,
    ]);
    expect(checkHouseRules({ ...DEFAULT_HOUSE_RULES, holdLossPaPerMin: 90e3, volumeLph: Number.NaN })).toMatchObject([
      {
        field: 'holdLossPaPerMin',
        message: 'Loss after shut-down, a minute: choose between 1 kPa a minute and 50 kPa a minute.',
      },
      { field: 'volumeLph' },
    ]);
  });
});

describe('cautions stand before what can hurt', () => {
  it.each([
    ['pressure', 'rail', ['fuel-vapour', 'open-line', 'high-side']],
    ['hold', 'rail', ['fuel-vapour', 'open-line', 'high-side']],
    ['check', 'gauge_bled', ['fuel-vapour', 'open-line', 'high-side']],
    ['check', 'spray_mild', ['spray']],
    ['check', 'fuel_in_tank', []],
    ['voltage', 'pump', ['power']],
    ['direct-feed', 'pump', ['power']],
    ['voltage', 'injector_kick', []],
    ['pressure', 'manifold_vacuum', []],
    ['battery', 'rest', []],
    ['scan', 'commanded_duty', []],
  ] as const)('%s of %s', (kind, at, ids) => {
    expect(cautionsBefore(kind, at).map(({ id }) => id)).toEqual(ids);
  });
});

describe('the three-way rail sensor check', () => {
  const table = ratiometricTable(kPa(1000));

  it.each([
    ['all agree', 380, 384, 2.02, 'agree'],
    ['the sensor reads low against the gauge', 512, 384, 2.03, 'sensor'],
    ['the control unit shows something else', 380, 250, 2.02, 'scan'],
    ['the volts do not fit the table', 380, 380, 3.4, 'gauge-or-sensor'],
    ['no two agree', 380, 250, 3.4, 'all-differ'],
  ])('%s', (_name, gauge, scan, volts, verdict) => {
    expect(checkRailSensor(kPa(gauge), kPa(scan), volts, table)?.verdict).toBe(verdict);
  });

  it('reads its table straight between points and on beyond the ends (any rising table)', () => {
    expect(sensorPressure(2.5, table)).toBeCloseTo(kPa(500), 6);
    expect(sensorPressure(2, [])).toBeUndefined();
    const steps = fc.array(
      fc.tuple(fc.double({ min: 0.05, max: 1, noNaN: true }), fc.double({ min: 1, max: 1e5, noNaN: true })),
      {
        minLength: 2,
        maxLength: 8,
      },
    );
    fc.assert(
      fc.property(steps, fc.double({ min: 0, max: 5, noNaN: true }), (rises, volts) => {
        let at: [number, number] = [0, 0];
        const rising = rises.map(([dv, dp]): [number, number] => (at = [at[0] + dv, at[1] + dp]));
        const here = sensorPressure(volts, rising)!;
        const above = sensorPressure(volts + 0.01, rising)!;
        expect(above).toBeGreaterThan(here);
        for (const [v, p] of rising) expect(sensorPressure(v, rising)).toBeCloseTo(p, 3);
      }),
    );
  });

  it('over-commanding because the sensor reads low is told from a struggling pump', () => {
    const entries = [
      bled,
      entry('pressure', 'rail', kPa(512)),
      entry('scan', 'commanded_duty', 71),
      entry('scan', 'desired_pressure', kPa(380)),
      entry('scan', 'actual_pressure', kPa(384)),
      entry('scan', 'sensor_volts', 2.03),
    ];
    const known = intake({ system: 'returnless-electronic', sensorTable: table });
    const pointers = pointersFrom(entries, known, pressureSheet({ entries, intake: known }));
    const liar = pointers.find(({ towards }) => towards.length === 1 && towards[0] === 'sensor');
    expect(liar?.text).toMatch(/asks for more than it needs/);
    expect(liar?.away).toContain('pump-mechanical');
    const sheet = pressureSheet({ entries, intake: known });
    expect(sheet.duty?.text).toBe('Asks for 71 % duty because the rail sensor reads low.');
    expect(sheet.verdict.text).toMatch(/^High: the rail sensor reads low/);
    expect(pointers.some(({ towards }) => towards.includes('pump-mechanical'))).toBe(false);
  });
});

describe('the high side of direct injection, by scan tool only (common practice, no published source)', () => {
  const scan = (desiredPa: number, actualPa: number) => [
    entry('scan', 'desired_pressure', desiredPa),
    entry('scan', 'actual_pressure', actualPa),
    entry('scan', 'sensor_volts', 2),
    entry('scan', 'commanded_duty', 45),
  ];
  const low = entry('pressure', 'rail', kPa(480));
  const known = intake({ system: 'direct-injection', sensorTable: ratiometricTable(kPa(1000)) });
  const sheetOf = (entries: readonly Entry[]) => pressureSheet({ entries, intake: known });

  it('held at what is asked, the pump in the tank feeds it; its duty is not judged by it', () => {
    const sheet = sheetOf([bled, low, ...scan(20e6, 19.6e6)]);
    expect(sheet).toMatchObject({ highSide: { ok: true }, verdict: { standing: 'delivers' } });
    expect(sheet.duty).toBeUndefined();
    expect(pointersFrom([], known, sheet)[0].away).toContain('pump-mechanical');
  });

  it('low with a good low side it is none of the tank’s, low without one the low side comes first', () => {
    const fed = sheetOf([bled, low, ...scan(20e6, 6e6)]);
    expect(fed.highSide?.text).toMatch(/at 30 % of what is asked while the low side is within.*isn’t opened here/);
    const starved = sheetOf([...scan(5e6, 0.9e6)]);
    expect(starved.highSide?.text).toMatch(/18 % of what is asked: prove the low side on the gauge first/);
    const [first] = pointersFrom([], known, starved);
    expect(first).toMatchObject({ towards: ['hydraulic'], away: [] });
  });

  it('no gauge is compared with it, and the path model doesn’t weigh it', () => {
    const entries = [bled, low, ...scan(20e6, 19.6e6)];
    expect(sheetOf(entries).sensor).toBeUndefined();
    const weighed = caseReadings({ intake: known, entries, captures: [] }).map(({ at }) => at);
    expect(weighed).toEqual(['gauge_bled', 'rail', 'commanded_duty']);
    // A low side that is read by scan tool is compared and weighed as ever.
    expect(sheetOf([bled, low, ...scan(kPa(500), kPa(495))]).sensor?.verdict).toBe('gauge-or-sensor');
  });
});

describe('scan scalings (SAE J1979 / ISO 15031-5, from memory)', () => {
  it('agrees with the standard’s ends of range', () => {
    expect([fuelTrimPercent(0), fuelTrimPercent(128), fuelTrimPercent(255)]).toEqual([-100, 0, 99.21875]);
    expect(fuelPressurePa(255)).toBe(765e3);
    expect(railRelativePa(255, 255)).toBeCloseTo(5177.265e3, 0);
    expect(railGaugePa(255, 255)).toBe(655_350e3);
    expect(engineSpeedRpm(255, 255)).toBe(16_383.75);
  });
});
