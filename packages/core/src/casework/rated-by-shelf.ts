import { median } from '../signal/levels.js';
import type { KeyState } from '../terms/key-states.js';
import type { PumpRating, SystemProfile } from '../vehicle/profile.js';
import { emfOf, loadShare, tolerated, USUAL, type KnownGood } from './known-good.js';

/**
 * A system whose pump is rated by the shop's known-goods of it, before whatever was typed or shipped: they were measured. In
 * the key states that they were taken in they are the windows; windows of other states, and the rating itself, move by the
 * same share, since a pump that draws more in one state does so in the next. Behind a module a rating takes the volts that
 * the module gave meanwhile, read at the pump's pins, or a window of the same state.
 * @param goods of this system; any number
 * @returns the same profile where there are none
 */
export function ratedByShelf(profile: SystemProfile, goods: readonly KnownGood[]): SystemProfile {
  if (goods.length === 0) return profile;
  const { currentWindows, speedWindows = {}, pressureWindows, pump, stations } = profile;
  const fed = stations.some(({ kind }) => kind === 'module') ? 'driven' : 'straight';
  const drawn = goods.map((good): Read => {
    const { keyState, meanA } = good;
    const pressurePa = middleOf(pressureWindows[keyState], 'minPa', 'maxPa');
    const brought = meanA * loadShare({ meanA, pressurePa }, { meanA, pressurePa: good.pressurePa }, pump);
    return { keyState, value: brought, rated: ratedDraw(good, pump) };
  });
  const amperes = rated(drawn, pump.amperes, fed, USUAL.draw, (state) =>
    middleOf(currentWindows[state], 'minA', 'maxA'),
  );
  const drawing = { ...pump, amperes: amperes.share * pump.amperes };
  const turned = goods.flatMap((good): Read[] => {
    const { keyState, rpm } = good;
    return rpm === undefined ? [] : [{ keyState, value: rpm, rated: ratedSpeed({ ...good, rpm }, drawing) }];
  });
  const speed = rated(turned, pump.rpm, fed, USUAL.speed, (state) => middleOf(speedWindows[state], 'minRpm', 'maxRpm'));
  const speeds = {
    ...mapped(speedWindows, ({ minRpm, maxRpm }) => ({ minRpm: speed.share * minRpm, maxRpm: speed.share * maxRpm })),
    ...mapped(speed.windows, ([minRpm, maxRpm]) => ({ minRpm, maxRpm })),
  };
  return {
    ...profile,
    pump: { ...drawing, rpm: speed.share * pump.rpm },
    currentWindows: {
      ...mapped(currentWindows, ({ minA, maxA }) => ({ minA: amperes.share * minA, maxA: amperes.share * maxA })),
      ...mapped(amperes.windows, ([minA, maxA]) => ({ minA, maxA })),
    },
    ...(Object.keys(speeds).length > 0 && { speedWindows: speeds }),
  };
}

type ByState<T> = Partial<Record<KeyState, T>>;

/** One quantity of a known-good. */
interface Read {
  readonly keyState: KeyState;
  /** As the system shows it in that state. */
  readonly value: number;
  /** What it comes to under the rating's volts and pressure; undefined where the pump's own volts weren't read. */
  readonly rated: number | undefined;
}

/** Rounds of putting a new draw into the winding's own loss: each leaves a tenth of the error before. */
const ROUNDS = 4;

/** A at the rating's volts and pressure of a pump that was read under others. */
function ratedDraw(good: KnownGood, pump: PumpRating): number | undefined {
  if (emfOf(good, pump) === undefined) return undefined;
  let amperes = pump.amperes;
  for (let round = 0; round < ROUNDS; round++) {
    const under = { pumpV: pump.volts, meanA: amperes, pressurePa: pump.pressurePa };
    amperes = good.meanA * loadShare(under, good, { ...pump, amperes });
  }
  return amperes;
}

/** rpm at the rating's volts: speed goes with the volts that turn the rotor. */
function ratedSpeed(good: KnownGood & { readonly rpm: number }, pump: PumpRating): number | undefined {
  const [emf, usual] = [emfOf(good, pump), emfOf({ pumpV: pump.volts, meanA: pump.amperes }, pump)];
  return emf === undefined || usual === undefined ? undefined : (good.rpm * usual) / emf;
}

/**
 * One quantity of the known-goods: its window by key state, and how much of the profile's own it is.
 * @param otherwise the profile's rating
 * @param fed where a module decides what the pump gets, a value without the volts isn't held against the rating
 * @param usual by which share sound pumps of one kind differ
 */
function rated(
  read: readonly Read[],
  otherwise: number,
  fed: 'straight' | 'driven',
  usual: number,
  windowOf: (state: KeyState) => number | undefined,
): { readonly share: number; readonly windows: ByState<readonly [least: number, most: number]> } {
  const windows: ByState<readonly [number, number]> = {};
  for (const state of new Set(read.map(({ keyState }) => keyState))) {
    const values = read.filter(({ keyState }) => keyState === state).map(({ value }) => value);
    const { middle, tolerance } = tolerated(values, usual * median(values));
    windows[state] = [middle - tolerance, middle + tolerance];
  }
  const shares = read.flatMap(({ keyState, value, rated: brought }) => {
    if (brought !== undefined) return [brought / otherwise];
    const window = windowOf(keyState);
    if (window !== undefined) return [value / window];
    return fed === 'straight' ? [value / otherwise] : [];
  });
  return { share: shares.length > 0 ? median(shares) : 1, windows };
}

function middleOf<L extends string, M extends string>(
  window: Readonly<Record<L | M, number>> | undefined,
  least: L,
  most: M,
): number | undefined {
  return window && (window[least] + window[most]) / 2;
}

function mapped<T, U>(windows: ByState<T>, change: (window: T) => U): ByState<U> {
  return Object.fromEntries(
    Object.entries(windows).flatMap(([state, window]) => (window ? [[state, change(window)]] : [])),
  );
}
