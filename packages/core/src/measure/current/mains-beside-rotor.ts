import { axesOf, beside, dot } from '../../signal/axes.js';
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
  const turns = new Float64Array(samples.length).map((_, i) => turnOf(i));
  const rotor = axesOf([turns.map(() => 1), turns.map((_, i) => i / samples.length - 0.5), ...linesOf(turns)]);
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

/** Cosines and sines of the rotor's lines: each from the one before, as the angles add. */
function linesOf(turns: Float64Array): Float64Array[] {
  const [cosines, sines] = [
    turns.map((turn) => Math.cos(2 * Math.PI * turn)),
    turns.map((turn) => Math.sin(2 * Math.PI * turn)),
  ];
  const lines = [[cosines, sines]];
  for (let k = 1; k < OWN_LINES; k++) {
    const [before, beforeSine] = lines[k - 1];
    lines.push([
      before.map((of, i) => of * cosines[i] - beforeSine[i] * sines[i]),
      before.map((of, i) => of * sines[i] + beforeSine[i] * cosines[i]),
    ]);
  }
  return lines.flat();
}

/** A tone fitted beside the rotor's lines. */
interface Parted extends Tone {
  readonly power: number;
}

/**
 * The least squares of a tone beside the rotor's lines. Beside orthonormal axes these need no more than how much of the tone lies along
 * each of them.
 *
 * @param rest what the rotor's lines leave, so that none of it lies along them
 * @returns undefined where the rotor explains most of such a tone
 */
function partedTone(
  rest: Float64Array,
  rotor: readonly Float64Array[],
  hz: number,
  sampleRateHz: number,
): Parted | undefined {
  const turn = (2 * Math.PI * hz) / sampleRateHz;
  const [cosines, sines] = wavesOf(turn, rest.length);
  const along = rotor.map((axis) => [dot(cosines, axis), dot(sines, axis)] as const);
  const own = (a: 0 | 1, b: 0 | 1) => {
    const waves = [cosines, sines];
    return along.reduce((left, shares) => left - shares[a] * shares[b], dot(waves[a], waves[b]));
  };
  const [first, both, second] = [own(0, 0), own(0, 1), own(1, 1)];
  const across = second - both ** 2 / first;
  const least = (LEAST_OWN * rest.length) / 2;
  if (first < least || across < least) return undefined;
  const alongFirst = dot(rest, cosines);
  const alongSecond = dot(rest, sines) - (both / first) * alongFirst;
  const sine = alongSecond / across;
  const cosine = (alongFirst - sine * both) / first;
  return { hz, cosine, sine, power: alongFirst ** 2 / first + alongSecond ** 2 / across };
}

/** Cosine and sine of so many angles, each a turn (radians) further than the one before; no trigonometry inside. */
function wavesOf(turn: number, count: number): readonly [Float64Array, Float64Array] {
  const [re, im] = [Math.cos(turn), Math.sin(turn)];
  const cosines = new Float64Array(count);
  const sines = new Float64Array(count);
  let cosine = 1;
  let sine = 0;
  for (let i = 0; i < count; i++) {
    cosines[i] = cosine;
    sines[i] = sine;
    const next = cosine * re - sine * im;
    sine = cosine * im + sine * re;
    cosine = next;
  }
  return [cosines, sines];
}
