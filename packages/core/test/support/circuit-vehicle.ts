import { NOT_POSSIBLE, type KeyState, type NextTest, type Reading, type SystemProfile } from '../../src/index.js';
import { seededRandom, type Random } from '../../src/signal/random.js';
import type { CircuitFault } from './circuit-fault.js';
import { CircuitPhysics, type Help, type Moment } from './circuit-physics.js';

/**
 * A vehicle with one fault, answering whatever is asked, written from circuit theory and textbook pumps and sharing nothing
 * with the reasoning but the profile. Where it differs on purpose: a battery is an EMF behind its inner resistance that a
 * starter pulls down; a driver module is two circuits, switch closed and switch open, averaged over the period with the
 * motor's current held by its own inductance; a relay has a coil that pulls or doesn't; a pump's head falls with the square
 * of its flow and its torque has a part that rises with the square of its speed; filters lose by the square of the flow,
 * holes leak by the root of the pressure. Assumed, from nobody's measurements: every constant below, each vehicle's own
 * differences, and how often people see, hear or mistake something.
 */
const GAUGED_AT_RAIL: ReadonlySet<string> = new Set(['rail', 'after_filter', 'rail_snap']);

export class CircuitVehicle {
  private readonly random: Random;
  private readonly physics: CircuitPhysics;

  constructor(
    readonly profile: SystemProfile,
    readonly fault: CircuitFault,
    seed: number,
  ) {
    this.random = seededRandom(seed);
    this.physics = new CircuitPhysics(profile, fault, this.random);
  }

  get complaint(): string {
    const { fault } = this;
    const cranking = this.physics.moment('cranking');
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
    const starts = this.physics.moment('cranking').pressure > 0.5 && !fault.missing && !fault.empty;
    if ((state === 'idle' || state === 'loaded') && !starts) return NOT_POSSIBLE;
    const now = this.physics.moment(state);
    const rated = profile.pump.pressurePa;
    switch (kind) {
      case 'voltage':
        if (at === 'module_ground')
          return this.meter(fault.moduleGround && now.volts.length ? now.batteryV - 0.2 : 0.03);
        if (place < 0) return this.besideThePath(at, state, now);
        return this.meter(reference === 'battery+' ? now.batteryV - now.volts[place] : now.volts[place]);
      case 'battery':
        return this.meter(now.batteryV);
      case 'test-light': {
        // 5 W draws half an ampere: what stands behind an open gives it nothing.
        const volts =
          reference === 'battery+' ? (this.groundOpen(place) ? 0 : now.batteryV - now.volts[place]) : now.volts[place];
        return volts > 8.5 ? 'bright' : volts > 3 ? 'dim' : 'off';
      }
      case 'heard':
        return at === 'lift_pump' ? (now.lift > 0 ? 'steady' : 'silent') : this.check('prime_heard');
      case 'actuator':
        return this.turns({ commanded: true });
      case 'fell-first':
        return NOT_POSSIBLE;
      case 'current':
        if (at === 'lift_pump') return Math.max(0, this.noisy(now.lift, 0.05, 0.05));
        return Math.max(0, this.noisy(now.ampere, 0.015, 0.04));
      case 'capture':
        return this.captured(now);
      case 'pressure': {
        if (at === 'lift_line') {
          return Math.max(0, this.noisy(now.lift > 0 && fault.lift !== 'worn' ? 30e3 : 0, 0.1, 1e3));
        }
        const pinched = at === 'dead_head' ? this.physics.moment(state, { pinched: true }).pressure : undefined;
        const share = at === 'before_filter' ? now.before : GAUGED_AT_RAIL.has(at) ? now.pressure : pinched;
        return share === undefined ? NOT_POSSIBLE : Math.max(0, this.noisy(share * rated, 0.008, 1.5e3));
      }
      case 'scan':
        return this.scanned(at, now);
      case 'duty':
        return at === 'command' ? this.inTable(now.pin) : Math.max(0, 100 * now.duty + 0.5 * this.random.normal());
      case 'hold': {
        const share = fault.leak ?? this.physics.own.holdShare;
        const start = Math.max(0.1, this.physics.moment('prime').pressure) * rated;
        const times = [0, 20, 60, 120, 240, 360];
        return {
          points: times.map(
            (s) => [s, Math.max(0, this.noisy(start * Math.exp((-share * s) / 60), 0.003, 300))] as const,
          ),
          blocked: 'none',
        };
      }
      case 'volume': {
        const { speed } = this.physics.moment(this.usualState());
        const passed = fault.empty || fault.lift ? 0 : speed / Math.sqrt(1 + 4 * (fault.clog ?? 0));
        return { volumeM3: Math.max(0, this.noisy(this.physics.own.flowM3 * 15 * passed, 0.06, 0)), durationS: 15 };
      }
      case 'resistance': {
        if (place < 0) return NOT_POSSIBLE;
        const own = this.physics.own.ohms[place] + (fault.at === at ? (fault.ohm ?? 0) : 0);
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
        if (at === 'lift_pump') return fault.lift === 'open' ? 'dead' : 'runs';
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

  /** A coil's pins, the control unit's own feed, the bar of the fuses, the lift pump's plug. */
  private besideThePath(at: string, state: KeyState, now: Moment): Reading['value'] {
    const { fault, profile } = this;
    const asked = now.asked && !fault.unwilling && fault.coil !== 'undriven';
    const fuse = profile.stations.findIndex(({ kind }) => kind === 'fuse');
    switch (at) {
      case 'coil_feed':
        return this.meter(fault.coil === 'unfed' ? 0 : now.batteryV - 0.2);
      case 'coil_ground':
        return this.meter(asked ? 0.1 : fault.coil === 'open' || fault.coil === 'unfed' ? 0 : now.batteryV - 0.2);
      case 'unit_supply':
        return this.meter(now.batteryV - 0.15);
      case 'neighbour_fuse':
        return fuse > 0 ? this.meter(now.volts[fuse - 1]) : NOT_POSSIBLE;
      case 'lift_pump': {
        const splice = profile.stations.findIndex(({ secondPump }) => secondPump);
        return splice < 0 || state === 'off' ? NOT_POSSIBLE : this.meter(now.volts[splice]);
      }
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
        return rated * this.physics.own.held;
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
        (fault.short !== undefined && at === this.physics.fuseBefore(fault.short)))
    )
      return 'burnt';
    if (fault.at === at && !isFuse && this.chance(0.45)) return (fault.ohm ?? 0) > 1e5 ? 'broken' : 'corroded';
    if (fault.short === at && this.chance(0.4)) return 'rubbed';
    return this.chance(0.04) ? 'corroded' : 'clean';
  }

  private check(at: string): string {
    const { fault, profile } = this;
    switch (at) {
      case 'prime_heard': {
        const { speed } = this.physics.moment(this.usualState());
        if (speed < 0.08) return 'silent';
        return this.chance(fault.rub || fault.burntBars ? 0.3 : 0.04) ? 'rough' : 'steady';
      }
      case 'relay_click':
        return fault.coil || fault.unwilling ? 'silent' : 'clicks';
      case 'unit_talks':
        return 'yes';
      case 'pump_replaced':
        return this.chance(0.08) ? 'for-this' : 'never';
      case 'fuel_outside':
        return fault.leak && this.chance(0.15) ? 'wet' : 'none';
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
        return this.physics.moment('cranking').pressure < 0.5 && !fault.missing
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
    return this.physics.moment(this.usualState(), help).speed > 0.12 ? 'runs' : 'dead';
  }
}
