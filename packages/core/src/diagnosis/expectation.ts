/** What a reading should show if a hypothesis holds: a number with its spread, or one of a few answers. */
export type Expectation = Normal | Options;

export interface Normal {
  readonly mean: number;
  readonly sd: number;
  /** How the number follows the battery: its change per volt there. */
  readonly perBatteryV: number;
  /** Width of all that such a reading can show, for a gross error to be anywhere in. */
  readonly range: number;
}

export interface Options {
  readonly options: Readonly<Record<string, number>>;
}

export function isOptions(expectation: Expectation): expectation is Options {
  return 'options' in expectation;
}

/** Shares of the named answers; what is left goes to `rest`, so that they sum to one. */
export function answers(shares: Readonly<Record<string, number>>, rest: string): Options {
  const sum = Object.values(shares).reduce((total, share) => total + share, 0);
  return { options: { ...shares, [rest]: Math.max(0.005, 1 - sum) } };
}

const LOG_ROOT_2_PI = 0.5 * Math.log(2 * Math.PI);

/**
 * Log likelihood of a value: the expectation, or with probability `gross` anything at all.
 * @param batteryShift volts that the battery is off its usual voltage
 */
export function logLikelihood(
  expectation: Expectation,
  value: number | string,
  gross: number,
  batteryShift: number,
): number {
  if (isOptions(expectation)) {
    const { options } = expectation;
    const count = Object.keys(options).length + 1;
    return Math.log((1 - gross) * (options[String(value)] ?? 0.003) + gross / count);
  }
  const { mean, sd, perBatteryV, range } = expectation;
  const z = (Number(value) - mean - perBatteryV * batteryShift) / sd;
  const density = Math.exp(-0.5 * z * z - LOG_ROOT_2_PI) / sd;
  return Math.log((1 - gross) * density + gross / range);
}
