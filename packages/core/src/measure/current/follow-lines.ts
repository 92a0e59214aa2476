import { meanOf, median } from '../../signal/levels.js';
import { hann, type Line } from '../../signal/spectrum.js';
import { toneSum } from '../../signal/tone.js';
import { asItIs } from './current-view.js';
import { POINTS_A_CYCLE, toOrder, type OrderSignal } from './order.js';
import { trackPhase, type PhaseTrack } from './phase-track.js';
import { DEEPEST_HUMP, HIGHEST_HUMP, MOST_CYCLES, type Followed, type Stretch } from './readings.js';
import { likenessOf, type Folded } from './turn-evidence.js';
import { unfolded } from './unfolded.js';

/** Windows that part a line from its neighbours one shaft rate (57 Hz and more) away. */
const COARSE_WINDOW_S = 0.04;
const FINE_WINDOW_S = 0.06;
/** In which a tone is looked for where it is strongest: parts neighbours as the windows above do. */
const STRONGEST_WINDOW_S = 0.08;
/** A line that follows the angle nearly as well as the best does. */
const AS_WELL = 0.9;
/** 3 600 turns a minute: most pumps turn faster. */
const SLOW_TURN_HZ = 60;
/** Of humps: harmonics beyond it are of something that comes seldom in a turn, and that something is no line to follow. */
const HIGHEST_HARMONIC = 4;
/** Multiples of one rate are so near to it, as followed. */
export const SAME_RATE = 0.003;
/** With more samples a cycle what is folded, and what is put between samples, differs by less than bars do. */
const SAMPLES_THAT_SHOW_ALL = 24;

/** Lines of a stretch, followed through it. */
export interface FollowedLines {
  /** In the order in which they were given. */
  readonly followed: readonly Followed[];
  /** The one of them that tells the angle best, by whose angle the current is seen as it was before a slow recorder sampled it. */
  readonly best: Followed;
  /** Peak to peak of the first, as a share of the draw. */
  readonly share: number;
}

/** @param lines of the stretch's spectrum, the strongest first; at least one */
export function followLines(stretch: Stretch, lines: readonly Line[]): FollowedLines {
  const { samples, sampleRateHz, isCut, gaps } = stretch;
  const share = humpShare(trackOf(samples, sampleRateHz, lines[0]), samples);
  const folded = { share: foldedShare(lines, sampleRateHz, isCut || share > DEEPEST_HUMP) };
  const followed = lines.map((line) => follow(stretch, line, folded));
  const best = bestFollowed(followed, share) ?? followed[0];
  const samplesACycle = sampleRateHz / best.lineHz;
  // What was cut or bridged isn't what was sampled.
  if (isCut || gaps || samplesACycle > SAMPLES_THAT_SHOW_ALL) return { followed, best, share };
  const byAngle = unfolded(samples, best.track, samplesACycle);
  const seen = alike(byAngle, best.track, { ...folded, restFrom: samplesACycle / 2 });
  return { followed, best: { ...best, ...seen }, share };
}

/** Peak to peak of a line as a share of the draw. */
function humpShare({ amplitude }: PhaseTrack, samples: Float32Array): number {
  return (2 * median(amplitude)) / Math.abs(meanOf(samples));
}

/**
 * Share of the power that sampling folds back. Humps come to a cusp, so that their harmonics fall as 1/k^2 and their powers
 * as 1/k^4; beyond half of s samples a hump lies the sum of them, (8/3) / s^3 of the first. A current that is cut off jumps:
 * powers fall as 1/k^2, and (12 / pi^2) / s of their sum lies there.
 */
function foldedShare(lines: readonly Line[], sampleRateHz: number, jumps: boolean): number {
  const all = lines.reduce((sum, { power }) => sum + power, 0);
  const folded = (perSample: number) => (jumps ? (12 / Math.PI ** 2) * perSample : (8 / 3) * perSample ** 3);
  return lines.reduce((sum, { power, hz }) => sum + (power / all) * folded(hz / sampleRateHz), 0);
}

function trackOf(samples: Float32Array, sampleRateHz: number, { hz }: Line): PhaseTrack {
  const where = strongestAt(samples, sampleRateHz, hz);
  return trackPhase(asItIs(samples), sampleRateHz, hz, COARSE_WINDOW_S * hz, where);
}

/** Sample about which a tone is strongest: while the speed changes a line is at its frequency for a part of the time only. */
function strongestAt(samples: Float32Array, sampleRateHz: number, hz: number): number {
  const width = Math.min(samples.length, Math.round(STRONGEST_WINDOW_S * sampleRateHz));
  const window = hann(width);
  let [most, at] = [0, 0];
  for (let from = 0; from + width <= samples.length; from += Math.ceil(width / 2)) {
    const { re, im } = toneSum(samples, from, window, hz / sampleRateHz);
    const power = re * re + im * im;
    if (power > most) [most, at] = [power, from + width / 2];
  }
  return at;
}

function follow({ samples, sampleRateHz, gaps }: Stretch, line: Line, folded: Folded): Followed {
  const coarse = trackOf(samples, sampleRateHz, line);
  const long = samples.length / sampleRateHz > 3 * FINE_WINDOW_S;
  const track = long
    ? trackPhase(
        asItIs(samples),
        sampleRateHz,
        line.hz,
        FINE_WINDOW_S * line.hz,
        strongestAt(samples, sampleRateHz, line.hz),
      )
    : coarse;
  const hops = track.at.length;
  const lineHz =
    hops > 2
      ? (sampleRateHz * (track.cycles[hops - 1] - track.cycles[0])) / (track.at[hops - 1] - track.at[0])
      : line.hz;
  return { line, lineHz, track, ...alike((points) => toOrder(samples, track, points), track, folded, gaps) };
}

/** The current by a line's angle, and how it is like itself. */
function alike(
  byAngle: (points: number) => OrderSignal,
  track: PhaseTrack,
  folded: Folded,
  gaps?: Uint8Array,
): Pick<Followed, 'byAngle' | 'order' | 'likeness' | 'top'> {
  const order = byAngle(POINTS_A_CYCLE);
  const likeness = likenessOf(order, folded, gaps && toOrder(gaps, track, POINTS_A_CYCLE).values);
  const top = likeness ? Math.max(...likeness.at.subarray(1)) : 0;
  return { byAngle, order, ...(likeness && { likeness }), top };
}

/**
 * The line that tells the angle best: along a line of the rotor the current comes back to itself, along any other (mains,
 * ignition) it doesn't. Of those that do, the sharpest: strong, and of a high order. But a harmonic of the strongest has that many times
 * as many cycles in a turn: where those of usual turns are more than are compared the strongest, if it is no deeper than humps are.
 */
function bestFollowed(followed: readonly Followed[], share: number): Followed | undefined {
  const told = followed.filter(({ likeness }) => likeness);
  const most = Math.max(...told.map(({ top }) => top));
  const sharpness = ({ line }: Followed) => line.power * line.hz ** 2;
  const fair = told.filter(({ top }) => top >= AS_WELL * most);
  const sharpest = fair.reduce<Followed | undefined>((a, b) => (a && sharpness(a) >= sharpness(b) ? a : b), undefined);
  const [strongest] = followed;
  const areHumps = share < HIGHEST_HUMP && fair.includes(strongest);
  const isShort = sharpest && sharpest.lineHz > MOST_CYCLES * SLOW_TURN_HZ;
  return areHumps && isShort && isHarmonic(sharpest, strongest) ? strongest : sharpest;
}

function isHarmonic({ lineHz }: Followed, of: Followed): boolean {
  const order = Math.round(lineHz / of.lineHz);
  return order > 1 && order <= HIGHEST_HARMONIC && Math.abs(lineHz / of.lineHz / order - 1) < SAME_RATE;
}
