import fc from 'fast-check';
import { Matrix, solve as linear } from 'ml-matrix';
import {
  awgAreaM2,
  awgDiameterM,
  checkProfile,
  fuseTime,
  ISO_6722_OHM_PER_M,
  makeVehicle,
  PATHS,
  solve,
  SOUND,
  soundOhm,
  templateProfile,
  UNHELPED,
  usualParameters,
  wireOhm,
  type Fault,
  type KeyState,
  type Parameters,
  type SystemProfile,
} from '../src/index.js';
import { motorFromRating } from '../src/physics/motor.js';
import { runPump } from '../src/physics/pump.js';
import { simulateTransient } from '../src/physics/transient.js';
import { seededRandom } from '../src/signal/random.js';

const P1 = templateProfile('P1');

/** What a profile's vehicle does with a fault in it, on a given battery, everything else as usual. */
function run(
  profile: SystemProfile,
  fault: Fault = SOUND,
  more: Partial<Parameters> = {},
  keyState: KeyState = 'prime',
) {
  const vehicle = makeVehicle(profile);
  return solve(vehicle, { ...usualParameters(vehicle, keyState), ...more }, fault, keyState, UNHELPED);
}
const at = (profile: SystemProfile, id: string) => profile.stations.findIndex((station) => station.id === id);
const running = { batteryV: 12.5 };

/**
 * The same path as a set of node equations, solved by a general linear solver: one conductance a contact, the pump as a
 * source behind its winding, shared loads as conductances. Shares nothing with the chain but the profile.
 */
function byNodes({ stations, pump }: SystemProfile, fault: Fault, batteryV: number, backV: number) {
  const inner = stations.length - 1;
  // Node i lies between station i and i + 1; node 0 is battery +, the last one battery -.
  const conductance = new Matrix(inner + 1, inner + 1);
  const injected = new Matrix(inner + 1, 1);
  const join = (a: number, b: number, siemens: number) => {
    conductance.set(a, a, conductance.get(a, a) + siemens);
    conductance.set(b, b, conductance.get(b, b) + siemens);
    conductance.set(a, b, conductance.get(a, b) - siemens);
    conductance.set(b, a, conductance.get(b, a) - siemens);
  };
  const inject = (node: number, ampere: number) => injected.set(node, 0, injected.get(node, 0) + ampere);
  for (let i = 1; i <= inner; i++) {
    const station = stations[i];
    const added = fault.at === station.id ? (fault.ohm ?? 0) : 0;
    const ohm = station.kind === 'pump' ? pump.windingOhm : soundOhm(station) + added;
    join(i - 1, i, 1 / ohm);
    if (station.kind === 'pump') {
      inject(i - 1, backV / ohm);
      inject(i, -backV / ohm);
    }
    // Other loads are to ground, and draw what they are said to at 12 V.
    if (station.sharedA) join(i, inner, station.sharedA / 12);
  }
  const fix = (node: number, volts: number) => {
    for (let j = 0; j <= inner; j++) conductance.set(node, j, j === node ? 1 : 0);
    injected.set(node, 0, volts);
  };
  fix(0, batteryV);
  fix(inner, 0);
  return linear(conductance, injected).to1DArray();
}

describe('the path', () => {
  it('agrees with node equations of a general linear solver, on every relay path and any added resistance', () => {
    const paths = PATHS.map(templateProfile).filter(({ stations }) => !stations.some(({ kind }) => kind === 'module'));
    expect(paths).toHaveLength(5);
    fc.assert(
      fc.property(
        fc.constantFrom(...paths),
        fc.nat(),
        fc.double({ min: 0, max: 1.5, noNaN: true }),
        fc.double({ min: 10, max: 15, noNaN: true }),
        (profile, which, ohm, batteryV) => {
          const contacts = profile.stations.filter(({ kind }) => kind !== 'battery' && kind !== 'pump');
          const fault = { at: contacts[which % contacts.length].id, ohm };
          const { volts, speed } = run(profile, fault, { batteryV });
          const { pump } = profile;
          const nodes = byNodes(profile, fault, batteryV, (pump.volts - pump.amperes * pump.windingOhm) * speed);
          const pumpAt = at(profile, 'pump');
          // Supply stations are read behind themselves, ground stations before.
          profile.stations.forEach((_, i) => expect(volts[i]).toBeCloseTo(i < pumpAt ? nodes[i] : nodes[i - 1], 6));
        },
      ),
    );
  });

  it('13.0 V behind a relay with 14.2 V before it at 4.8 A is a contact of 0.25 ohm (common practice, no published source)', () => {
    const profile = { ...P1, pump: { ...P1.pump, volts: 12.7, amperes: 4.8 } };
    const { volts, currentA } = run(profile, { at: 'relay', ohm: 1.2 / 4.8 }, { batteryV: 14.3 });
    expect(currentA).toBeGreaterThan(4.2);
    expect(volts[at(profile, 'fuse')] - volts[at(profile, 'relay')]).toBeCloseTo(currentA * 0.26, 9);
  });

  it('a resistive feed slows the pump and starves the engine under load, while an idling gauge sees nothing', () => {
    const weak = { at: 'harness', ohm: 1.2 };
    const [sound, loaded] = [run(P1, SOUND, {}, 'loaded'), run(P1, weak, {}, 'loaded')];
    expect(loaded.speed).toBeLessThan(0.75 * sound.speed);
    expect(loaded.railPa).toBeLessThan(0.8 * sound.railPa);
    expect(run(P1, { at: 'harness', ohm: 0.3 }).railPa).toBe(run(P1).railPa);
  });

  it('an open ground puts the pin at the feed, an open pump leaves it at nothing, an open feed ends the volts', () => {
    const pin = at(P1, 'ground-pin');
    const ground = run(P1, { at: 'ground', ohm: Infinity }, running);
    expect([ground.currentA, ground.volts[pin] > 12.4]).toEqual([0, true]);
    const pump = run(P1, { pump: { addedOhm: Infinity } }, running);
    expect([pump.currentA, pump.volts[pin]]).toEqual([0, 0]);
    expect(pump.volts[at(P1, 'pump')]).toBeCloseTo(12.5, 6);
    const feed = run(P1, { at: 'cutoff', ohm: Infinity }, running);
    expect(['relay', 'cutoff', 'pump'].map((id) => feed.volts[at(P1, id)])).toEqual([12.5, 0, 0]);
    // Whatever touches ground blows the fuse before it, wherever it is.
    const short = run(P1, { shortBehind: 'harness' }, running);
    expect(['link', 'fuse', 'relay'].map((id) => short.volts[at(P1, id)])).toEqual([12.5, 0, 0]);
  });

  it('an oil-pressure switch carries the pump round a dead relay, and a flat battery pulls no relay', () => {
    const P2 = templateProfile('P2');
    expect(run(P2, { relayOff: 'feed' }).currentA).toBe(0);
    const carried = run(P2, { relayOff: 'feed' }, {}, 'idle');
    expect(carried.volts[at(P2, 'fuse')] - carried.volts[at(P2, 'relay')]).toBeCloseTo(carried.currentA * 0.03, 9);
    expect(run(P1, SOUND, { batteryV: 5.8 }, 'cranking').currentA).toBe(0);
  });

  it('a driver module halves and freewheels: mean volts fall below the duty’s share by what the diode loses', () => {
    const P6 = templateProfile('P6');
    const { volts, currentA, output } = run(P6, SOUND, { batteryV: 12.5, wish: { duty: 0.6 } });
    const sum = (...ids: string[]) => ids.reduce((ohm, id) => ohm + soundOhm(P6.stations[at(P6, id)]), 0);
    const supply = volts[at(P6, 'module-feed')];
    // It takes from its supply what it gives, by its duty.
    expect(12.5 - supply).toBeCloseTo(output * currentA * sum('fuse', 'relay', 'module-feed'), 9);
    // Switch closed for 0.6 of the period, the diode for the rest (0.7 V, silicon, textbook).
    const mean = 0.6 * (supply - currentA * sum('module')) - 0.4 * 0.7;
    expect(volts[at(P6, 'module')]).toBeCloseTo(mean, 9);
  });

  it('two pumps on one feed tell its resistance by what their volts and amperes differ, on every path', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...PATHS.map(templateProfile)),
        fc.nat(),
        fc.double({ min: 0, max: 0.8, noNaN: true }),
        fc.double({ min: 0.5, max: 1, noNaN: true }),
        (profile, which, ohm, duty) => {
          const contacts = profile.stations.filter(({ kind }) => kind !== 'battery' && kind !== 'pump');
          const fault = { at: contacts[which % contacts.length].id, ohm };
          const loaded = (drag: number) => run(profile, { ...fault, pump: { drag } }, { ...running, wish: { duty } });
          const [easy, hard] = [loaded(0), loaded(0.5)];
          const [feed, pin] = [at(profile, 'pump'), at(profile, 'pump') + 1];
          const moreA = hard.currentA - easy.currentA;
          expect(easy.feedOhm).toBeCloseTo((easy.volts[feed] - hard.volts[feed]) / moreA, 6);
          expect(easy.groundOhm).toBeCloseTo((hard.volts[pin] - easy.volts[pin]) / moreA, 6);
        },
      ),
    );
  });

  it('a controller makes up for a weak module and a lying sensor until it can ask for no more', () => {
    const P4 = templateProfile('P4');
    const [sound, weak] = [run(P4), run(P4, { module: { passes: 0.7 } })];
    expect(weak.output).toBeCloseTo(sound.output, 6);
    expect(weak.wish).toBeCloseTo(sound.wish / 0.7, 6);
    const low = run(P4, { sensorGain: 0.8 });
    expect(low.railPa).toBeCloseTo(sound.railPa / 0.8, -3);
    expect(low.sensedPa).toBeCloseTo(sound.sensedPa, -3);
    expect(run(P4, { module: { passes: 0.2 } }).wish).toBe(1);
  });

  it('manifold vacuum is taken off at idle, and comes back with the hose off', () => {
    const profile: SystemProfile = { ...P1, regulator: 'rail-vacuum', pressureWindows: {} };
    const idle = run(profile, SOUND, {}, 'idle');
    expect(idle.hoseOffPa - idle.railPa).toBeCloseTo(55e3, 3);
    expect(run(profile).railPa - idle.railPa).toBeCloseTo(55e3, 3);
  });
});

describe('the pump', () => {
  const profile: SystemProfile = { ...P1, pressureWindows: {} };
  const sound = makeVehicle(profile).sound;
  const onRated = { openV: 12, sourceOhm: 0, held: 1, demand: 0.2, filter: 0, split: 0 };

  it('meets its rating at its rated point', () => {
    const point = runPump(sound, {}, onRated);
    expect(point.currentA).toBeCloseTo(5, 9);
    expect(point.speed).toBeCloseTo(1, 9);
    expect([point.pressure, point.flow]).toEqual([1, expect.closeTo(1, 9)]);
  });

  it('tells its faults by current, speed and pressure, as the trade reads them', () => {
    const good = runPump(sound, {}, onRated);
    const drag = runPump(sound, { drag: 0.5 }, onRated);
    expect([drag.currentA > good.currentA, drag.speed < good.speed]).toEqual([true, true]);
    const shorted = runPump(sound, { shorted: 0.3 }, onRated);
    expect([shorted.currentA > 1.4 * good.currentA, shorted.pressure]).toEqual([true, 1]);
    const dry = runPump(sound, { dry: true }, onRated);
    expect([dry.currentA < good.currentA, dry.speed > good.speed, dry.pressure]).toEqual([true, true, 0]);
    const locked = runPump(sound, { drag: Infinity }, onRated);
    expect(locked).toMatchObject({ locked: true, speed: 0 });
    expect(locked.currentA).toBeCloseTo(12 / 0.55, 9);
    const worn = runPump(sound, { slip: 2 }, onRated);
    expect([worn.pressure < 0.8, worn.speed > good.speed]).toEqual([true, true]);
    const clogged = runPump(sound, {}, { ...onRated, filter: 0.6 });
    expect([clogged.currentA > good.currentA, clogged.speed < good.speed, clogged.before > 1.4]).toEqual([
      true,
      true,
      true,
    ]);
  });

  it('never makes numbers that can’t be (any feed, any fault)', () => {
    const share = fc.double({ min: 0, max: 1, noNaN: true });
    fc.assert(
      fc.property(
        fc.double({ min: 0, max: 16, noNaN: true }),
        fc.oneof(fc.double({ min: 0, max: 20, noNaN: true }), fc.constant(Infinity)),
        fc.double({ min: 0, max: 5, noNaN: true }),
        fc.oneof(share, fc.constant(Infinity)),
        share,
        share,
        (openV, sourceOhm, slip, drag, filter, shorted) => {
          const point = runPump(sound, { slip, drag, shorted }, { ...onRated, openV, sourceOhm, filter });
          expect(point.currentA).toBeGreaterThanOrEqual(0);
          expect(point.speed).toBeGreaterThanOrEqual(0);
          expect(point.pressure).toBeGreaterThanOrEqual(0);
          expect(point.pressure).toBeLessThanOrEqual(1 + 1e-9);
          expect(point.before).toBeGreaterThanOrEqual(point.pressure);
        },
      ),
    );
  });
});

describe('wire and fuse tables', () => {
  it.each([
    // ASTM B258, nominal diameters in mil; from memory.
    [0, 324.9],
    [10, 101.9],
    [18, 40.3],
    [22, 25.3],
    [36, 5],
  ])('AWG %i is %f mil thick (ASTM B258, from memory)', (gauge, mil) => {
    expect(awgDiameterM(gauge) / 25.4e-6).toBeCloseTo(mil, 1);
  });

  it('AWG 18 copper has 6.385 ohm a thousand feet at 20 °C (ASTM B258 and 100 % IACS, from memory)', () => {
    expect(wireOhm(304.8, awgAreaM2(18))).toBeCloseTo(6.385, 1);
  });

  it('solid copper lies below the standard’s largest resistance of every strand, and not far below', () => {
    for (const [mm2, most] of Object.entries(ISO_6722_OHM_PER_M)) {
      const solid = wireOhm(1, Number(mm2) * 1e-6);
      expect(solid).toBeLessThan(most);
      expect(solid).toBeGreaterThan(0.85 * most);
    }
  });

  it('warm copper has more: 3.93 per mille a kelvin', () => {
    expect(wireOhm(1, 1e-6, 120) / wireOhm(1, 1e-6)).toBeCloseTo(1.393, 3);
  });

  it('a blade fuse at twice its rating opens between 0.15 and 5 s (ISO 8820-3, from memory)', () => {
    expect(fuseTime(30, 15)).toEqual({ leastS: 0.15, mostS: 5 });
    expect(fuseTime(15, 15)).toBeUndefined();
    expect(fuseTime(21, 15)).toEqual({ leastS: 0.75, mostS: 1800 });
  });
});

describe('profiles', () => {
  it('every path that ships can work', () => {
    for (const path of PATHS) expect(checkProfile(templateProfile(path))).toEqual([]);
  });

  it.each<[string, (p: SystemProfile) => SystemProfile, string]>([
    ['no pump', (p) => ({ ...p, stations: p.stations.filter(({ kind }) => kind !== 'pump') }), 'There is no pump'],
    ['not closed', (p) => ({ ...p, stations: p.stations.slice(0, -1) }), 'isn’t closed'],
    [
      '500 stations',
      (p) => ({ ...p, stations: Array.from({ length: 500 }, () => p.stations[2]) }),
      'at most 60 stations',
    ],
    [
      'two of one name',
      (p) => ({ ...p, stations: [p.stations[0], p.stations[1], ...p.stations.slice(1)] }),
      'called "link"',
    ],
    [
      'a fuse in the ground',
      (p) => ({ ...p, stations: [...p.stations.slice(0, -1), p.stations[2], p.stations[p.stations.length - 1]] }),
      'belongs to the supply',
    ],
    ['a winding that takes it all', (p) => ({ ...p, pump: { ...p.pump, windingOhm: 4 } }), 'winding would take all'],
    [
      'a table that falls',
      (p) => ({
        ...p,
        commandTable: [
          [50, 10],
          [20, 90],
        ],
      }),
      'must rise',
    ],
  ])('%s is refused by field', (_name, spoil, words) => {
    const problems = checkProfile(spoil(P1));
    expect(problems.map(({ message }) => message).join(' ')).toContain(words);
    expect(problems.every(({ field }) => field.length > 0)).toBe(true);
  });
});

describe('in time', () => {
  it('a pump settles where the steady laws put it, whatever feeds it, and its first peak is what it draws standing', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 90, max: 145 }),
        fc.integer({ min: 0, max: 80 }),
        fc.constantFrom(4, 5.5, 7),
        (decivolts, centiohms, ratedA) => {
          const [batteryV, feedOhm] = [decivolts / 10, centiohms / 100];
          const rating = { voltageV: 12, currentA: ratedA, rpm: 6200, windingOhm: 0.6 };
          const { currentA, speedRadS } = simulateTransient(
            {
              motor: motorFromRating(rating),
              commutator: { bars: 8, humpDepth: 0, barSpread: 0, burnt: [], bouncesPerS: 0, bounceOhm: 0 },
              batteryV,
              feedOhm,
              groundOhm: 0.02,
              durationS: 1,
              onS: 0.01,
              offS: Infinity,
              dead: [],
              feedOpen: [],
              locked: false,
            },
            10_000,
            seededRandom(1),
          );
          const { sound } = makeVehicle(templateProfile('P1'));
          const steady = runPump(
            { ...sound, windingOhm: 0.6, inducedV: 12 - 0.6 * ratedA, ratedA },
            {},
            { openV: batteryV, sourceOhm: feedOhm + 0.02, held: 1, demand: 0, filter: 0, split: 0 },
          );
          // Too little to hold its pressure it runs on other laws.
          fc.pre(steady.pressure === 1);
          expect(currentA[currentA.length - 1] / steady.currentA).toBeCloseTo(1, 2);
          expect(speedRadS[speedRadS.length - 1] / ((steady.speed * 6200 * 2 * Math.PI) / 60)).toBeCloseTo(1, 2);
          const peak = currentA.reduce((a, b) => Math.max(a, b));
          expect(peak).toBeLessThan(steady.stallA);
          expect(peak).toBeGreaterThan(0.85 * steady.stallA);
        },
      ),
      { numRuns: 40 },
    );
  });
});
