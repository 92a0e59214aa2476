import fc from 'fast-check';
import { Matrix, solve } from 'ml-matrix';
import {
  awgAreaM2,
  awgDiameterM,
  checkProfile,
  fuseTime,
  ISO_6722_OHM_PER_M,
  makePump,
  PATHS,
  runPump,
  solvePath,
  soundOhm,
  templateProfile,
  wireOhm,
  type Condition,
  type SystemProfile,
} from '../src/index.js';

const P1 = templateProfile('P1');
const RUNNING = { batteryV: 12.5, setPressurePa: 300e3 };
const faulty = (id: string, ohm: number, more: Partial<Condition> = {}): Condition => ({
  ...RUNNING,
  ...more,
  addedOhm: { [id]: ohm },
});

/**
 * The same path as a set of node equations, solved by a general linear solver: one conductance a contact, the pump as a
 * source of k w behind its winding, shared loads as currents. Shares nothing with the chain but the profile.
 */
function byNodes(
  { stations }: SystemProfile,
  { batteryV, addedOhm = {} }: Condition,
  windingOhm: number,
  backV: number,
) {
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
    const ohm = station.kind === 'pump' ? windingOhm : soundOhm(station) + (addedOhm[station.id] ?? 0);
    join(i - 1, i, 1 / ohm);
    if (station.kind === 'pump') {
      inject(i - 1, backV / windingOhm);
      inject(i, -backV / windingOhm);
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
  return solve(conductance, injected).to1DArray();
}

describe('the path solver', () => {
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
          const condition = faulty(contacts[which % contacts.length].id, ohm, { batteryV });
          const state = solvePath(profile, condition);
          const { k } = makePump(profile.pump);
          const nodes = byNodes(profile, condition, state.pump.windingOhm, k * state.pump.speedRadS);
          const pumpAt = profile.stations.findIndex(({ kind }) => kind === 'pump');
          profile.stations.forEach(({ id }, i) => {
            // Supply stations are read behind themselves, ground stations before.
            const node = i < pumpAt ? nodes[i] : nodes[i - 1];
            expect(state.volts[id]).toBeCloseTo(node, 6);
          });
        },
      ),
    );
  });

  it('loses in all what the battery gives, and power is conserved at the pump', () => {
    const { volts, currentA, pump } = solvePath(P1, faulty('relay', 0.25));
    const { k } = makePump(P1.pump);
    expect(volts.pump - volts['ground-pin']).toBeCloseTo(currentA * pump.windingOhm + k * pump.speedRadS, 9);
    expect(volts.fuse - volts.relay).toBeCloseTo(currentA * 0.26, 9);
  });

  it('13.0 V behind a relay with 14.2 V before it at 4.8 A is a contact of 0.25 ohm (common practice, no published source)', () => {
    const profile = { ...P1, pump: { ...P1.pump, volts: 12.7, amperes: 4.8 } };
    const ohm = 1.2 / 4.8;
    const { volts, currentA } = solvePath(profile, faulty('relay', ohm, { batteryV: 14.3 }));
    expect(currentA).toBeGreaterThan(4.4);
    expect(volts.fuse - volts.relay).toBeCloseTo(currentA * (ohm + 0.01), 9);
    expect(volts.fuse - volts.relay).toBeGreaterThan(1.1);
  });

  it('a resistive feed slows the pump and starves the engine under load, as a worn pump would', () => {
    const loaded = { ...RUNNING, demand: 0.6 };
    const sound = solvePath(P1, loaded);
    const weak = solvePath(P1, faulty('harness', 1.2, loaded));
    expect(weak.pump.speedRadS).toBeLessThan(0.7 * sound.pump.speedRadS);
    expect(weak.currentA).toBeLessThanOrEqual(sound.currentA);
    expect(weak.pump.pressurePa).toBeLessThan(0.7 * sound.pump.pressurePa);
    // At idle the little that is asked for still arrives: the gauge sees nothing, the current does.
    expect(solvePath(P1, faulty('harness', 0.3)).pump.pressurePa).toBe(300e3);
  });

  it('an open ground puts the pin at the feed, an open pump leaves it at nothing', () => {
    const ground = solvePath(P1, faulty('ground', Infinity));
    expect(ground.currentA).toBe(0);
    expect(ground.volts['ground-pin']).toBeGreaterThan(12.4);
    const pump = solvePath(P1, { ...RUNNING, pump: { addedOhm: Infinity } });
    expect(pump.volts.pump).toBeCloseTo(12.5, 6);
    expect(pump.volts['ground-pin']).toBe(0);
    const feed = solvePath(P1, faulty('cutoff', Infinity));
    expect([feed.volts.relay, feed.volts.cutoff, feed.volts.pump]).toEqual([12.5, 0, 0]);
  });

  it('an oil-pressure switch carries the pump round a dead relay', () => {
    const P2 = templateProfile('P2');
    expect(solvePath(P2, { ...RUNNING, relayOff: true }).currentA).toBe(0);
    const carried = solvePath(P2, { ...RUNNING, relayOff: true, bypassClosed: true });
    expect(carried.currentA).toBeGreaterThan(4);
    expect(carried.volts.fuse - carried.volts.relay).toBeCloseTo(carried.currentA * 0.03, 9);
  });

  it('a driver module takes less from its supply than it gives, by its duty', () => {
    const P4 = templateProfile('P4');
    const half = solvePath(P4, { ...RUNNING, duty: 0.6 });
    const dropBefore = 12.5 - half.volts['module-feed'];
    const before = ['fuse', 'relay', 'cutoff', 'module-feed']
      .map((id) => soundOhm(P4.stations.find((s) => s.id === id)!))
      .reduce((a, b) => a + b);
    expect(dropBefore).toBeCloseTo(0.6 * half.currentA * before, 9);
    expect(half.pump.speedRadS).toBeLessThan(solvePath(P4, RUNNING).pump.speedRadS);
  });
});

describe('the pump', () => {
  const pump = makePump(P1.pump);
  const rated = { openV: 12, sourceOhm: 0, setPressurePa: 300e3 };

  it('meets its rating at its rated point', () => {
    const point = runPump(pump, {}, rated);
    expect(point.currentA).toBeCloseTo(5, 9);
    expect((point.speedRadS * 30) / Math.PI).toBeCloseTo(6500, 6);
    expect(point.pressurePa).toBe(300e3);
  });

  it('tells its faults by current, speed and pressure, as the trade reads them', () => {
    const sound = runPump(pump, {}, rated);
    const drag = runPump(pump, { drag: 0.5 }, rated);
    expect([drag.currentA > sound.currentA, drag.speedRadS < sound.speedRadS]).toEqual([true, true]);
    const dry = runPump(pump, { leak: 1 }, rated);
    expect([dry.currentA < sound.currentA, dry.speedRadS > sound.speedRadS, dry.pressurePa]).toEqual([true, true, 0]);
    const locked = runPump(pump, { drag: Infinity }, rated);
    expect(locked).toMatchObject({ locked: true, speedRadS: 0 });
    expect(locked.currentA).toBeCloseTo(12 / 0.55, 9);
    const clogged = runPump(pump, { restrictionPa: 150e3 }, rated);
    expect(clogged.currentA).toBeGreaterThan(sound.currentA);
    expect(clogged.speedRadS).toBeLessThan(sound.speedRadS);
  });

  it('never makes numbers that can’t be (any feed, any fault)', () => {
    const share = fc.double({ min: 0, max: 1, noNaN: true });
    fc.assert(
      fc.property(
        fc.double({ min: 0, max: 16, noNaN: true }),
        fc.oneof(fc.double({ min: 0, max: 20, noNaN: true }), fc.constant(Infinity)),
        share,
        fc.oneof(share, fc.constant(Infinity)),
        fc.double({ min: 0, max: 4e5, noNaN: true }),
        (openV, sourceOhm, leak, drag, restrictionPa) => {
          const point = runPump(pump, { leak, drag, restrictionPa }, { openV, sourceOhm, setPressurePa: 300e3 });
          expect(point.currentA).toBeGreaterThanOrEqual(0);
          expect(point.currentA).toBeLessThanOrEqual(openV / 0.55 + 1e-9);
          expect(point.speedRadS).toBeGreaterThanOrEqual(0);
          expect(point.pressurePa).toBeGreaterThanOrEqual(0);
          expect(point.pressurePa).toBeLessThanOrEqual(300e3);
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
