import { Matrix, solve } from 'ml-matrix';
import type { Family, KeyState, NextTest, Reading, SystemProfile } from '../../src/index.js';
import { seededRandom, type Random } from '../../src/model/random.js';

/**
 * A vehicle with one fault, answering whatever is asked. Written apart from the diagnosis: node voltages come from a general
 * linear solver, the pump has laws of its own (pressure by the square of speed, friction with a viscous part), contacts and
 * pump differ from car to car, and the meter has 0.5 % and 20 mV of noise. It shares the profile and the random numbers only.
 */
export interface BenchFault {
  readonly family: Family;
  readonly at?: string;
  readonly ohm?: number;
  readonly relayDead?: boolean;
  readonly batteryLow?: number;
  readonly brushOhm?: number;
  readonly burnt?: number;
  readonly drag?: number;
  readonly wear?: number;
  readonly clog?: number;
  readonly regulator?: number;
  readonly leaky?: boolean;
  readonly dry?: boolean;
  readonly sensor?: number;
  readonly missing?: 'spark' | 'injection' | 'immobiliser';
  readonly modulePass?: number;
  readonly command?: number;
}

interface Point {
  readonly volts: readonly number[];
  readonly ampere: number;
  readonly speed: number;
  readonly pascal: number;
  readonly duty: number;
}

const OPEN = 1e9;

export class BenchVehicle {
  private readonly random: Random;
  private readonly battery: Record<string, number>;
  private readonly ohms: number[];
  private readonly draw: number;
  private readonly fast: number;
  private readonly height: number;

  constructor(
    readonly profile: SystemProfile,
    readonly fault: BenchFault,
    seed: number,
  ) {
    this.random = seededRandom(seed);
    const { random } = this;
    const low = fault.batteryLow ?? 0;
    const volts = (usual: number, spread: number) => usual + spread * random.normal() - low;
    this.battery = {
      off: volts(12.55, 0.12),
      prime: volts(12.3, 0.2),
      cranking: volts(10.4, 0.4) - 0.3 * low,
      idle: volts(14.1, 0.2),
      loaded: volts(14.0, 0.2),
      'after-off': volts(12.6, 0.15),
    };
    const usual: Record<string, number> = {
      fuse: 0.006,
      relay: 0.012,
      'cutoff-switch': 0.012,
      module: 0.03,
      wire: 0.03,
    };
    this.ohms = profile.stations.map(
      ({ kind, ohm, wire }) =>
        (ohm ?? (wire ? 0.0076 * wire.lengthM : (usual[kind] ?? 0.004))) *
        (1 + 0.3 * Math.max(-2, Math.min(2, random.normal()))),
    );
    this.draw = 1 + 0.07 * random.normal();
    this.fast = 1 + 0.05 * random.normal();
    this.height = 1 + 0.04 * random.normal();
  }

  /** What the technician writes down. */
  answer(id: string, { reading: { kind, at, state, reference } }: Pick<NextTest, 'reading'>): Reading {
    const base = { id, kind, at, keyState: state, faultPresent: true, ...(reference && { reference }) };
    return { ...base, value: this.value(kind, at, state, reference) };
  }

  private value(kind: Reading['kind'], at: string, state: KeyState, reference: string | undefined): Reading['value'] {
    const { fault, random, profile } = this;
    const chance = (share: number) => random.uniform() < share;
    const place = profile.stations.findIndex(({ id }) => id === at);
    const pumpAt = profile.stations.findIndex(({ kind: k }) => k === 'pump');
    switch (kind) {
      case 'voltage': {
        const { volts } = this.point(state);
        const node = place >= pumpAt ? volts[Math.max(0, place - 1)] : volts[place];
        return this.meter(reference === 'battery+' ? this.battery[state] - node : node);
      }
      case 'battery':
        return this.meter(this.battery[state]);
      case 'current':
        return Math.max(0, this.point(state).ampere * (1 + 0.02 * random.normal()) + 0.03 * random.normal());
      case 'capture': {
        const { ampere, speed } = this.point(state);
        if (ampere < 0.1) return { pattern: 'no-current', meanA: 0 };
        const rated = (profile.pump.rpm * Math.PI) / 30;
        const rpm = (speed / rated) * profile.pump.rpm * (1 + 0.004 * random.normal());
        const burnt = fault.burnt ?? 0;
        const pattern =
          speed < 5
            ? 'irregular'
            : burnt === 1
              ? 'locked-notch'
              : burnt > 1
                ? 'burnt-bars'
                : fault.brushOhm && fault.brushOhm < 50 && chance(0.6)
                  ? 'random-dropouts'
                  : 'even';
        const ripplePercent = burnt ? 30 + 10 * random.uniform() : 7 + 5 * random.uniform();
        return { meanA: ampere, pattern, ...(speed > 5 && { rpm, ripplePercent }), ...(burnt && { badBars: burnt }) };
      }
      case 'pressure': {
        const { pascal, ampere } = this.point(state);
        const before = at === 'before_filter' && ampere > 0.1 ? (fault.clog ?? 0) * profile.pump.pressurePa : 0;
        return Math.max(0, (pascal + before) * (1 + 0.015 * random.normal()) + 2e3 * random.normal());
      }
      case 'scan': {
        const { pascal, duty } = this.point(state);
        if (at === 'commanded_duty') return this.commanded(state, duty);
        return Math.max(0, pascal * (fault.sensor ?? 1) * (1 + 0.01 * random.normal()));
      }
      case 'duty':
        return at === 'command' ? this.commanded(state, this.point(state).duty) : 100 * this.point(state).duty;
      case 'hold': {
        const rate = (fault.leaky ? 50e3 : 3e3) * (0.6 + 0.8 * random.uniform());
        const full = Math.max(60e3, this.point('prime').pascal);
        const points = [0, 60, 120, 240, 360].map(
          (s) => [s, Math.max(0, full * Math.exp((-rate * s) / 60 / full) + 800 * random.normal())] as const,
        );
        return { points, blocked: 'none' };
      }
      case 'volume': {
        const { speed } = this.point(profile.crankOnly ? 'cranking' : 'prime');
        const share = (speed * 30) / Math.PI / profile.pump.rpm;
        const passed = fault.dry ? 0 : (share * (1 - (fault.wear ?? 0))) / (1 + 0.8 * (fault.clog ?? 0));
        return { volumeM3: (115e-3 / 3600) * 15 * passed * (1 + 0.12 * random.normal()), durationS: 15 };
      }
      case 'resistance': {
        const own = this.ohms[place] + (fault.at === at ? Math.min(OPEN, fault.ohm ?? 0) : 0);
        if (fault.at === at && own > 0.4 && own < 1e5 && chance(0.4)) return 'wandering';
        return own > 1e6 ? 5e6 : own + 0.15 + 0.05 * random.uniform();
      }
      case 'swap':
        return fault.family === 'relay-contact' ? 'changed' : 'unchanged';
      case 'bridge':
        return this.turns({ skip: this.relayAt() }) ? 'runs' : 'dead';
      case 'module-bypass':
        return this.turns({ skip: profile.stations.findIndex(({ kind: k }) => k === 'module'), fullDuty: true })
          ? 'runs'
          : 'dead';
      case 'direct-feed':
        return this.turns({ direct: true, fullDuty: true }) ? 'runs' : 'dead';
      case 'disturb':
        return fault.at === at && chance(0.3) ? 'changed' : 'unchanged';
      case 'visual':
        return fault.at === at && chance(0.45) ? 'damaged' : 'clean';
      case 'check':
        return this.check(at);
      default:
        throw new Error(`The bench doesn't answer ${kind}.`);
    }
  }

  private check(at: string): string {
    const { fault, random, profile } = this;
    const chance = (share: number) => random.uniform() < share;
    switch (at) {
      case 'prime_heard': {
        const { speed } = this.point(profile.crankOnly ? 'cranking' : 'prime');
        const share = (speed * 30) / Math.PI / profile.pump.rpm;
        if (share < 0.1) return 'silent';
        return chance(share < 0.5 || fault.drag || fault.burnt ? 0.35 : 0.04) ? 'rough' : 'steady';
      }
      case 'tap_test':
        return (fault.burnt || fault.brushOhm) && chance(0.3) ? 'wakes' : 'nothing';
      case 'fuel_in_tank':
        return fault.dry ? 'no' : chance(0.1) ? 'gauge' : 'yes';
      case 'fuel_fresh':
        return 'fresh';
      case 'cutoff_button': {
        const own = profile.stations.find(({ kind }) => kind === 'cutoff-switch');
        return !own ? 'none' : fault.at === own.id && (fault.ohm ?? 0) > 1e5 && chance(0.5) ? 'tripped' : 'set';
      }
      case 'restraint_event':
        return 'none';
      case 'immobiliser':
        return fault.missing === 'immobiliser' ? 'blocks' : 'clear';
      case 'crank_speed':
        return fault.missing === 'injection' && chance(0.4) ? 'zero' : 'seen';
      case 'spark':
        return fault.missing === 'spark' ? 'none' : 'strong';
      case 'injector_pulse':
        return fault.missing === 'injection' || fault.missing === 'immobiliser' ? 'absent' : 'present';
      default:
        return this.point('cranking').pascal < 0.5 * profile.pump.pressurePa && !fault.missing && chance(0.9)
          ? 'fires'
          : 'nothing';
    }
  }

  private commanded(state: KeyState, duty: number): number {
    const { fault } = this;
    const asked =
      fault.command ?? (fault.modulePass ? Math.min(1, duty / fault.modulePass) : fault.modulePass === 0 ? 1 : duty);
    return 100 * Math.max(0, Math.min(1, asked * (1 + 0.02 * this.random.normal())));
  }

  private meter(volts: number): number {
    return Math.round(100 * (volts * (1 + 0.005 * this.random.normal()) + 0.02 * this.random.normal())) / 100;
  }

  private relayAt(): number {
    const own = this.profile.stations.findIndex(({ kind }) => kind === 'relay');
    return own >= 0 ? own : this.profile.stations.findIndex(({ kind }) => kind === 'junction-box');
  }

  private turns(helped: { skip?: number; direct?: boolean; fullDuty?: boolean }): boolean {
    const { speed } = this.point(this.profile.crankOnly ? 'cranking' : 'prime', helped);
    return (speed * 30) / Math.PI > 0.3 * this.profile.pump.rpm;
  }

  /** Finds the speed at which torque balances, by halving, the node voltages solved anew at every step. */
  private point(state: KeyState, helped: { skip?: number; direct?: boolean; fullDuty?: boolean } = {}): Point {
    const { fault, profile } = this;
    const relay = this.relayAt();
    const powered = !['off', 'after-off'].includes(state) && !(state === 'prime' && profile.crankOnly);
    const ohms = this.ohms.map((own, i) => {
      if (helped.direct) return 0.01;
      if (helped.skip === i) return 0.02;
      const faulty = own + (fault.at === profile.stations[i].id ? Math.min(OPEN, fault.ohm ?? 0) : 0);
      const closed = i === relay && (!powered || fault.relayDead) ? OPEN : faulty;
      const { bypass } = profile.stations[i];
      return bypass && (state === 'idle' || state === 'loaded') ? 1 / (1 / closed + 1 / bypass.ohm) : closed;
    });
    const stuck = fault.drag === Infinity;
    const hasModule = profile.stations.some(({ kind }) => kind === 'module');
    const closedLoop = profile.control === 'module-commanded' || profile.control === 'module-self';
    const wanted =
      profile.pump.pressurePa * this.height * (fault.regulator ?? 1) * (closedLoop ? 1 / (fault.sensor ?? 1) : 1);
    const at = (duty: number) => this.balance(ohms, this.battery[state], duty, stuck, wanted, state);
    if (!hasModule || helped.fullDuty) return at(1);
    const most = fault.modulePass ?? 1;
    if (fault.command !== undefined) return at(Math.max(1e-3, fault.command * most));
    if (profile.control === 'two-speed') return at(Math.max(1e-3, (state === 'loaded' ? 1 : 0.65) * most));
    if (profile.control === 'stepped') return at(Math.max(1e-3, (state === 'idle' ? 0.65 : 1) * most));
    if (state === 'prime' || state === 'cranking') return at(Math.max(1e-3, most));
    let [low, high] = [1e-3, Math.max(1e-3, most)];
    for (let i = 0; i < 24; i++) {
      const middle = (low + high) / 2;
      if (at(middle).pascal >= 0.999 * wanted) high = middle;
      else low = middle;
    }
    return at(high);
  }

  private balance(
    ohms: readonly number[],
    battery: number,
    duty: number,
    stuck: boolean,
    wanted: number,
    state: KeyState,
  ): Point {
    const { fault, profile } = this;
    const { volts, amperes, rpm, pressurePa, windingOhm } = profile.pump;
    const rated = (rpm * this.fast * Math.PI) / 30;
    const k = (volts - amperes * this.draw * windingOhm) / rated;
    const torque = k * amperes * this.draw;
    const winding = windingOhm + (fault.brushOhm ?? 0) + 0.12 * (fault.burnt ?? 0);
    const demand = state === 'loaded' ? 0.55 : 0.14;
    const pressureAt = (speed: number) => {
      const flow = 1.3 * (speed / rated) * (1 - (fault.wear ?? 0)) - demand;
      const most = flow > 0 ? pressurePa * 2.4 * flow ** 1.5 : 0;
      return fault.dry ? 0 : Math.max(0, Math.min(wanted, most - (fault.clog ?? 0) * pressurePa));
    };
    const need = (speed: number) => {
      const p = pressureAt(speed);
      const lifted = p + (p > 0 ? (fault.clog ?? 0) * pressurePa : 0);
      return torque * (0.18 + 0.06 * (speed / rated) + (fault.drag ?? 0) + (0.76 * lifted) / pressurePa);
    };
    let [low, high] = [0, 3 * rated];
    const pass = (speed: number) => k * this.nodes(ohms, battery, duty, winding, k * speed).ampere - need(speed);
    if (stuck || pass(0) < 0) high = 0;
    for (let i = 0; i < 30 && high > 0; i++) {
      const middle = (low + high) / 2;
      if (pass(middle) > 0) low = middle;
      else high = middle;
    }
    const { volts: nodes, ampere } = this.nodes(ohms, battery, duty, winding, k * low);
    return { volts: nodes, ampere, speed: low, pascal: pressureAt(low), duty };
  }

  /** Node i lies behind station i; a module is an ideal transformer, written as two coupled equations. */
  private nodes(ohms: readonly number[], battery: number, duty: number, winding: number, backV: number) {
    const { stations } = this.profile;
    const last = stations.length - 1;
    const size = last + 1;
    const matrix = Matrix.zeros(size + 1, size + 1);
    const right = Matrix.zeros(size + 1, 1);
    const put = (row: number, column: number, value: number) =>
      matrix.set(row, column, matrix.get(row, column) + value);
    const moduleAt = stations.findIndex(({ kind }) => kind === 'module');
    let ampereRow = -1;
    stations.forEach(({ kind, sharedA }, i) => {
      if (sharedA) put(i, i, sharedA / 12);
      if (i === 0) return;
      const ohm = kind === 'pump' ? winding : Math.max(1e-4, ohms[i]);
      if (i === moduleAt) {
        // Unknown `size` is the module's output current: V(i) = d V(i-1) - ohm I; in takes d I.
        ampereRow = size;
        put(size, i, 1);
        put(size, i - 1, -duty);
        put(size, size, ohm);
        put(i - 1, size, duty);
        put(i, size, -1);
        return;
      }
      const siemens = 1 / ohm;
      put(i - 1, i - 1, siemens);
      put(i, i, siemens);
      put(i - 1, i, -siemens);
      put(i, i - 1, -siemens);
      if (kind === 'pump') {
        right.set(i - 1, 0, right.get(i - 1, 0) + backV * siemens);
        right.set(i, 0, right.get(i, 0) - backV * siemens);
      }
    });
    if (ampereRow < 0) put(size, size, 1);
    for (const [node, volts] of [
      [0, battery],
      [last, 0],
    ] as const) {
      for (let c = 0; c <= size; c++) matrix.set(node, c, c === node ? 1 : 0);
      right.set(node, 0, volts);
    }
    // Ten megohm of the meter keep an open end from floating.
    for (let i = 1; i < last; i++) put(i, i, 1e-7);
    const found = solve(matrix, right).to1DArray();
    const pumpAt = stations.findIndex(({ kind }) => kind === 'pump');
    const ampere = (found[pumpAt - 1] - found[pumpAt] - backV) / winding;
    return { volts: found.slice(0, size), ampere };
  }
}

/** One fault of a kind that the path can have, bad enough to bring the vehicle in. */
export function randomFault(profile: SystemProfile, seed: number): BenchFault {
  const random = seededRandom(seed * 31 + 7);
  const between = (low: number, high: number) => low + (high - low) * random.uniform();
  const { stations } = profile;
  const pumpAt = stations.findIndex(({ kind }) => kind === 'pump');
  const faults: (() => BenchFault)[] = [];
  const contact = (at: string, family: Family) => () =>
    random.uniform() < 0.35 ? { family, at, ohm: OPEN } : { family, at, ohm: 10 ** between(-0.75, 1.3) };
  stations.forEach(({ id, kind }, i) => {
    if (kind === 'fuse' || kind === 'fusible-link') faults.push(contact(id, 'fuse'));
    else if (kind === 'relay' || kind === 'junction-box') {
      faults.push(contact(id, 'relay-contact'), () => ({ family: 'relay-control', relayDead: true }));
    } else if (kind === 'cutoff-switch') faults.push(contact(id, 'cutoff-switch'));
    else if (kind === 'module') {
      faults.push(contact(id, 'module'), () => ({ family: 'module', modulePass: between(0, 0.5) }));
      faults.push(() => ({ family: 'module-command', command: random.uniform() < 0.6 ? 0 : between(0.1, 0.3) }));
    } else if (kind !== 'battery' && kind !== 'pump')
      faults.push(contact(id, i < pumpAt ? 'feed-wiring' : 'ground-wiring'));
  });
  faults.push(
    () => ({ family: 'pump-electrical', brushOhm: OPEN }),
    () => ({ family: 'pump-electrical', brushOhm: between(0.6, 5) }),
    () => ({ family: 'pump-electrical', burnt: 1 + Math.floor(3 * random.uniform()) }),
    () => ({ family: 'pump-mechanical', drag: between(0.35, 0.9) }),
    () => ({ family: 'pump-mechanical', drag: Infinity }),
    () => ({ family: 'pump-mechanical', wear: between(0.5, 0.8) }),
    () => ({ family: 'hydraulic', clog: between(0.4, 1) }),
    () => ({ family: 'hydraulic', regulator: between(0.2, 0.7) }),
    () => ({ family: 'hydraulic', leaky: true }),
    () => ({ family: 'hydraulic', dry: true }),
    () => ({ family: 'supply', batteryLow: between(1.2, 4) }),
    () => ({
      family: 'not-fuel',
      missing: (['spark', 'injection', 'immobiliser'] as const)[Math.floor(3 * random.uniform())],
    }),
  );
  if (profile.sensorTable) faults.push(() => ({ family: 'sensor', sensor: between(0.45, 0.75) }));
  return faults[Math.floor(faults.length * random.uniform())]();
}
