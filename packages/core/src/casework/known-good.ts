import type { RampResult } from '../measure/current/types.js';
import { CHURNING, FRICTION } from '../physics/parameters.js';
import { median, robustDeviation } from '../signal/levels.js';
import type { SweepStep } from '../measure/pulses/sweep-record.js';
import type { KeyState } from '../terms/key-states.js';
import type { PumpRating } from '../vehicle/profile.js';
import type { CaseLadder } from './case-ladder.js';
import type { CaseEvidence } from './from-case.js';

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
  /** The duty sweep that was taken of it; absent where there was none. */
  readonly sweep?: readonly SweepStep[];
}

/** What was read beside a pump in a key state: loaded volts between its own pins, and the pressure at the rail. */
export function readBeside(
  { entries }: Pick<CaseEvidence, 'entries'>,
  ladders: readonly CaseLadder[],
  keyState: KeyState,
): Pick<KnownGood, 'pumpV' | 'pressurePa'> {
  const rail = entries.findLast((one) => one.kind === 'pressure' && one.at === 'rail' && one.keyState === keyState);
  return {
    ...pumpVolts(ladders, keyState),
    ...(typeof rail?.value === 'number' && { pressurePa: rail.value }),
  };
}

function pumpVolts(ladders: readonly CaseLadder[], keyState: KeyState): Pick<KnownGood, 'pumpV'> {
  const ladder = ladders.find((one) => one.keyState === keyState);
  const pumpAt = ladder?.rungs.findIndex(({ side }) => side === 'pump') ?? -1;
  const [feed, ground] = [ladder?.rungs[pumpAt]?.volts, ladder?.rungs[pumpAt + 1]?.volts];
  return feed === undefined || ground === undefined ? {} : { pumpV: feed - ground };
}

/** What is taken of a capture for the shelf; undefined where it shows no steady draw, or several. */
export function knownGoodOf(
  { steady, rpm, humps, stepped }: RampResult,
  keyState: KeyState,
  more: Pick<KnownGood, 'pumpV' | 'pressurePa' | 'temperatureC' | 'sweep'>,
): KnownGood | undefined {
  if (!steady || stepped) return undefined;
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
  /** Told where the known-goods were brought to this pump's volts and pressure, or couldn't be. */
  readonly note?: string;
}

/** Between sound pumps of one kind (common practice, no published source): draw and speed differ by so much, ripple by so many per cent points. */
export const USUAL = { draw: 0.15, speed: 0.08, ripple: 8 } as const;
/** Of the known-goods' own spread, where there are enough to have one. */
const SPREADS = 3;
const ENOUGH_FOR_SPREAD = 4;

/**
 * Holds a capture against the known-goods of its kind in the same key state, each brought to this pump's volts and pressure
 * as far as both were read.
 * @param pump its rating; undefined where its system isn't known
 */
export function holdAgainst(one: KnownGood, goods: readonly KnownGood[], pump: PumpRating | undefined): HeldAgainst[] {
  const alike = goods.filter(({ keyState }) => keyState === one.keyState);
  if (alike.length === 0) return [];
  const ripples = alike.map(({ ripplePercent }) => ripplePercent);
  return [
    draw(one, alike, pump),
    compared('Ripple', '%', one.ripplePercent, ripples, USUAL.ripple),
    ...speed(one, alike, pump),
  ];
}

function draw(one: KnownGood, alike: readonly KnownGood[], pump: PumpRating | undefined): HeldAgainst {
  const brought = alike.map((good) => good.meanA * broughtTo(one, good, pump));
  const by = [
    alike.some((good) => emfOf(good, pump) !== undefined) && emfOf(one, pump) !== undefined && 'volts',
    alike.some((good) => good.pressurePa !== undefined) && one.pressurePa !== undefined && 'pressure',
  ].filter((name) => name !== false);
  const note = pump && by.length > 0 && `brought to this pump’s ${by.join(' and ')}`;
  return { ...compared('Mean draw', 'A', one.meanA, brought, USUAL.draw * one.meanA), ...(note && { note }) };
}

function speed(one: KnownGood, alike: readonly KnownGood[], pump: PumpRating | undefined): HeldAgainst[] {
  const { rpm } = one;
  if (rpm === undefined) return [];
  const mine = emfOf(one, pump);
  const brought = alike.flatMap((good) => {
    const theirs = emfOf(good, pump);
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

/** How much more a known-good would draw under this pump's volts and pressure than it did under its own. */
export function broughtTo(one: Conditions, good: KnownGood, pump: PumpRating | undefined): number {
  // Its own amperes fall over the winding, not this pump's.
  return loadShare({ ...one, meanA: good.meanA }, good, pump);
}

/**
 * How much more a pump draws under one's volts and pressure than under the other's; what either of them lacks is left out of
 * it. Torque goes with current, and is plain friction, what churns with the speed, and what lifts the pressure, as in
 * `physics/pump.ts`.
 */
export function loadShare(under: Conditions, than: Conditions, pump: PumpRating | undefined): number {
  if (!pump) return 1;
  const [emf, otherEmf] = [emfOf(under, pump), emfOf(than, pump)];
  const turned = emf !== undefined && otherEmf !== undefined;
  const lifted = under.pressurePa !== undefined && than.pressurePa !== undefined;
  const ratedEmf = pump.volts - pump.amperes * pump.windingOhm;
  const torque = (emfV: number | undefined, pressurePa: number | undefined) =>
    FRICTION +
    CHURNING * (turned && emfV !== undefined ? emfV / ratedEmf : 1) +
    (1 - FRICTION - CHURNING) * (lifted && pressurePa !== undefined ? pressurePa / pump.pressurePa : 1);
  return torque(emf, under.pressurePa) / torque(otherEmf, than.pressurePa);
}

/** What a pump ran under. */
export type Conditions = Pick<KnownGood, 'pumpV' | 'meanA' | 'pressurePa'>;

/** V that turn the rotor (back-EMF of a permanent-magnet motor: n ∝ V − I R). */
export function emfOf({ pumpV, meanA }: Conditions, pump: PumpRating | undefined): number | undefined {
  const emf = pumpV === undefined ? undefined : pumpV - meanA * (pump?.windingOhm ?? 0);
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
