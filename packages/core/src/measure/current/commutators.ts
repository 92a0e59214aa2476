import { LIMITS } from '../../limits/limits.js';

/** Humps per revolution of a two-brush motor: even N gives N, odd N gives 2N, since its brushes change bars by turns. */
export function humpsForBars(bars: number): number {
  return bars % 2 === 0 ? bars : 2 * bars;
}

/** Twelve bars at 11 000 turns a minute, with room: an odd count gives twice as many humps. */
export const FASTEST_HUMPS_HZ = 4300;

/** Bars that a pump motor has, and how many of a hundred have them. Common practice, no published source: most have 8. */
const BARS: readonly (readonly [bars: number, share: number])[] = [
  [5, 1],
  [6, 10],
  [7, 5],
  [8, 52],
  [9, 2],
  [10, 13],
  [11, 2],
  [12, 12],
  [14, 1],
  [16, 1],
  [13, 0.5],
  [18, 0.5],
];

/** Bars of a two-brush motor with that many humps a turn; ten is read as ten bars, not five. */
export function barsForHumps(perRevolution: number): number {
  const shareOf = (bars: number) => BARS.find(([known]) => known === bars)?.[1] ?? 0;
  const odd = perRevolution / 2;
  return odd % 2 === 1 && shareOf(odd) > shareOf(perRevolution) ? odd : perRevolution;
}

/** A count that no motor here has is not impossible. */
const UNKNOWN_COUNT = 1e-4;

/** How common so many humps a turn are, 0..1. An odd number is half a turn of a motor with as many bars. */
export function shareOfHumps(humps: number): number {
  const share = BARS.filter(([bars]) => humpsForBars(bars) === humps).reduce((sum, [, of]) => sum + of, 0);
  return Math.max(UNKNOWN_COUNT, share / 100);
}

/** Whether some motor here has so many bars. */
export function isUsual(bars: number): boolean {
  return BARS.some(([known]) => known === bars);
}

/** What the true count of any motor has for its share, on average. */
const USUAL_SHARE = BARS.reduce((sum, [, share]) => sum + (share / 100) ** 2, 0);

/** The same of a count that may be another; one that tells nothing is as common as counts are. @param certainty 0..1 */
export function shareOfUncertain(humps: number, certainty: number): number {
  return certainty * shareOfHumps(humps) + (1 - certainty) * USUAL_SHARE;
}

/** Whether some motor here has so many humps a turn. */
export function isKnownCount(humps: number): boolean {
  return shareOfHumps(humps) > UNKNOWN_COUNT;
}

/** Middle and spread (natural logarithm) of the speeds of running pumps, starved ones included. */
const MIDDLE_RPM = Math.sqrt(LIMITS.slowestRpm.value * LIMITS.fastestRpm.value);
const SPREAD = 0.4;
/** Outside of this no pump turns while it still works. */
const SLOWEST_RPM = 1300;
const FASTEST_RPM = 1.15 * LIMITS.fastestRpm.value;

/** How common a speed is, beside the commonest; 0 where no pump turns. */
export function shareOfSpeed(rpm: number): number {
  if (!(rpm >= SLOWEST_RPM && rpm <= FASTEST_RPM)) return 0;
  return Math.exp(-0.5 * (Math.log(rpm / MIDDLE_RPM) / SPREAD) ** 2);
}

/** Densities over the logarithm of a speed: that of a pump's where it is commonest. */
const DENSEST = 1 / (SPREAD * Math.sqrt(2 * Math.PI));

/**
 * Whether a line that is as faint as an alternator's is likelier of a rotor than of something else, both being as common. A
 * pump's speed is spread as above; the rate of something else may be any of those that are looked at.
 * @param logBand natural logarithm of the highest rate that is looked at by the lowest
 */
export function isLikelierRotor(rpm: number, logBand: number): boolean {
  return DENSEST * shareOfSpeed(rpm) >= 1 / logBand;
}

/** How common it is that humps pass so often, by all counts and speeds. */
export function shareOfHumpRate(hz: number): number {
  return BARS.reduce((sum, [bars, share]) => sum + (share / 100) * shareOfSpeed((60 * hz) / humpsForBars(bars)), 0);
}
