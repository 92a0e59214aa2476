import { axesOf, beside, dot, unit } from '../../signal/axes.js';
import { rangesOf, type Range } from '../../signal/ranges.js';

/** Stretches in which a channel swings as an engine's compressions let it. */
export interface Swinging extends Range {
  /** Compressions a second, in its last window. */
  readonly hz: number;
}

/** Of three to eight cylinders that turn 100 to 300 times a minute, each compressed at every second turn (common practice, no published source). */
const SLOWEST_HZ = 4;
const FASTEST_HZ = 20;
/** What is looked at side by side holds two and a half of the slowest swings that it is asked for. */
const SWINGS_A_WINDOW = 2.4;
/** An engine that catches at its third or fourth compression is cranked for less than a window of the slowest. */
export const QUICK_HZ = 7;
const HOP_S = 0.05;
/** What is longer than some minutes is looked through in longer steps, of time and rate: cranks of less than a second may be missed in it. */
const MANY = 4000;
const STRIDE = 4;
/** A quarter of what the window tells apart. */
const STEP_HZ = 0.4;
/** The rest is that no two compressions are alike, that the engine turns unevenly, and noise. */
const EXPLAINED = 0.6;
/** A compression comes by and by: from one value to the next the volts go no further than so much of the swing, as a switch's do. */
const STEP_SHARE = 0.45;
/** Fewer swings one after the other may be anything's. */
const FEWEST_SWINGS = 4;
/** What falters while the engine cranks hides some of its swings, s. */
const JOIN_S = 1.2;

/** What a channel's swings may be. */
export interface Swings {
  /** From lowest to highest, as shares of the window's highest. */
  readonly leastShare: number;
  readonly mostShare: number;
}

/**
 * Where a course swings by one tone of an engine's compressions, beside what drifts by and by.
 * @param course of one channel
 * @param hz values a second
 * @param slowestHz compressions a second at least
 */
export function swingsIn(course: Float32Array, hz: number, swings: Swings, slowestHz = SLOWEST_HZ): Swinging[] {
  const windowS = SWINGS_A_WINDOW / slowestHz;
  const size = Math.round(windowS * hz);
  const hop = Math.max(1, Math.round(HOP_S * hz));
  const count = Math.floor((course.length - size) / hop) + 1;
  if (count < 1) return [];
  const stride = count > MANY ? STRIDE : 1;
  const tones = tonesOf(size, hz, slowestHz, stride > 1 ? 2 * STEP_HZ : STEP_HZ);
  const toneAt = (i: number) => toneIn(course.subarray(i * hop, i * hop + size), tones, swings);
  const found = new Float64Array(count).fill(NaN);
  for (let i = 0; i < count; i += stride) found[i] = toneAt(i);
  // Outwards from each place that shows one, until none does.
  for (let i = 0; i < count; i += stride) {
    if (!(found[i] > 0)) continue;
    for (const way of [1, -1]) {
      for (let near = i + way; near >= 0 && near < count && Number.isNaN(found[near]); near += way) {
        found[near] = toneAt(near);
        if (found[near] === 0 && Math.abs(near - i) >= stride) break;
      }
    }
  }
  const stretches = rangesOf(found, (value) => value > 0).map(({ from, to }) => ({
    from: from * hop,
    to: (to - 1) * hop + size,
    hz: found[to - 1],
  }));
  return joined(stretches, JOIN_S * hz).filter(({ from, to, hz: tone }) => ((to - from) / hz) * tone >= FEWEST_SWINGS);
}

function joined(stretches: readonly Swinging[], gap: number): Swinging[] {
  const out: Swinging[] = [];
  for (const stretch of stretches) {
    const last = out.at(-1);
    if (last && stretch.from - last.to < gap) out[out.length - 1] = { ...stretch, from: last.from };
    else out.push(stretch);
  }
  return out;
}

interface Tone {
  readonly hz: number;
  /** Orthonormal within the window, and to a parabola. */
  readonly axes: readonly [Float64Array, Float64Array];
}

interface Tones {
  readonly windowS: number;
  readonly drift: readonly Float64Array[];
  readonly each: readonly Tone[];
}

/** A parabola's axes, and those of every tone beside it. */
function tonesOf(size: number, hz: number, slowestHz: number, stepHz: number): Tones {
  const at = (value: (x: number) => number) => Float64Array.from({ length: size }, (_, i) => value(i / size - 0.5));
  const drift = axesOf([at(() => 1), at((x) => x), at((x) => x * x)]);
  const each: Tone[] = [];
  for (let tone = slowestHz; tone <= FASTEST_HZ; tone += stepHz) {
    const turn = (2 * Math.PI * tone * size) / hz;
    const cosine = at((x) => Math.cos(turn * x));
    const sine = at((x) => Math.sin(turn * x));
    const along = unit(beside(cosine, drift));
    each.push({ hz: tone, axes: [along, unit(beside(sine, [...drift, along]))] });
  }
  return { windowS: size / hz, drift, each };
}

/** @returns the tone that explains the window, Hz; 0 for none */
function toneIn(window: Float32Array, { windowS, drift, each }: Tones, { leastShare, mostShare }: Swings): number {
  let [low, high] = [Infinity, -Infinity];
  for (const value of window) {
    if (value < low) low = value;
    if (value > high) high = value;
  }
  const least = leastShare * high;
  if (!(high - low > least && high - low < mostShare * high)) return 0;
  const values = new Float64Array(window);
  let left = dot(values, values);
  for (const axis of drift) left -= dot(values, axis) ** 2;
  const powers = each.map(({ axes }) => dot(values, axes[0]) ** 2 + dot(values, axes[1]) ** 2);
  const power = Math.max(...powers);
  const best = powers.indexOf(power);
  // Still rising at an end: the tone lies beyond it.
  if (best === 0 || best === powers.length - 1) return 0;
  // From lowest to highest a tone of this power goes through 2 sqrt(2 power / n).
  const swing = 2 * Math.sqrt((2 * power) / window.length);
  const isTold =
    power > EXPLAINED * left && swing > least && jumps(window, STEP_SHARE * swing) < each[best].hz * windowS;
  return isTold ? each[best].hz : 0;
}

/** How often a value is further than this from the one before. */
function jumps(window: Float32Array, by: number): number {
  let count = 0;
  for (let i = 1; i < window.length; i++) if (Math.abs(window[i] - window[i - 1]) > by) count++;
  return count;
}
