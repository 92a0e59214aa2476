import fc from 'fast-check';
import {
  caseBench,
  DEFAULT_HOUSE_RULES,
  EMPTY_INTAKE,
  makeVehicle,
  templateProfile,
  voltageLadder,
  type CaseLadder,
  type Entry,
  type KeyState,
  type PathKind,
} from '../src/index.js';

let count = 0;
const entry = (at: string, value: number, keyState: KeyState, more: Partial<Entry> = {}): Entry => ({
  id: `e${++count}`,
  kind: at === 'amperes' ? 'current' : 'voltage',
  at: at === 'amperes' ? 'pump' : at,
  value,
  keyState,
  faultPresent: true,
  takenAt: '',
  ...more,
});
const bench = (path: PathKind, entries: readonly Entry[]) => {
  const profile = templateProfile(path);
  const system = { shipped: true, name: profile.name, profile };
  return caseBench({ intake: EMPTY_INTAKE, system, entries, captures: [] }, DEFAULT_HOUSE_RULES);
};
const ladder = (path: PathKind, entries: readonly Entry[]) => bench(path, entries).ladders.at(-1) as CaseLadder;
const standings = ({ rungs }: CaseLadder) => rungs.map(({ standing }) => standing[0]).join('');

describe('the voltage staircase', () => {
  // P1: battery, link, fuse, relay, cut-off, harness, connector, pump, ground pin, ground wire, ground.
  it('one good number under load clears everything before it; one bad one leaves what stands between', () => {
    const first = [entry('battery', 12.5, 'prime'), entry('amperes', 5, 'prime')];
    expect(standings(ladder('P1', first))).toBe('cuuuuuuuuuu');
    const good = [...first, entry('cutoff', 12.3, 'prime')];
    expect(standings(ladder('P1', good))).toBe('cccccuuuuuu');
    const bad = [...good, entry('pump', 11.2, 'prime'), entry('ground-pin', 0.08, 'prime')];
    expect(standings(ladder('P1', bad))).toBe('cccccsssccc');
    expect(ladder('P1', bad).rungs[7].step).toMatchObject({ contacts: 3, within: false });
    expect(ladder('P1', bad).rungs[7].step?.resistanceOhm).toBeCloseTo(0.22);
  });

  it('13.0 V behind a relay with 14.2 V before it condemns the contact (common practice, no published source)', () => {
    const { rungs } = ladder('P1', [
      entry('battery', 14.2, 'idle'),
      entry('fuse', 14.15, 'idle'),
      entry('relay', 13, 'idle'),
    ]);
    expect(rungs.filter(({ standing }) => standing === 'suspect').map(({ station }) => station.id)).toEqual(['relay']);
  });

  it('clears nothing while nothing flows, and still finds where the volts end', () => {
    const open = [entry('battery', 12.4, 'prime'), entry('pump', 12.36, 'prime'), entry('ground-pin', 12.31, 'prime')];
    expect(standings(ladder('P1', open))).toBe('cuuuuuuusss');
    expect(ladder('P1', open).ledger.doubts.join()).toMatch(/ground is open/);
    const dead = [entry('battery', 12.4, 'prime'), entry('fuse', 0, 'prime'), entry('relay', 0, 'prime')];
    expect(standings(ladder('P1', dead)).slice(0, 5)).toBe('cssuu');
  });

  it('keeps key states apart, and takes no reading that isn’t of the loaded, faulty path', () => {
    const { ladders } = bench('P1', [
      entry('battery', 14.1, 'idle'),
      entry('battery', 12.4, 'prime'),
      entry('pump', 12.2, 'prime'),
      entry('pump', 11, 'prime', { faultPresent: false }),
      entry('pump', 12.4, 'prime', { unloaded: true }),
      entry('pump', 12.4, 'off'),
    ]);
    expect(ladders.map(({ keyState }) => keyState)).toEqual(['idle', 'prime']);
    expect(ladders[1].rungs[7].volts).toBe(12.2);
    expect(ladders[0].rungs[7].volts).toBeUndefined();
  });

  it('a number read from battery + is what is lost on the way', () => {
    const read = [entry('battery', 12.5, 'prime'), entry('pump', 0.9, 'prime', { reference: 'battery+' })];
    expect(ladder('P1', read).rungs[7].volts).toBeCloseTo(11.6);
  });

  it('judges what lies behind a module only once its duty is known', () => {
    const idle = [entry('battery', 14, 'idle'), entry('module-feed', 13.8, 'idle'), entry('connector', 4.1, 'idle')];
    const without = ladder('P4', idle);
    expect(without.rungs.find(({ station }) => station.id === 'connector')?.standing).toBe('unknown');
    const known = ladder('P4', [...idle, entry('output', 40, 'idle', { kind: 'duty' })]);
    const rung = known.rungs.find(({ station }) => station.id === 'connector');
    expect(rung?.healthyV).toBeGreaterThan(4.8);
    expect(rung?.healthyV).toBeLessThan(5.7);
    expect(rung?.standing).toBe('suspect');
  });

  it('shows a healthy path on the battery that was read, falling from station to station', () => {
    const { rungs } = ladder('P3', [entry('battery', 11.9, 'prime')]);
    const supply = rungs.filter(({ side }) => side !== 'ground').map(({ healthyV }) => healthyV);
    expect(supply[0]).toBe(11.9);
    supply.slice(1).forEach((volts, i) => expect(volts).toBeLessThanOrEqual(supply[i]));
    expect(supply.at(-1)).toBeGreaterThan(11.3);
  });

  it('gives back between its ends exactly what it lost in its steps (any readings, any gaps)', () => {
    const path = makeVehicle(templateProfile('P1'));
    const volts = fc.double({ min: 0, max: 15, noNaN: true });
    const stations = fc.record(
      { battery: volts, fuse: volts, relay: volts, cutoff: volts, pump: volts },
      { requiredKeys: ['battery', 'pump'] },
    );
    fc.assert(
      fc.property(stations, (read) => {
        const rungs = voltageLadder(path, { volts: { ...read }, healthy: {}, dutyKnown: true }, DEFAULT_HOUSE_RULES);
        const lost = rungs.reduce((sum, { step }) => sum + (step?.dropV ?? 0), 0);
        expect(lost).toBeCloseTo(read.battery - read.pump, 9);
        for (const { step, standing } of rungs) if (step) expect(standing === 'suspect').toBe(!step.within);
      }),
    );
  });
});
