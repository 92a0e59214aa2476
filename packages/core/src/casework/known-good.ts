import type { CaseLadder } from './case-ladder.js';
import type { KeyState } from '../terms/key-states.js';
import type { RampResult } from '../measure/current/types.js';
import { median, robustDeviation } from '../signal/levels.js';

/** What a good pump drew, how fast it turned, and under what: all that another one of its kind is held against. */
export interface KnownGood {
  readonly keyState: KeyState;
  readonly meanA: number;
  readonly ripplePercent: number;
  /** Absent where its turn wasn't measured: an assumed bar count makes no known-good. */
  readonly rpm?: number;
  /** Between the pump's own pins, loaded, V; absent where nobody read it. */
  readonly pumpV?: number;
  /** At the rail meanwhile, Pa; absent where nobody read it. */
  readonly pressurePa?: number;
  /** Of the fuel or the air, °C; absent where nobody wrote it down. */
  readonly temperatureC?: number;
}

/** Loaded volts between the pump's own pins in a key state; absent where one of them wasn't read. */
export function pumpVolts(ladders: readonly CaseLadder[], keyState: KeyState): Pick<KnownGood, 'pumpV'> {
  const ladder = ladders.find((one) => one.keyState === keyState);
  const pumpAt = ladder?.rungs.findIndex(({ side }) => side === 'pump') ?? -1;
  const [feed, ground] = [ladder?.rungs[pumpAt]?.volts, ladder?.rungs[pumpAt + 1]?.volts];
  return feed === undefined || ground === undefined ? {} : { pumpV: feed - ground };
}

/** What is taken of a capture for the shelf; undefined where it shows no steady draw. */
export function knownGoodOf(
  { steady, rpm, humps }: RampResult,
  keyState: KeyState,
  more: Pick<KnownGood, 'pumpV' | 'pressurePa' | 'temperatureC'>,
): KnownGood | undefined {
  if (!steady) return undefined;
  const measured = rpm !== undefined && humps?.basis !== 'assumed';
  return { keyState, meanA: steady.meanA, ripplePercent: steady.ripplePercent, ...(measured && { rpm }), ...more };
}

/** One quantity of a capture beside the same of the known-goods. */
export interface HeldAgainst {
  readonly name: 'Mean draw' | 'Ripple' | 'Speed';
  readonly unit: 'A' | '%' | 'rpm';
  readonly value: number;
  readonly median: number;
  /** What it may differ by. */
  readonly tolerance: number;
  readonly within: boolean;
  /** Known-goods that it was held against. */
  readonly count: number;
  /** Told where speeds were brought to one voltage, or couldn't be. */
  readonly note?: string;
}

/** Between sound pumps of one kind (common practice, no published source): draw and speed differ by so much, ripple by so many per cent points. */
export const USUAL = { draw: 0.15, speed: 0.08, ripple: 8 } as const;
/** Of the known-goods' own spread, where there are enough to have one. */
const SPREADS = 3;
const ENOUGH_FOR_SPREAD = 4;

/**
 * Holds a capture against the known-goods of its kind in the same key state. Speeds are compared at one voltage only: those of the
 * known-goods are brought to this pump's by n ∝ V − I·R (back-EMF of a permanent-magnet motor).
 * @param windingOhm of the pump, Ω; undefined where its system isn't known
 */
export function holdAgainst(
  one: KnownGood,
  goods: readonly KnownGood[],
  windingOhm: number | undefined,
): HeldAgainst[] {
  const alike = goods.filter(({ keyState }) => keyState === one.keyState);
  if (alike.length === 0) return [];
  return [
    compared(
      'Mean draw',
      'A',
      one.meanA,
      alike.map(({ meanA }) => meanA),
      USUAL.draw * one.meanA,
    ),
    compared(
      'Ripple',
      '%',
      one.ripplePercent,
      alike.map(({ ripplePercent }) => ripplePercent),
      USUAL.ripple,
    ),
    ...speed(one, alike, windingOhm),
  ];
}

function speed(one: KnownGood, alike: readonly KnownGood[], windingOhm: number | undefined): HeldAgainst[] {
  const { rpm } = one;
  if (rpm === undefined) return [];
  const mine = emfOf(one, windingOhm);
  const brought = alike.flatMap((good) => {
    const theirs = emfOf(good, windingOhm);
    return good.rpm === undefined || mine === undefined || theirs === undefined ? [] : [(good.rpm * mine) / theirs];
  });
  if (brought.length > 0) {
    const note = `brought to ${one.pumpV?.toFixed(2)} V at the pump`;
    return [{ ...compared('Speed', 'rpm', rpm, brought, USUAL.speed * rpm), note }];
  }
  const asRead = alike.flatMap((good) => (good.rpm === undefined ? [] : [good.rpm]));
  if (asRead.length === 0) return [];
  const note = 'at whatever voltage each had: the pump’s own volts weren’t read';
  return [{ ...compared('Speed', 'rpm', rpm, asRead, 2 * USUAL.speed * rpm), note }];
}

/** V that turn the rotor. */
function emfOf({ pumpV, meanA }: KnownGood, windingOhm = 0): number | undefined {
  const emf = pumpV === undefined ? undefined : pumpV - meanA * windingOhm;
  return emf !== undefined && emf > 0 ? emf : undefined;
}

/** The middle of what known-goods read, and what another sound one may differ from it by: as usual, or by their own spread. */
export function tolerated(
  goods: readonly number[],
  usual: number,
): { readonly middle: number; readonly tolerance: number } {
  const own = Math.max(SPREADS * robustDeviation(goods), usual / 2);
  return { middle: median(goods), tolerance: goods.length >= ENOUGH_FOR_SPREAD ? own : usual };
}

function compared<N extends HeldAgainst['name'], U extends HeldAgainst['unit']>(
  name: N,
  unit: U,
  value: number,
  goods: readonly number[],
  usual: number,
): HeldAgainst {
  const { middle, tolerance } = tolerated(goods, usual);
  return {
    name,
    unit,
    value,
    median: middle,
    tolerance,
    within: Math.abs(value - middle) <= tolerance,
    count: goods.length,
  };
}
