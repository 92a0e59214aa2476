import { median } from '../signal/levels.js';
import type { KeyState } from '../terms/key-states.js';
import type { SystemProfile } from '../vehicle/profile.js';
import { tolerated, USUAL, type KnownGood } from './known-good.js';

/**
 * A system whose pump is rated by the shop's known-goods of it, before whatever was typed or shipped: they were measured. In
 * the key states that they were taken in they are the windows; windows of other states, and the rating itself, move by the
 * same share, since a pump that draws more in one state does so in the next.
 * @param goods of this system; any number
 * @returns the same profile where there are none, or where a module decides what the pump gets
 */
export function ratedByShelf(profile: SystemProfile, goods: readonly KnownGood[]): SystemProfile {
  if (goods.length === 0 || profile.stations.some(({ kind }) => kind === 'module')) return profile;
  const { currentWindows, speedWindows = {}, pump } = profile;
  const drawn = goods.map(({ keyState, meanA }) => ({ keyState, value: meanA }));
  const turned = goods.flatMap(({ keyState, rpm }) => (rpm === undefined ? [] : [{ keyState, value: rpm }]));
  const amperes = rated(drawn, pump.amperes, USUAL.draw, (state) => middleOf(currentWindows[state], 'minA', 'maxA'));
  const speed = rated(turned, pump.rpm, USUAL.speed, (state) => middleOf(speedWindows[state], 'minRpm', 'maxRpm'));
  const speeds = {
    ...mapped(speedWindows, ({ minRpm, maxRpm }) => ({ minRpm: speed.share * minRpm, maxRpm: speed.share * maxRpm })),
    ...mapped(speed.windows, ([minRpm, maxRpm]) => ({ minRpm, maxRpm })),
  };
  return {
    ...profile,
    pump: { ...pump, amperes: amperes.share * pump.amperes, rpm: speed.share * pump.rpm },
    currentWindows: {
      ...mapped(currentWindows, ({ minA, maxA }) => ({ minA: amperes.share * minA, maxA: amperes.share * maxA })),
      ...mapped(amperes.windows, ([minA, maxA]) => ({ minA, maxA })),
    },
    ...(Object.keys(speeds).length > 0 && { speedWindows: speeds }),
  };
}

type ByState<T> = Partial<Record<KeyState, T>>;

/**
 * One quantity of the known-goods: its window by key state, and how much of the profile's own it is.
 * @param otherwise the profile's rating, where it has no window
 * @param usual by which share sound pumps of one kind differ
 */
function rated(
  read: readonly { readonly keyState: KeyState; readonly value: number }[],
  otherwise: number,
  usual: number,
  windowOf: (state: KeyState) => number | undefined,
): { readonly share: number; readonly windows: ByState<readonly [least: number, most: number]> } {
  const windows: ByState<readonly [number, number]> = {};
  for (const state of new Set(read.map(({ keyState }) => keyState))) {
    const values = read.filter(({ keyState }) => keyState === state).map(({ value }) => value);
    const { middle, tolerance } = tolerated(values, usual * median(values));
    windows[state] = [middle - tolerance, middle + tolerance];
  }
  const shares = read.map(({ keyState, value }) => value / (windowOf(keyState) ?? otherwise));
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
