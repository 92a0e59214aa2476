import { levels, median } from '../../signal/levels.js';
import { recorderStep } from '../../signal/rounding.js';
import { student95 } from '../../signal/student.js';

/** What the pump's volts lose for each ampere, ohm, with its 95 % interval. */
export interface LoadLine {
  readonly ohm: number;
  readonly interval: readonly [number, number];
}

/** Long enough for some humps, short enough that the battery stays where it is. */
const WINDOW_S = 0.025;
const FEWEST_SAMPLES_A_WINDOW = 40;
const FEWEST_WINDOWS = 4;
const MOST_WINDOWS = 4000;
/** Noise of neighbouring samples may hang together through a probe's bandwidth, of some kilohertz at least. */
const FIRST_LAG_S = 0.00015;
const LAST_LAG_S = 0.0012;
const LAGS = 6;
/**
 * A recorder's step turns what is smaller than itself into anything: the volts have to swing, rms, by this share of it, which
 * is two steps from top to bottom for humps.
 */
const LEAST_STEPS = 0.7;
/**
 * A quantiser passes a sine whose rms is one step with a gain within a tenth of one, and a larger one the better for it (its
 * describing function, (4/πa)·Σ√(1 − ((2i − 1)/2a)²) for a of a steps' amplitude; e.g. Gelb and Vander Velde, 1968, from memory).
 */
const ROUNDS_SHARE = 0.1;
/** Beyond this a resistance isn't told: its interval is half of itself to either side. */
const WIDEST_SHARE = 0.5;
/** No sound path or fault that leaves a pump running loses more, ohm. */
const MOST_OHM = 10;

/**
 * Source resistance from what the current does anyway: V = E − R·I. Both are noisy, so that a plain slope of V on I comes
 * out too small. Noise doesn't know itself a moment later, and humps, starts and stops do: the covariances of V and I with I
 * some lags away are free of it (instrumental variables; e.g. Fuller, Measurement Error Models, 1987, 2.4, from memory). The
 * lags are taken either way, so that inductance, whose voltage goes with the slope of the current, drops out. What the
 * battery and other loads do meanwhile is another slope in single windows; the weighted median doesn't follow it.
 * @param isSound whether the supply is known not to fail by itself in samples [from, to)
 */
export function loadLine(
  volts: Float32Array,
  amperes: Float32Array,
  sampleRateHz: number,
  isSound: (from: number, to: number) => boolean,
): LoadLine | undefined {
  const size = Math.max(FEWEST_SAMPLES_A_WINDOW, Math.round(WINDOW_S * sampleRateHz));
  const room = amperes.length - size;
  const count = Math.min(MOST_WINDOWS, Math.floor((2 * room) / size) + 1);
  const stride = Math.floor(room / Math.max(1, count - 1));
  const lags = lagsFor(sampleRateHz, size);
  const step = recorderStep(volts);
  const leastV = LEAST_STEPS * step;
  const swings: number[] = [];
  const slopes: Slope[] = [];
  for (let w = 0; w < count && room >= 0; w++) {
    const from = w * stride;
    const swing = levels(volts, from, from + size).deviation;
    if (swing < leastV || !isSound(from, from + size)) continue;
    const slope = slopeIn(volts, amperes, from, size, lags);
    if (!slope) continue;
    slopes.push(slope);
    swings.push(swing);
  }
  if (slopes.length < FEWEST_WINDOWS) return undefined;
  // A start or a stop speaks louder than humps, but as one voice among the windows.
  const most = 4 * median(slopes.map(({ weight }) => weight));
  const voices = slopes.map(({ ohm, weight }) => ({ ohm, weight: Math.min(weight, most) }));
  const ohm = weightedMedian(voices);
  const away = weightedMedian(voices.map((one) => ({ ohm: Math.abs(one.ohm - ohm), weight: one.weight })));
  // Deviation of a median: 1.2533 times that of a mean.
  const error = (1.2533 * 1.4826 * away) / Math.sqrt(effective(voices));
  const rounding = (ROUNDS_SHARE * step * ohm) / median(swings);
  const reach = Math.hypot(student95(voices.length - 1) * error, rounding);
  if (!(ohm > 0) || ohm > MOST_OHM || reach > WIDEST_SHARE * ohm) return undefined;
  return { ohm, interval: [ohm - reach, ohm + reach] };
}

interface Slope {
  readonly ohm: number;
  /** How much the window has to say: what its current does that isn't noise, A². */
  readonly weight: number;
}

function lagsFor(sampleRateHz: number, size: number): number[] {
  const first = Math.max(1, Math.round(FIRST_LAG_S * sampleRateHz));
  const step = Math.max(1, Math.round(((LAST_LAG_S - FIRST_LAG_S) / (LAGS - 1)) * sampleRateHz));
  return Array.from({ length: LAGS }, (_, i) => first + i * step).filter((lag) => lag < size / 4);
}

function slopeIn(
  volts: Float32Array,
  amperes: Float32Array,
  from: number,
  size: number,
  lags: readonly number[],
): Slope | undefined {
  const meanV = levels(volts, from, from + size).mean;
  const meanA = levels(amperes, from, from + size).mean;
  let cross = 0;
  let own = 0;
  for (const lag of lags) {
    let va = 0;
    let aa = 0;
    for (let i = from; i < from + size - lag; i++) {
      const [a, later] = [amperes[i] - meanA, amperes[i + lag] - meanA];
      va += a * (volts[i + lag] - meanV) + later * (volts[i] - meanV);
      aa += 2 * a * later;
    }
    // Least squares over the lags: each counts by what the current has in common with itself there.
    cross += va * aa;
    own += aa * aa;
  }
  return own > 0 ? { ohm: -cross / own, weight: Math.sqrt(own) } : undefined;
}

function weightedMedian(values: readonly Slope[]): number {
  const sorted = [...values].sort((a, b) => a.ohm - b.ohm);
  const half = sorted.reduce((sum, { weight }) => sum + weight, 0) / 2;
  let seen = 0;
  return sorted.find(({ weight }) => (seen += weight) >= half)?.ohm ?? NaN;
}

/** How many equal voices weigh as much as these. */
function effective(values: readonly Slope[]): number {
  const sum = values.reduce((total, { weight }) => total + weight, 0);
  const squares = values.reduce((total, { weight }) => total + weight * weight, 0);
  return squares > 0 ? (sum * sum) / squares : 0;
}
