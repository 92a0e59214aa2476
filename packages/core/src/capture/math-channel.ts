import { InputError } from '../errors.js';

/** What can be made of one channel, or of two. */
export const MATH_KINDS = ['difference', 'product', 'ratio', 'low-pass'] as const;
export type MathKind = (typeof MATH_KINDS)[number];

/** A channel that is worked out of others of the same record. Channels by their place in it. */
export interface MathChannel {
  readonly kind: MathKind;
  readonly of: number;
  /** The second one; of everything but a low-pass. */
  readonly with?: number;
  /** Where a low-pass lets 0.707 of a sine through, Hz. */
  readonly cutoffHz?: number;
}

interface Operand {
  readonly name: string;
  readonly unit: string;
}

/** Half the power: what a cut-off lets through. */
const HALF_POWER = Math.SQRT1_2;
/** Of the rate: a running mean over hardly more than three samples holds next to nothing back. */
const HIGHEST_CUTOFF = 0.1;
/** Of the rate: a wider mean would have a window of a trace read far more than it shows. */
const LOWEST_CUTOFF = 3e-7;
/** Of its largest: where the divisor is smaller, nothing flows, and a quotient says how it rustles. */
const LEAST_DIVISOR = 0.05;

/**
 * @throws InputError for a kind without what it needs, channels that the record hasn't, a difference of two units, or a
 * cut-off that the rate can't bear
 */
export function checkMath(
  { kind, of, with: second, cutoffHz }: MathChannel,
  channels: readonly Operand[],
  sampleRateHz: number,
): void {
  if (!channels[of]) throw new InputError('Choose a channel of this record.');
  if (kind === 'low-pass') {
    const [least, most] = [LOWEST_CUTOFF * sampleRateHz, HIGHEST_CUTOFF * sampleRateHz];
    if (!(cutoffHz !== undefined && cutoffHz >= least && cutoffHz <= most)) {
      throw new InputError(
        `At ${sampleRateHz.toFixed(0)} samples a second a low-pass lies between ${short(least)} and ${short(most)} Hz.`,
      );
    }
    return;
  }
  const other = second === undefined ? undefined : channels[second];
  if (!other || second === of) throw new InputError('Choose two different channels of this record.');
  if (kind === 'difference' && other.unit !== channels[of].unit) {
    throw new InputError(
      `“${channels[of].name}” is in ${channels[of].unit} and “${other.name}” in ${other.unit}: only alike units can be subtracted.`,
    );
  }
}

/** What it is called, and its unit: watts and ohms where they are. */
export function mathOperand(
  { kind, of, with: second = 0, cutoffHz }: MathChannel,
  channels: readonly Operand[],
): Operand {
  const [a, b] = [channels[of], channels[second]];
  switch (kind) {
    case 'difference':
      return { name: `${a.name} − ${b.name}`, unit: a.unit };
    case 'product':
      return { name: `${a.name} × ${b.name}`, unit: UNITS[`${a.unit}*${b.unit}`] ?? `${a.unit}·${b.unit}` };
    case 'ratio':
      return { name: `${a.name} ÷ ${b.name}`, unit: UNITS[`${a.unit}/${b.unit}`] ?? quotient(a.unit, b.unit) };
    case 'low-pass':
      return { name: `${a.name}, below ${short(cutoffHz ?? 0)} Hz`, unit: a.unit };
  }
}

function short(hz: number): string {
  return String(Number(hz.toPrecision(3)));
}

const UNITS: Readonly<Record<string, string>> = { 'V*A': 'W', 'A*V': 'W', 'V/A': 'Ω', 'A/V': 'S' };

function quotient(a: string, b: string): string {
  return a === b ? '1' : `${a}/${b}`;
}

/** How many samples to either side of one it takes into account. */
export function mathReach({ kind, cutoffHz }: MathChannel, sampleRateHz: number): number {
  return kind === 'low-pass' ? 2 * Math.ceil(halfWidth(cutoffHz, sampleRateHz)) : 0;
}

/** A part of the operands, with `mathReach` more to either side as far as the record goes. */
export interface MathPart {
  readonly of: Float32Array;
  readonly with?: Float32Array;
  /** Samples of it that lie before those that are asked for. */
  readonly before: number;
  readonly count: number;
  /** The largest magnitude of the second operand in the whole record. */
  readonly mostOfSecond?: number;
}

/**
 * Works a part of a math channel out. A low-pass is a running mean taken twice: it is as much after as before each sample, so
 * that nothing is moved in time, and overshoots nowhere, so that no edge shows what wasn't there. Beyond the record's ends its
 * first and last samples go on.
 * @returns `count` samples; NaN where a quotient would divide by next to nothing
 */
export function mathSamples(channel: MathChannel, sampleRateHz: number, part: MathPart): Float32Array {
  const { of: a, with: b = a, before, count } = part;
  const out = new Float32Array(count);
  switch (channel.kind) {
    case 'difference':
      for (let i = 0; i < count; i++) out[i] = a[before + i] - b[before + i];
      return out;
    case 'product':
      for (let i = 0; i < count; i++) out[i] = a[before + i] * b[before + i];
      return out;
    case 'ratio': {
      const least = LEAST_DIVISOR * (part.mostOfSecond ?? 0);
      for (let i = 0; i < count; i++) {
        const divisor = b[before + i];
        out[i] = Math.abs(divisor) > least ? a[before + i] / divisor : NaN;
      }
      return out;
    }
    case 'low-pass': {
      const half = halfWidth(channel.cutoffHz, sampleRateHz);
      const reach = mathReach(channel, sampleRateHz);
      const padded = new Float64Array(count + 2 * reach);
      for (let i = 0; i < padded.length; i++) {
        padded[i] = a[Math.max(0, Math.min(a.length - 1, before - reach + i))];
      }
      out.set(runningMean(runningMean(padded, half), half));
      return out;
    }
  }
}

/**
 * Half of the running mean's width beside its middle sample, in samples, fractions too. With a mean over w whole samples to
 * either side and a share s of the next ones it lets [D + 2 s cos(2 pi f (w + 1))] / (2 (w + s) + 1) of a sine of f cycles a
 * sample through, D = sin(pi f (2 w + 1)) / sin(pi f) being Dirichlet's kernel. Twice that is half the power at the cut-off;
 * it falls as the mean gets wider, so the width is found by halving.
 */
function halfWidth(cutoffHz = 1, sampleRateHz: number): number {
  const f = cutoffHz / sampleRateHz;
  const passes = (half: number) => {
    const whole = Math.floor(half);
    const kernel = Math.sin(Math.PI * f * (2 * whole + 1)) / Math.sin(Math.PI * f);
    return (kernel + 2 * (half - whole) * Math.cos(2 * Math.PI * f * (whole + 1))) / (2 * half + 1);
  };
  let [narrow, wide] = [0, 0.5 / f];
  for (let i = 0; i < 50; i++) {
    const middle = (narrow + wide) / 2;
    if (passes(middle) ** 2 > HALF_POWER) narrow = middle;
    else wide = middle;
  }
  return narrow;
}

/** Mean over `half` samples to either side; the outermost count by the fraction that lies inside. Shorter by those it needs. */
function runningMean(values: Float64Array, half: number): Float64Array {
  const whole = Math.floor(half);
  const share = half - whole;
  const reach = Math.ceil(half);
  const out = new Float64Array(values.length - 2 * reach);
  let sum = 0;
  for (let i = reach - whole; i <= reach + whole; i++) sum += values[i];
  for (let i = 0; i < out.length; i++) {
    const middle = i + reach;
    const ends = share === 0 ? 0 : share * (values[middle - reach] + values[middle + reach]);
    out[i] = (sum + ends) / (2 * half + 1);
    sum += values[middle + whole + 1] - values[middle - whole];
  }
  return out;
}
