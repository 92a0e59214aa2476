import { Matrix, solve } from 'ml-matrix';
import {
  NOT_POSSIBLE,
  type Family,
  type KeyState,
  type NextTest,
  type Reading,
  type SystemProfile,
} from '../../src/index.js';
import { seededRandom, type Random } from '../../src/simulate/random.js';

/**
 * A vehicle with one fault, answering whatever is asked, written from circuit theory and textbook pumps and sharing nothing
 * with the reasoning but the profile. Where it differs on purpose: a battery is an EMF behind its inner resistance that a
 * starter pulls down; a driver module is two circuits, switch closed and switch open, averaged over the period with the
 * motor's current held by its own inductance; a relay has a coil that pulls or doesn't; a pump's head falls with the square
 * of its flow and its torque has a part that rises with the square of its speed; filters lose by the square of the flow,
 * holes leak by the root of the pressure. Assumed, from nobody's measurements: every constant below, each vehicle's own
 * differences, and how often people see, hear or mistake something.
 */
export interface CircuitFault {
  readonly family: Family;
  /** Families that come to the same repair. */
  readonly alike: readonly Family[];
  readonly at?: string;
  readonly ohm?: number;
  readonly short?: string;
  readonly coil?: 'open' | 'unfed' | 'undriven';
  readonly emfLow?: number;
  readonly innerOhm?: number;
  readonly brushOhm?: number;
  readonly burntBars?: number;
  readonly shortedShare?: number;
  readonly rub?: number;
  readonly wear?: number;
  readonly clog?: number;
  readonly hole?: number;
  readonly regulator?: number;
  readonly leak?: number;
  readonly empty?: boolean;
  readonly sensor?: number;
  readonly missing?: 'spark' | 'injection' | 'immobiliser';
  readonly modulePass?: number;
  readonly moduleGround?: boolean;
  readonly commandArrives?: number;
}

interface Help {
  readonly bridged?: number;
  readonly pastModule?: boolean;
  readonly direct?: boolean;
}

interface Moment {
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
}

const OPEN = 1e8;
const STARTER_A = 160;
const DIODE_V = 0.75;
const COIL_PULLS_V = 6.8;
const WORKING: readonly KeyState[] = ['prime', 'cranking', 'idle', 'loaded'];

export class CircuitVehicle {
  private readonly random: Random;
  private readonly own: {
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
    seed: number,
  ) {
    const random = (this.random = seededRandom(seed));
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

  get complaint(): string {
    const { fault } = this;
    const cranking = this.moment('cranking');
    if (fault.family === 'healthy') return '';
    if (fault.missing || fault.empty || cranking.batteryV < 7 || cranking.pressure < 0.5) return 'no-start';
    if (fault.leak) return 'long crank';
    if ((fault.sensor ?? 1) < 1) return 'rich, black smoke';
    return 'hesitates under load';
  }

  /** What the technician writes down. */
  answer(id: string, { reading: { kind, at, state, reference } }: Pick<NextTest, 'reading'>): Reading {
    const base = { id, kind, at, keyState: state, faultPresent: true, ...(reference && { reference }) };
    return { ...base, value: this.value(kind, at, state, reference) };
  }

  private chance(share: number): boolean {
    return this.random.uniform() < share;
  }

  private noisy(value: number, share: number, floor: number): number {
    return value * (1 + share * this.random.normal()) + floor * this.random.normal();
  }

  private value(kind: Reading['kind'], at: string, state: KeyState, reference: string | undefined): Reading['value'] {
    const { fault, profile } = this;
    const { stations } = profile;
    const place = stations.findIndex(({ id }) => id === at);
    const starts = this.moment('cranking').pressure > 0.5 && !fault.missing && !fault.empty;
    if ((state === 'idle' || state === 'loaded') && !starts) return NOT_POSSIBLE;
    const now = this.moment(state);
    const rated = profile.pump.pressurePa;
    switch (kind) {
      case 'voltage':
        if (at === 'module_ground')
          return this.meter(fault.moduleGround && now.volts.length ? now.batteryV - 0.2 : 0.03);
        if (place < 0) return NOT_POSSIBLE;
        return this.meter(reference === 'battery+' ? now.batteryV - now.volts[place] : now.volts[place]);
      case 'battery':
        return this.meter(now.batteryV);
      case 'test-light': {
        // 5 W draws half an ampere: what stands behind an open gives it nothing.
        const volts =
          reference === 'battery+' ? (this.groundOpen(place) ? 0 : now.batteryV - now.volts[place]) : now.volts[place];
        return volts > 8.5 ? 'bright' : volts > 3 ? 'dim' : 'off';
      }
      case 'current':
        return Math.max(0, this.noisy(now.ampere, 0.015, 0.04));
      case 'capture':
        return this.captured(now);
      case 'pressure': {
        const share = at === 'before_filter' ? now.before : at === 'rail' ? now.pressure : undefined;
        return share === undefined ? NOT_POSSIBLE : Math.max(0, this.noisy(share * rated, 0.008, 1.5e3));
      }
      case 'scan':
        return this.scanned(at, now);
      case 'duty':
        return at === 'command' ? this.inTable(now.pin) : Math.max(0, 100 * now.duty + 0.5 * this.random.normal());
      case 'hold': {
        const share = fault.leak ?? this.own.holdShare;
        const start = Math.max(0.1, this.moment('prime').pressure) * rated;
        const times = [0, 20, 60, 120, 240, 360];
        return {
          points: times.map(
            (s) => [s, Math.max(0, this.noisy(start * Math.exp((-share * s) / 60), 0.003, 300))] as const,
          ),
          blocked: 'none',
        };
      }
      case 'volume': {
        const { speed } = this.moment(this.usualState());
        const passed = fault.empty ? 0 : speed / Math.sqrt(1 + 4 * (fault.clog ?? 0));
        return { volumeM3: Math.max(0, this.noisy(this.own.flowM3 * 15 * passed, 0.06, 0)), durationS: 15 };
      }
      case 'resistance': {
        if (place < 0) return NOT_POSSIBLE;
        const own = this.own.ohms[place] + (fault.at === at ? (fault.ohm ?? 0) : 0);
        if (fault.at === at && own > 0.4 && own < 1e5 && this.chance(0.4)) return 'wandering';
        return own > 1e6 ? 5e6 : own + 0.12 + 0.08 * this.random.uniform();
      }
      case 'swap':
        return fault.family === 'relay-contact' || fault.coil === 'open' ? 'changed' : 'unchanged';
      case 'bridge':
        return this.turns({ bridged: place });
      case 'module-bypass':
        return this.turns({ pastModule: true });
      case 'direct-feed':
        return this.turns({ direct: true });
      case 'new-fuse':
        return fault.short ? 'blows' : 'holds';
      case 'disturb':
        return fault.at === at && this.chance(0.3) ? 'changed' : 'unchanged';
      case 'visual':
        return this.seen(at);
      case 'check':
        return this.check(at);
      default:
        return NOT_POSSIBLE;
    }
  }

  private groundOpen(place: number): boolean {
    const { stations } = this.profile;
    return stations.some(({ id }, i) => i >= place && id === this.fault.at && (this.fault.ohm ?? 0) > 1e5);
  }

  private captured({ ampere, speed, duty }: Moment): Reading['value'] {
    const { fault, profile } = this;
    if (ampere < 0.1) return { pattern: 'no-current', meanA: 0 };
    if (speed < 0.01) return { pattern: this.chance(0.7) ? 'locked-rotor' : 'irregular', meanA: ampere };
    const burnt = fault.burntBars ?? 0;
    const pattern =
      burnt === 1
        ? 'locked-notch'
        : burnt > 1
          ? 'burnt-bars'
          : fault.brushOhm && this.chance(0.5)
            ? 'brush-bounce'
            : duty < 0.97 && this.chance(0.3)
              ? 'pulsed'
              : 'even';
    const ripplePercent = burnt ? 30 + 40 * this.random.uniform() : 6 + 12 * this.random.uniform();
    const rpm = this.noisy(speed * profile.pump.rpm, 0.004, 5);
    return {
      meanA: this.noisy(ampere, 0.015, 0.03),
      rpm,
      ripplePercent,
      pattern,
      ...(burnt > 0 && { badBars: burnt }),
    };
  }

  private scanned(at: string, now: Moment): Reading['value'] {
    const { fault, profile } = this;
    const rated = profile.pump.pressurePa;
    const sensed = now.pressure * (fault.sensor ?? 1);
    switch (at) {
      case 'commanded_duty':
        return this.inTable(now.wish);
      case 'actual_pressure':
        return Math.max(0, this.noisy(sensed * rated, 0.01, 1e3));
      case 'desired_pressure':
        return rated * this.own.held;
      case 'long_trim':
        return Math.max(
          -35,
          Math.min(40, 100 * (1 / Math.sqrt(Math.max(0.2, now.pressure)) - 1) + 3 * this.random.normal()),
        );
      case 'feedback_duty': {
        const says = !now.moduleLives
          ? /power|dead/
          : now.pin < 0.02
            ? /command/
            : now.duty > 0 && now.ampere < 0.1
              ? /output/
              : /normal/;
        const row = profile.feedbackTable?.find(({ meaning }) => says.test(meaning));
        return row ? (row.fromPercent + row.toPercent) / 2 : NOT_POSSIBLE;
      }
      default:
        return NOT_POSSIBLE;
    }
  }

  /** A duty as the profile's own table commands it, per cent. */
  private inTable(share: number): number {
    const { commandTable } = this.profile;
    const percent = 100 * share * (1 + 0.01 * this.random.normal());
    if (!commandTable || commandTable.length < 2) return Math.max(0, Math.min(100, percent));
    const next = Math.max(
      1,
      commandTable.findIndex(([, output]) => output >= percent),
    );
    const [[c0, o0], [c1, o1]] = [commandTable[next - 1], commandTable[next]];
    return Math.max(0, Math.min(100, c0 + ((percent - o0) / (o1 - o0)) * (c1 - c0)));
  }

  private seen(at: string): string {
    const { fault, profile } = this;
    const station = profile.stations.find(({ id }) => id === at);
    if (at === 'hose') return fault.hole ? 'broken' : 'clean';
    if (!station) return NOT_POSSIBLE;
    const isFuse = station.kind === 'fuse' || station.kind === 'fusible-link';
    if (
      isFuse &&
      ((fault.at === at && (fault.ohm ?? 0) > 1e5) ||
        (fault.short !== undefined && at === this.fuseBefore(fault.short)))
    )
      return 'burnt';
    if (fault.at === at && !isFuse && this.chance(0.45)) return (fault.ohm ?? 0) > 1e5 ? 'broken' : 'corroded';
    if (fault.short === at && this.chance(0.4)) return 'rubbed';
    return this.chance(0.04) ? 'corroded' : 'clean';
  }

  private fuseBefore(short: string): string | undefined {
    const { stations } = this.profile;
    const place = stations.findIndex(({ id }) => id === short);
    return [...stations.slice(0, place)].reverse().find(({ kind }) => kind === 'fuse' || kind === 'fusible-link')?.id;
  }

  private check(at: string): string {
    const { fault, profile } = this;
    switch (at) {
      case 'prime_heard': {
        const { speed } = this.moment(this.usualState());
        if (speed < 0.08) return 'silent';
        return this.chance(fault.rub || fault.burntBars ? 0.3 : 0.04) ? 'rough' : 'steady';
      }
      case 'tap_test':
        return (fault.burntBars || fault.brushOhm) && this.chance(0.3) ? 'wakes' : 'nothing';
      case 'fuel_in_tank':
        return fault.empty ? 'no' : this.chance(0.1) ? 'gauge' : 'yes';
      case 'fuel_fresh':
        return 'fresh';
      case 'cutoff_button': {
        const own = profile.stations.find(({ kind }) => kind === 'cutoff-switch');
        return !own ? 'none' : fault.at === own.id && (fault.ohm ?? 0) > 1e5 && this.chance(0.5) ? 'tripped' : 'set';
      }
      case 'restraint_event':
        return 'none';
      case 'immobiliser':
        return fault.missing === 'immobiliser' ? 'blocks' : 'clear';
      case 'crank_speed':
        return fault.missing === 'injection' && this.chance(0.3) ? 'zero' : 'seen';
      case 'spark':
        return fault.missing === 'spark' ? 'none' : 'strong';
      case 'injector_pulse':
        return fault.missing === 'injection' || fault.missing === 'immobiliser' ? 'absent' : 'present';
      default:
        return this.moment('cranking').pressure < 0.5 && !fault.missing
          ? 'fires'
          : fault.missing === 'injection'
            ? 'fires'
            : 'nothing';
    }
  }

  private meter(volts: number): number {
    return Math.round(100 * this.noisy(volts, 0.004, 0.012)) / 100;
  }

  private usualState(): KeyState {
    return this.profile.crankOnly ? 'cranking' : 'prime';
  }

  private turns(help: Help): string {
    return this.moment(this.usualState(), help).speed > 0.12 ? 'runs' : 'dead';
  }

  private moment(state: KeyState, help: Help = {}): Moment {
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
    const pulled = wanted && !fault.coil && batteryV >= COIL_PULLS_V;
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
    const still = { batteryV, ampere: 0, speed: 0, pressure: 0, before: 0 };
    const asked = WORKING.includes(state) && !(state === 'prime' && profile.crankOnly);
    if (moduleAt < 0 || help.direct) {
      const settled = this.settle(ohms, batteryV, 1, state);
      return { ...still, ...settled, wish: 1, pin: 1, duty: 1, moduleLives: false };
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
        ...this.settle(past ? ohms.map((o, i) => (i === moduleAt ? 0.02 : o)) : ohms, batteryV, duty, state),
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
    return { ...still, ...through(asked ? wished() : 0), moduleLives };
  }

  /** Speed at which the torques balance, by halving. */
  private settle(ohms: readonly number[], batteryV: number, duty: number, state: KeyState) {
    const { fault, own } = this;
    const live = 1 - (fault.shortedShare ?? 0);
    const winding = own.winding * live + (fault.brushOhm ?? 0) + 0.1 * (fault.burntBars ?? 0);
    const induced = own.induced * live;
    const hydraulics = (speed: number) => this.hydraulics(speed, state);
    const torque = (speed: number) => {
      const { before } = hydraulics(speed);
      const churned = fault.empty ? 0.1 : 0.3;
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

  /** Head falls with the square of the flow; a filter and a hole take theirs; the regulator lets go what is above its pressure. */
  private hydraulics(speed: number, state: KeyState): { pressure: number; before: number } {
    const { fault, own, profile } = this;
    if (fault.empty || speed <= 0) return { pressure: 0, before: 0 };
    const closedLoop = profile.control === 'module-commanded' || profile.control === 'module-self';
    const vacuum = profile.regulator === 'rail-vacuum' && state === 'idle' ? 55e3 / profile.pump.pressurePa : 0;
    const set = closedLoop ? 1.8 : own.held * (fault.regulator ?? 1) - vacuum;
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
      const { sharedA } = stations[i];
      if (sharedA && i < pumpAt) put(i, i, sharedA / 12);
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

/** One fault of a kind that the path can have, bad enough to bring the vehicle in. */
export function drawFault(profile: SystemProfile, seed: number): CircuitFault {
  const random = seededRandom(seed * 31 + 7);
  const between = (low: number, high: number) => low + (high - low) * random.uniform();
  const { stations } = profile;
  const pumpAt = stations.findIndex(({ kind }) => kind === 'pump');
  const faults: (() => CircuitFault)[] = [];
  const PUMP: readonly Family[] = ['pump-electrical', 'pump-mechanical'];
  const one = (family: Family, more: Partial<CircuitFault>, alike: readonly Family[] = [family]): CircuitFault => ({
    family,
    alike,
    ...more,
  });
  const contact = (at: string, family: Family) => () =>
    one(family, { at, ohm: random.uniform() < 0.35 ? OPEN : 10 ** between(-0.5, 1.2) });
  stations.forEach(({ id, kind }, i) => {
    if (kind === 'fuse' || kind === 'fusible-link') faults.push(contact(id, 'fuse'));
    else if (kind === 'relay' || kind === 'junction-box') {
      faults.push(contact(id, 'relay-contact'));
      faults.push(
        () => one('relay-control', { coil: 'undriven' }),
        () => one('relay-control', { coil: 'unfed' }),
      );
      faults.push(() => one('relay-control', { coil: 'open' }, ['relay-control', 'relay-contact']));
    } else if (kind === 'cutoff-switch') faults.push(contact(id, 'cutoff-switch'));
    else if (kind === 'module') {
      faults.push(() => one('module', { modulePass: random.uniform() < 0.4 ? 0 : between(0.2, 0.5) }));
      faults.push(() => one('ground-wiring', { moduleGround: true }));
      faults.push(() => one('module-command', { commandArrives: random.uniform() < 0.5 ? 0 : between(0.2, 0.45) }));
    } else if (kind !== 'battery' && kind !== 'pump')
      faults.push(contact(id, i < pumpAt ? 'feed-wiring' : 'ground-wiring'));
    if (kind === 'wire' && i < pumpAt) faults.push(() => one('feed-wiring', { short: id }));
  });
  faults.push(
    () => one('pump-electrical', { brushOhm: OPEN }, PUMP),
    () => one('pump-electrical', { brushOhm: between(0.8, 4) }, PUMP),
    () => one('pump-electrical', { burntBars: 1 + Math.floor(3 * random.uniform()) }, PUMP),
    () => one('pump-electrical', { shortedShare: between(0.25, 0.5) }, PUMP),
    () => one('pump-mechanical', { rub: between(0.35, 0.8) }, PUMP),
    () => one('pump-mechanical', { rub: Infinity }, PUMP),
    () => one('pump-mechanical', { wear: between(1, 1.6) }, PUMP),
    () => one('hydraulic', { clog: between(1.5, 5) }),
    () => one('hydraulic', { hole: between(0.9, 1.8) }),
    () => one('hydraulic', { leak: between(0.3, 2) }),
    () => one('hydraulic', { empty: true }),
    () => one('supply', { emfLow: between(0.3, 1), innerOhm: between(0.008, 0.02) }),
    () =>
      one('not-fuel', { missing: (['spark', 'injection', 'immobiliser'] as const)[Math.floor(3 * random.uniform())] }),
    () => one('healthy', {}, ['healthy', 'not-fuel', 'measurement-error']),
  );
  const closedLoop = profile.control === 'module-commanded' || profile.control === 'module-self';
  if (!closedLoop) faults.push(() => one('hydraulic', { regulator: between(0.3, 0.7) }));
  if (profile.sensorTable && closedLoop)
    faults.push(() => one('sensor', { sensor: random.uniform() < 0.6 ? between(0.5, 0.8) : between(1.25, 1.6) }));
  return faults[Math.floor(faults.length * random.uniform())]();
}
