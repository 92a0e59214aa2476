import type { KeyState } from '../terms/key-states.js';
import { SOUND, type Fault } from '../physics/fault.js';
import { withMoreOhm } from '../physics/network.js';
import type { Parameters, Spread, Wish } from '../physics/parameters.js';
import { solve, UNHELPED, type Help, type Snapshot } from '../physics/solve.js';
import { makeVehicle, usualParameters, type Vehicle } from '../physics/vehicle.js';
import type { SystemProfile } from '../vehicle/profile.js';
import { solveSymmetric } from './cholesky.js';
import type { Severity } from './suspects.js';

/** A fault in one key state: as usual, and with each thing that may differ from the usual moved by one spread. */
export interface World {
  readonly base: Snapshot;
  /** By spread; undefined where the spread is of another key state. Worked out when first asked for: answers need none. */
  readonly shifted: () => readonly (Snapshot | undefined)[];
  /** With the fault one spread larger. */
  readonly larger: () => Snapshot | undefined;
}

/** Something that was asked of the vehicle: where the key stood, how it was helped, what the control unit was seen to want. */
export interface Asked {
  readonly keyState: KeyState;
  readonly help: Help;
  readonly helpName: string;
  readonly wish: Wish | undefined;
}

/** Foretells worlds of one profile and remembers them: they depend on nothing that is read but the control unit's wish. */
export class Worlds {
  readonly vehicle: Vehicle;
  /** By spread: what the profile's own windows say of this kind of vehicle. */
  readonly usual: Float64Array;
  private readonly known = new Map<Fault, Map<string, World>>();
  private readonly sound = new Map<string, Stepped>();

  constructor(profile: SystemProfile) {
    this.vehicle = makeVehicle(profile);
    this.usual = new Float64Array(this.vehicle.spreads.length);
    this.usual = calibrate(this);
  }

  of({ fault, larger }: Pick<Severity, 'fault' | 'larger'>, asked: Asked): World {
    let ofFault = this.known.get(fault);
    if (!ofFault) this.known.set(fault, (ofFault = new Map<string, World>()));
    const key = `${asked.keyState}/${asked.helpName}/${nameOf(asked.wish)}`;
    let world = ofFault.get(key);
    if (!world) {
      if (ofFault.size >= MOST_WORLDS) ofFault.clear();
      ofFault.set(key, (world = this.make(fault, larger, asked)));
    }
    return world;
  }

  private make(fault: Fault, larger: Fault | undefined, { keyState, help, wish }: Asked): World {
    const { vehicle } = this;
    const { parameters, stepped } = this.parameters(keyState, wish);
    const at = (p: Parameters, f: Fault) => solve(vehicle, p, f, keyState, help);
    const base = at(parameters, fault);
    const move = ({ keyState: own, station, turning }: Spread, k: number): Snapshot | undefined => {
      if (own !== undefined && own !== keyState) return undefined;
      if (turning && base.speed === 0 && !base.locked) return undefined;
      if (!station) return at(stepped[k], fault);
      const ohm = parameters.ohm[station.at] * (station.factor - 1);
      return { ...base, volts: withMoreOhm(vehicle.chain, base, station.at, ohm, base.output) };
    };
    let shifted: readonly (Snapshot | undefined)[] | undefined;
    let more: Snapshot | undefined;
    return {
      base,
      shifted: () => (shifted ??= vehicle.spreads.map(move)),
      larger: () => (more ??= larger && at(parameters, larger)),
    };
  }

  /** The sound vehicle's parameters in a key state, and the same with each spread taken one step. */
  private parameters(keyState: KeyState, wish: Wish | undefined): Stepped {
    const key = `${keyState}/${nameOf(wish)}`;
    let known = this.sound.get(key);
    if (!known) {
      const { spreads } = this.vehicle;
      const parameters = spreads.reduce(
        (p, spread, k) => (this.usual[k] === 0 ? p : spread.step(p, this.usual[k])),
        usualParameters(this.vehicle, keyState, wish),
      );
      if (this.sound.size >= MOST_WORLDS) this.sound.clear();
      this.sound.set(key, (known = { parameters, stepped: spreads.map(({ step }) => step(parameters, 1)) }));
    }
    return known;
  }
}

/** A wish as part of a name. */
export function nameOf(wish: Wish | undefined): string {
  return wish ? `${wish.duty}${wish.atPin ? ' at pin' : ''}${wish.holds ? ' held' : ''}` : '';
}

interface Stepped {
  readonly parameters: Parameters;
  readonly stepped: readonly Parameters[];
}

const MOST_WORLDS = 64;

/** What a profile says a sound vehicle shows: the middle of a window, half of which is two spreads. */
export interface Stated {
  readonly keyState: KeyState;
  readonly of: (now: Snapshot) => number;
  readonly value: number;
  readonly sd: number;
}

/** Windows of current and speed, as statements on the sound vehicle. */
export function statedBy({ currentWindows, speedWindows = {}, pump }: SystemProfile): Stated[] {
  const stated: Stated[] = [];
  const add = (keyState: string, of: Stated['of'], least: number, most: number) => {
    const value = (least + most) / 2;
    stated.push({ keyState: keyState as KeyState, of, value, sd: Math.max((most - least) / 4, 0.05 * value) });
  };
  for (const [keyState, window] of Object.entries(currentWindows)) {
    add(keyState, ({ currentA }) => currentA, window.minA, window.maxA);
  }
  for (const [keyState, window] of Object.entries(speedWindows)) {
    add(keyState, ({ speed }) => speed * pump.rpm, window.minRpm, window.maxRpm);
  }
  return stated;
}

/** A window doesn't say at which duty its pump ran: how far that moves the number. */
export function wishSlope({ spreads, closedLoop }: Vehicle, slopes: ArrayLike<number>): number {
  return closedLoop
    ? 0
    : spreads.reduce((sum, { name }, k) => (name.startsWith('wish') ? sum + Math.abs(slopes[k]) : sum), 0);
}

const ROUNDS = 3;

/**
 * Moves the usual vehicle to where its profile's windows say it runs: weighted least squares with every spread's own prior
 * (Gauss-Newton on the sound vehicle). The battery is the moment's, not the kind's, and stays.
 */
function calibrate(worlds: Worlds): Float64Array {
  const { vehicle, usual } = worlds;
  const stated = statedBy(vehicle.profile);
  const count = vehicle.spreads.length;
  if (stated.length === 0) return usual;
  let at = usual;
  for (let round = 0; round < ROUNDS; round++) {
    const matrix = new Float64Array(count * count);
    const right = new Float64Array(count);
    for (let k = 0; k < count; k++) {
      matrix[k * count + k] = 1;
    }
    for (const { keyState, of, value, sd: own } of stated) {
      const move = (p: Parameters) =>
        vehicle.spreads.reduce((q, spread, k) => (at[k] === 0 ? q : spread.step(q, at[k])), p);
      const parameters = move(usualParameters(vehicle, keyState));
      const show = (p: Parameters) => of(solve(vehicle, p, SOUND, keyState, UNHELPED));
      const now = show(parameters);
      const slopes = vehicle.spreads.map((spread) =>
        spread.keyState && spread.keyState !== keyState ? 0 : show(spread.step(parameters, 1)) - now,
      );
      const slope = slopes.map((own, k) => (vehicle.spreads[k].keyState ? 0 : own));
      const sd = Math.hypot(own, wishSlope(vehicle, slopes));
      const off = value - now + slope.reduce((sum, s, k) => sum + s * at[k], 0);
      for (let i = 0; i < count; i++) {
        right[i] += (slope[i] * off) / (sd * sd);
        for (let j = 0; j < count; j++) matrix[i * count + j] += (slope[i] * slope[j]) / (sd * sd);
      }
    }
    at = solveSymmetric(matrix, right, count).solution;
  }
  return at;
}
