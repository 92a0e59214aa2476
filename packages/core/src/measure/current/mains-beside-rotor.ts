import { axesOf, beside, dot, unit } from '../../signal/axes.js';
import { median } from '../../signal/levels.js';
import { MAINS_HARMONICS, MAINS_HZ, MAINS_MOST_A } from '../../signal/mains.js';

/** A tone, by its amplitudes at the first sample, A. */
export interface Tone {
  readonly hz: number;
  readonly cosine: number;
  readonly sine: number;
}

/** Lines of a turn that are strong enough to be taken for the mains', or the other way round. */
export const OWN_LINES = 8;
/** Grids hold their frequency within this (common practice: UCTE and NERC alarm limits, from memory); so many steps go through it. */
const GRID_SHARE = 0.004;
const STEPS = 4;
/** Of a tone's power: where the rotor's lines explain more than the rest, nothing tells whose it is. */
const LEAST_OWN = 0.2;
/** Tones fitted to noise alone pass this once in a thousand (exponential distribution, over its mean, which is its median over ln 2). */
const PRESENT = 6.9 / Math.LN2;
/** Places beside a tone where nothing of it is left, in widths of the record's resolution. */
const BESIDE = [-7, -5, 5, 7] as const;

/**
 * The mains in a current whose rotor turns at nearly their rate, or a multiple of theirs. Neither stands out of the other in a spectrum;
 * but the rotor's lines go with its angle, which is known, and the mains keep their own time: fitted together they part.
 *
 * @param samples of some turns, A
 * @param turnOf the rotor's angle at a sample, turns
 * @returns empty where there are none, or nothing parts them
 */
export function mainsBesideRotor(samples: Float32Array, sampleRateHz: number, turnOf: (i: number) => number): Tone[] {
  const turns = Float64Array.from(samples, (_, i) => turnOf(i));
  const at = (value: (i: number) => number) => Float64Array.from(turns, (_, i) => value(i));
  const rotor = axesOf([
    at(() => 1),
    at((i) => i / samples.length - 0.5),
    ...Array.from({ length: OWN_LINES }, (_, k) => 2 * Math.PI * (k + 1)).flatMap((line) => [
      at((i) => Math.cos(line * turns[i])),
      at((i) => Math.sin(line * turns[i])),
    ]),
  ]);
  const rest = beside(samples, rotor);
  const toneAt = (hz: number) => partedTone(rest, rotor, hz, sampleRateHz);
  const resolution = sampleRateHz / samples.length;
  const isPresent = ({ hz, power, cosine, sine }: Parted) =>
    Math.hypot(cosine, sine) < MAINS_MOST_A &&
    power > PRESENT * median(BESIDE.map((widths) => toneAt(hz + widths * resolution)?.power ?? 0));
  const candidates = MAINS_HZ.flatMap((mains) =>
    Array.from({ length: 2 * STEPS + 1 }, (_, i) => toneAt(mains * (1 + GRID_SHARE * (i / STEPS - 1)))),
  ).filter((tone) => tone !== undefined);
  if (candidates.length === 0) return [];
  const best = candidates.reduce((a, b) => (b.power > a.power ? b : a));
  if (!isPresent(best)) return [];
  const others = MAINS_HARMONICS.filter((harmonic) => harmonic > 1 && harmonic * best.hz < sampleRateHz / 3)
    .map((harmonic) => toneAt(harmonic * best.hz))
    .filter((tone) => tone !== undefined);
  return [best, ...others.filter(isPresent)];
}

/** A tone fitted beside the rotor's lines. */
interface Parted extends Tone {
  readonly power: number;
}

/** @returns undefined where the rotor explains most of such a tone */
function partedTone(
  rest: Float64Array,
  rotor: readonly Float64Array[],
  hz: number,
  sampleRateHz: number,
): Parted | undefined {
  const turn = (2 * Math.PI * hz) / sampleRateHz;
  const along = beside(
    rest.map((_, i) => Math.cos(turn * i)),
    rotor,
  );
  const across = beside(
    rest.map((_, i) => Math.sin(turn * i)),
    rotor,
  );
  const first = unit(along);
  const second = beside(across, [first]);
  const least = (LEAST_OWN * rest.length) / 2;
  if (dot(along, along) < least || dot(second, second) < least) return undefined;
  const sine = dot(rest, second) / dot(second, second);
  const cosine = (dot(rest, along) - sine * dot(across, along)) / dot(along, along);
  return { hz, cosine, sine, power: dot(rest, first) ** 2 + dot(rest, unit(second)) ** 2 };
}
