import { deviationAboutLine, median, quantile, robustDeviation } from '../../signal/levels.js';
import { fastNoise } from '../../signal/fast-noise.js';
import { MAINS_HIGHEST_HZ, MAINS_MOST_A } from '../../signal/mains.js';
import { recorderStep } from '../../signal/rounding.js';
import { thin } from '../../signal/thin.js';

/** A level at which the current rests again and again, and what it goes to in between, in the record's own amperes. */
export interface Floor {
  readonly level: number;
  readonly deviation: number;
  /** Direction in which current flows, seen from the floor. */
  readonly sign: 1 | -1;
  /** From the floor to the middle of what flows. */
  readonly draw: number;
}

/** So many samples show a distribution well enough. */
const LOOKED_AT = 32_768;
/** Of the whole swing: what lies this near to its end is on the floor, what lies beyond the second flows. */
const ON_FLOOR = 0.15;
const FLOWS = 0.5;
/** A dead stretch of one bar in eight, or a driver's off time, is a tenth of the record at least. */
const LEAST_SHARE = 0.1;
/** Going down and up again takes hardly any time beside either end; a hump or a notch of any shape spends as much on its way. */
const ON_THE_WAY = 0.35;
/** While it rests the current is as flat as the recorder is quiet, by its own fast noise and its step, but for the mains. */
const FLATNESS = 2;
/** Within a millisecond the mains are a straight line, of this slope at most, A/s. */
const MAINS_SLOPE = 2 * Math.PI * MAINS_HIGHEST_HZ * MAINS_MOST_A;
/** Hum and a drifting zero move the floor from visit to visit, by so much of the swing at most. */
const WANDERS = 0.08;
/** Longer than most humps and short beside the mains; shorter than the second, samples, shows no noise of its own. */
const WINDOW_S = 0.001;
const SHORTEST_WINDOW = 6;
/** A rotor that is dead through more of its turn than this comes to stand. */
const MOST_SHARE = 0.75;
/** Fewer visits may be a start and a stop. */
const FEWEST_VISITS = 6;
/** Visits are counted in no more of the record than this. */
const MOST_SAMPLES = 2_000_000;
/** Of a swing of fewer recorder's steps every shape has flat ends. */
const FEWEST_STEPS = 12;

/**
 * The zero of a record that never shows the pump off: current falls to nothing and stays there, within each turn or each cycle
 * of a driver. No current but none is flat. Which end of the swing it is, if both are flat, isn't decided here.
 * @param step of the recorder, A; what was made of its samples doesn't show it any more
 */
export function findFloors(samples: Float32Array, sampleRateHz: number, step = recorderStep(samples)): Floor[] {
  const few = thin(samples, LOOKED_AT);
  const noise = fastNoise(samples);
  const ends = ([1, -1] as const).flatMap((sign) => {
    const upright = few.map((value) => sign * value);
    const [low, high] = [quantile(upright, 0.02), quantile(upright, 0.98)];
    const swing = high - low;
    if (!(swing > FEWEST_STEPS * step)) return [];
    const foot = upright.filter((value) => value - low < ON_FLOOR * swing);
    const flowing = upright.filter((value) => value - low > FLOWS * swing);
    const between = upright.length - foot.length - flowing.length;
    const share = foot.length / upright.length;
    const lesser = Math.min(foot.length, flowing.length);
    if (share < LEAST_SHARE || share > MOST_SHARE || between > ON_THE_WAY * lesser) return [];
    const windows = windowsOn(samples, sampleRateHz, sign, low + ON_FLOOR * swing, low + FLOWS * swing);
    if (windows.visits < FEWEST_VISITS || median(windows.deviations) > FLATNESS * noise + step) return [];
    const level = median(foot);
    const deviation = robustDeviation(foot, level);
    const wanders = deviation > WANDERS * swing;
    return [{ level: sign * level, deviation, sign, draw: median(flowing) - level, wanders }];
  });
  // A level that wanders is no zero; nor then is what lies opposite.
  return ends.some(({ wanders }) => wanders) ? [] : ends;
}

/** How often the upright current falls from above the one level to below the other, and its deviations in windows while it is there. */
function windowsOn(samples: Float32Array, sampleRateHz: number, sign: number, below: number, above: number) {
  const longest = Math.max(SHORTEST_WINDOW, Math.round(WINDOW_S * sampleRateHz));
  const deviations: number[] = [];
  let visits = 0;
  let from = -1;
  let isUp = false;
  for (let i = 0; i < samples.length && i < MOST_SAMPLES; i++) {
    const value = sign * samples[i];
    const isOn = value < below;
    if (isOn && from < 0) from = i;
    if (isOn && isUp) visits++;
    if (isOn) isUp = false;
    else if (value > above) isUp = true;
    if (from >= 0 && (!isOn || i - from === longest)) {
      if (i - from >= SHORTEST_WINDOW)
        deviations.push(deviationAboutLine(samples, from + 1, i - 1, MAINS_SLOPE / sampleRateHz));
      from = -1;
    }
  }
  return { visits, deviations: deviations.length > 0 ? deviations : [0] };
}
