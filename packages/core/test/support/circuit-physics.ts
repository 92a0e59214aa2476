import { Matrix, solve } from 'ml-matrix';
import type { KeyState, SystemProfile } from '../../src/index.js';
import type { Random } from '../../src/signal/random.js';
import { OPEN, type CircuitFault } from './circuit-fault.js';

export interface Help {
  readonly bridged?: number;
  readonly pastModule?: boolean;
  readonly direct?: boolean;
  /** The return is shut. */
  readonly pinched?: boolean;
  /** By scan tool. */
  readonly commanded?: boolean;
}

export interface Moment {
  readonly batteryV: number;
  /** Mean volts behind each station; of the pump and behind it, at its pump side. */
  readonly volts: readonly number[];
  readonly ampere: number;
  /** Shares of the rated ones. */
  readonly speed: number;
  readonly pressure: number;
  readonly before: number;
  readonly wish: number;
  readonly pin: number;
  readonly duty: number;
  readonly moduleLives: boolean;
  /** The control unit wants the pump in such a state. */
  readonly asked: boolean;
  /** Current of a second pump, A. */
  readonly lift: number;
}

const STARTER_A = 160;
/** A valve in the pump lets go here, whatever is shut behind it; share of the rated pressure. */
const RELIEF = 2.1;
const DIODE_V = 0.75;
const COIL_PULLS_V = 6.8;
export const WORKING: readonly KeyState[] = ['prime', 'cranking', 'idle', 'loaded'];

/** The circuit, the motor and the fuel of one vehicle, at whatever moment is asked of it. */
export class CircuitPhysics {
  readonly own: {
    readonly emf: number;
    readonly innerOhm: number;
    readonly alternatorV: number;
    readonly ohms: readonly number[];
    readonly winding: number;
    readonly induced: number;
    readonly draw: number;
    readonly held: number;
    readonly filter: number;
    readonly jet: number;
    readonly slowDuty: number;
    readonly flowM3: number;
    readonly holdShare: number;
  };
  private readonly moments = new Map<string, Moment>();

  constructor(
    readonly profile: SystemProfile,
    readonly fault: CircuitFault,
    random: Random,
  ) {
    const about = (usual: number, share: number) =>
      usual * Math.exp(share * Math.max(-2, Math.min(2, random.normal())));
    const usual: Record<string, number> = {
      fuse: 0.007,
      relay: 0.014,
      'cutoff-switch': 0.014,
      module: 0.03,
      'junction-box': 0.02,
    };
    this.own = {
      emf: 12.6 + 0.08 * random.normal() - (fault.emfLow ?? 0),
      innerOhm: about(0.009, 0.15) + (fault.innerOhm ?? 0),
      alternatorV: 14.15 + 0.15 * random.normal(),
      ohms: profile.stations.map(({ kind, ohm, wire }) =>
        about(ohm ?? (wire ? (0.0186 * wire.lengthM) / wire.areaMm2 : (usual[kind] ?? 0.005)), 0.25),
      ),
      winding: about(profile.pump.windingOhm, 0.07),
      induced: about(profile.pump.volts - profile.pump.amperes * profile.pump.windingOhm, 0.04),
      draw: about(profile.pump.amperes, 0.05),
      held: about(1, 0.03),
      filter: about(0.04, 0.3),
      jet: about(0.22, 0.2),
      slowDuty: 0.6 + 0.25 * random.uniform(),
      flowM3: about(165e-3 / 3600, 0.15),
      holdShare: about(0.02, 0.5),
    };
  }

  fuseBefore(short: string): string | undefined {
    const { stations } = this.profile;
    const place = stations.findIndex(({ id }) => id === short);
    return [...stations.slice(0, place)].reverse().find(({ kind }) => kind === 'fuse' || kind === 'fusible-link')?.id;
  }

  moment(state: KeyState, help: Help = {}): Moment {
    const key = `${state}/${JSON.stringify(help)}`;
    const known = this.moments.get(key);
    if (known) return known;
    const fresh = this.work(state, help);
    this.moments.set(key, fresh);
    return fresh;
  }

  /** Resistances of the moment, the relay's position in them. */
  private ohmsAt(state: KeyState, batteryV: number, help: Help): number[] {
    const { fault, profile } = this;
    const { stations } = profile;
    const relay = stations.findIndex(({ kind }) => kind === 'relay' || kind === 'junction-box');
    const wanted = WORKING.includes(state) && !(state === 'prime' && profile.crankOnly);
    const moduleFed = stations.some(({ kind }) => kind === 'module');
    const pulled =
      wanted && !fault.coil && (!fault.unwilling || moduleFed || help.commanded) && batteryV >= COIL_PULLS_V;
    const blown = fault.short === undefined ? undefined : this.fuseBefore(fault.short);
    return this.own.ohms.map((sound, i) => {
      const { id, bypass } = stations[i];
      if (help.bridged === i) return 0.02;
      let ohm = sound + (fault.at === id ? (fault.ohm ?? 0) : 0);
      if (blown === id) ohm = OPEN;
      if (i === relay && !pulled) ohm = OPEN;
      return bypass && (state === 'idle' || state === 'loaded') ? 1 / (1 / ohm + 1 / bypass.ohm) : ohm;
    });
  }

  private work(state: KeyState, help: Help): Moment {
    const { fault, profile, own } = this;
    const running = state === 'idle' || state === 'loaded';
    const emf = running ? own.alternatorV : own.emf + (state === 'after-off' ? 0.1 : 0);
    const outside = state === 'cranking' ? STARTER_A : WORKING.includes(state) ? 8 : 0;
    const batteryV = emf - (running ? 0.004 : own.innerOhm) * outside;
    const ohms = help.direct ? own.ohms.map(() => 0.01) : this.ohmsAt(state, batteryV, help);
    const moduleAt = profile.stations.findIndex(({ kind }) => kind === 'module');
    const pinched = help.pinched === true;
    const still = { batteryV, ampere: 0, speed: 0, pressure: 0, before: 0 };
    const asked = WORKING.includes(state) && !(state === 'prime' && profile.crankOnly);
    if (moduleAt < 0 || help.direct) {
      const settled = this.settle(ohms, batteryV, 1, state, pinched);
      return {
        ...still,
        ...settled,
        wish: 1,
        pin: 1,
        duty: 1,
        moduleLives: false,
        asked,
        lift: this.lift(settled.volts),
      };
    }
    const supply = this.circuit(ohms, batteryV, 0, 'open')[moduleAt - 1];
    const moduleLives = asked && supply > 5.5 && !fault.moduleGround && fault.modulePass !== 0;
    const past = help.pastModule === true;
    const through = (wish: number) => {
      const pin = wish * (fault.commandArrives ?? 1);
      const duty = past ? 1 : moduleLives ? pin * (fault.modulePass ?? 1) : 0;
      return {
        wish,
        pin,
        duty,
        ...this.settle(past ? ohms.map((o, i) => (i === moduleAt ? 0.02 : o)) : ohms, batteryV, duty, state, pinched),
      };
    };
    const wished = (): number => {
      if (profile.control === 'two-speed' || profile.control === 'stepped') return state === 'idle' ? own.slowDuty : 1;
      const target = own.held / (fault.sensor ?? 1);
      let [low, high] = [0.05, 1];
      if (through(1).pressure < target) return 1;
      for (let i = 0; i < 16; i++) {
        const middle = (low + high) / 2;
        if (through(middle).pressure >= target) high = middle;
        else low = middle;
      }
      return high;
    };
    const willing = asked && (!fault.unwilling || help.commanded);
    const worked = through(willing ? wished() : 0);
    return { ...still, ...worked, moduleLives, asked, lift: this.lift(worked.volts) };
  }

  /** A second pump draws by its own rating as long as its station has volts. */
  private lift(volts: readonly number[]): number {
    const at = this.profile.stations.findIndex(({ secondPump }) => secondPump);
    if (at < 0 || this.fault.lift === 'open' || volts[at] < 5) return 0;
    return ((this.profile.stations[at].sharedA ?? 0) * volts[at]) / 12;
  }

  /** Speed at which the torques balance, by halving. */
  private settle(ohms: readonly number[], batteryV: number, duty: number, state: KeyState, pinched: boolean) {
    const { fault, own } = this;
    const live = 1 - (fault.shortedShare ?? 0);
    const winding = own.winding * live + (fault.brushOhm ?? 0) + 0.1 * (fault.burntBars ?? 0);
    const induced = own.induced * live;
    const hydraulics = (speed: number) => this.hydraulics(speed, state, pinched);
    const torque = (speed: number) => {
      const { before } = hydraulics(speed);
      const churned = fault.empty || fault.lift ? 0.1 : 0.3;
      return (
        0.15 + churned * speed * speed + 0.55 * before + (fault.rub ?? 0) + 0.9 * (fault.shortedShare ?? 0) * speed
      );
    };
    const pass = (speed: number) => {
      const ampere = this.ampere(ohms, batteryV, duty, winding, induced * speed);
      return (ampere * live) / own.draw - torque(speed);
    };
    let [low, high] = [0, 2.5];
    if (duty <= 0 || fault.rub === Infinity || pass(0) < 0) high = 0;
    for (let i = 0; i < 26 && high > 0; i++) {
      const middle = (low + high) / 2;
      if (pass(middle) > 0) low = middle;
      else high = middle;
    }
    const ampere = duty > 0 ? this.ampere(ohms, batteryV, duty, winding, induced * low) : 0;
    const closed = this.circuit(ohms, batteryV, ampere, duty > 0 ? 'closed' : 'open', winding);
    const open = this.circuit(ohms, batteryV, ampere, 'open', winding);
    const volts = closed.map((v, i) => duty * v + (1 - duty) * open[i]);
    return { volts, ampere, speed: low, ...hydraulics(low) };
  }

  /** What an idling engine's manifold takes off, where the profile names such a regulator or its windows say so. */
  private vacuum(state: KeyState): number {
    const { regulator, pressureWindows, pump } = this.profile;
    const middle = (window: { minPa: number; maxPa: number } | undefined) =>
      window ? (window.minPa + window.maxPa) / 2 / pump.pressurePa : undefined;
    const [still, idle] = [middle(pressureWindows.prime), middle(pressureWindows.idle)];
    if (state !== 'idle') return 0;
    if (regulator === 'rail-vacuum') return 55e3 / pump.pressurePa;
    return regulator === undefined && still && idle ? Math.max(0, still - idle) : 0;
  }

  /** Head falls with the square of the flow; a filter and a hole take theirs; the regulator lets go what is above its pressure. */
  private hydraulics(speed: number, state: KeyState, pinched: boolean): { pressure: number; before: number } {
    const { fault, own, profile } = this;
    if (fault.empty || fault.lift || speed <= 0) return { pressure: 0, before: 0 };
    const closedLoop = profile.control === 'module-commanded' || profile.control === 'module-self';
    const set = pinched ? RELIEF : closedLoop ? 1.8 : own.held * (fault.regulator ?? 1) - this.vacuum(state);
    const demand = own.jet + (state === 'loaded' ? 0.35 : 0);
    const filter = own.filter + (fault.clog ?? 0);
    const headAt = (flow: number) => 2.6 * speed * speed - 1.6 * flow * flow - (fault.wear ?? 0);
    // Flow out of the pump for a rail pressure: demand, hole, and whatever the regulator returns.
    let [low, high] = [0, set];
    const surplus = (rail: number) => {
      const flow = demand + (fault.hole ?? 0) * Math.sqrt(rail);
      return headAt(flow) - filter * flow * flow - rail;
    };
    if (surplus(0) <= 0) return { pressure: 0, before: Math.max(0, headAt(demand)) };
    if (surplus(set) >= 0) {
      // The regulator takes flow until the head is used up.
      const flow = Math.sqrt(Math.max(0, (2.6 * speed * speed - (fault.wear ?? 0) - set) / (1.6 + filter)));
      return { pressure: set, before: set + filter * (closedLoop ? demand * demand : flow * flow) };
    }
    for (let i = 0; i < 22; i++) {
      const middle = (low + high) / 2;
      if (surplus(middle) > 0) low = middle;
      else high = middle;
    }
    const flow = demand + (fault.hole ?? 0) * Math.sqrt(low);
    return { pressure: low, before: low + filter * flow * flow };
  }

  /** Mean current: the motor's inductance holds it through both halves of a period, so that its mean voltage is I R + E. */
  private ampere(ohms: readonly number[], batteryV: number, duty: number, winding: number, backV: number): number {
    const pumpAt = this.profile.stations.findIndex(({ kind }) => kind === 'pump');
    // Linear in the current: two trials give the line.
    const mean = (ampere: number) => {
      const closed = this.circuit(ohms, batteryV, ampere, 'closed');
      const open = duty < 1 ? this.circuit(ohms, batteryV, ampere, 'open') : closed;
      const across = (v: readonly number[]) => v[pumpAt] - v[pumpAt + 1];
      return duty * across(closed) + (1 - duty) * across(open) - ampere * winding - backV;
    };
    const [a, b] = [mean(0), mean(1)];
    const drawn = a / (a - b);
    // Less than a milliampere is an open circuit with a meter across it.
    return drawn > 1e-3 ? drawn : 0;
  }

  /** Node voltages with the pump as a source of current; a module's switch closed, or open with its diode carrying the motor. */
  private circuit(
    ohms: readonly number[],
    batteryV: number,
    ampere: number,
    module: 'closed' | 'open',
    winding = 1,
  ): number[] {
    const { stations } = this.profile;
    const count = stations.length;
    const pumpAt = stations.findIndex(({ kind }) => kind === 'pump');
    const moduleAt = stations.findIndex(({ kind }) => kind === 'module');
    const matrix = Matrix.zeros(count, count);
    const right = Matrix.zeros(count, 1);
    const put = (row: number, column: number, value: number) =>
      matrix.set(row, column, matrix.get(row, column) + value);
    const join = (a: number, b: number, siemens: number) => {
      put(a, a, siemens);
      put(b, b, siemens);
      put(a, b, -siemens);
      put(b, a, -siemens);
    };
    // Node i: pump side of supply station i; node pumpAt: between pump and the first ground station; the last: battery -.
    for (let i = 1; i < count; i++) {
      if (i === pumpAt) continue;
      const [a, b] = i < pumpAt ? [i - 1, i] : [i - 1, i === count - 1 ? count - 1 : i];
      if (i === moduleAt && module === 'open') put(i, i, 1e-7);
      else join(a, b, 1 / Math.max(1e-4, ohms[i]));
      const { sharedA, secondPump } = stations[i];
      if (sharedA && i < pumpAt && !(secondPump && this.fault.lift === 'open')) put(i, i, sharedA / 12);
    }
    const drawn = Math.max(0, ampere);
    right.set(pumpAt - 1, 0, right.get(pumpAt - 1, 0) - drawn);
    right.set(pumpAt, 0, right.get(pumpAt, 0) + drawn);
    // With nothing drawn the winding still joins both pins.
    if (drawn === 0 && winding < 1e6) join(pumpAt - 1, pumpAt, 1e-3);
    const fix = (node: number, volts: number) => {
      for (let c = 0; c < count; c++) matrix.set(node, c, c === node ? 1 : 0);
      right.set(node, 0, volts);
    };
    for (let i = 1; i < count - 1; i++) put(i, i, 1e-7);
    fix(0, batteryV);
    fix(count - 1, 0);
    if (moduleAt >= 0 && module === 'open' && drawn > 0) fix(moduleAt, -DIODE_V);
    const nodes = solve(matrix, right).to1DArray();
    // Pump: at its feed; ground stations: at their pump side.
    return stations.map((_, i) => (i < pumpAt ? nodes[i] : nodes[i - 1]));
  }
}
