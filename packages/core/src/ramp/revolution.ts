import { LIMITS } from '../limits/limits.js';
import { meanOf, median } from '../signal/levels.js';
import { findLines, welchSpectrum, type Line } from '../signal/spectrum.js';
import { humpOrder, meanPattern } from './hump-order.js';
import { toOrder, type OrderSignal } from './order.js';
import { trackPhase, type PhaseTrack } from './phase-track.js';
import { findSignature, type Signature } from './signature.js';

export type Basis = 'measured' | 'given' | 'assumed';

/** How the humps make up a revolution. */
export interface Revolution {
  readonly basis: Basis;
  readonly perRevolution: number;
  /** Certainty that the count is right, 0..1; for given and assumed counts that of the hump line itself. */
  readonly confidence: number;
  /** Frequency of the line that was followed, Hz, and how many of its cycles make a turn. */
  readonly lineHz: number;
  readonly linePerRevolution: number;
  /** The line's phase through the stretch that was searched. */
  readonly track: PhaseTrack;
  /** A bar count was given and the pattern contradicts it. */
  readonly contradictsGiven: boolean;
}

/** Why a record shows no revolution, with what to do about it. */
export interface Untold {
  readonly untold: string;
}

/** From one notch in half a turn of a slow pump to the humps of a fast eleven-bar pump, with room either side. */
const LOWEST_LINE_HZ = 110;
const HIGHEST_HUMP_HZ = 4300;
const SEGMENT_S = 0.2;
const SEGMENTS = 16;
const LINES_TRIED = 8;
const LEAST_PROMINENCE = 10;
const SINGLE_SEGMENT = 15;
const SMEAR = 0.03;
/** Two lines of one rotor agree on its speed this well. */
const SAME_SPEED = 0.005;
/** Peak to peak of the hump line as a share of the draw, a third more than is advised for the whole ripple; deeper are notches. */
const HIGHEST_HUMP = 0.2;
/** The humps of a poor pump may be so deep, but then the line alone proves nothing. */
const DEEPEST_HUMP = 0.4;
/** A pattern of a lesser line, or one of a part of a turn, counts only if it explains nearly all of the current. */
const WHOLE = 0.9;
/** So certain must the humps of a part be that a turn is deduced from. */
const PLAIN = 0.75;
/** Two counts that fit a pattern alike. */
const UNPLAIN = 0.6;
const DOMINANCE = 8;
const HARMONIC_DOMINANCE = 3;
/** Windows that part a line from its neighbours one shaft rate (57 Hz and more) away. */
const COARSE_WINDOW_S = 0.04;
const FINE_WINDOW_S = 0.06;
const POINTS_A_CYCLE = 8;
/** Enough to count 24 humps in a pattern. */
const POINTS_A_PATTERN = 144;
/** Humps a turn of motors with two brushes and 5 to 12 bars: even N gives N, odd N gives 2N. */
const HUMPS_A_TURN: readonly number[] = [6, 8, 10, 12, 14, 18, 22];
/** 7, 9 and 11 like humps are half a turn of a motor with that many bars. */
const HUMPS_A_TURN_OR_HALF: readonly number[] = [6, 7, 8, 9, 10, 11, 12, 14, 18, 22];
const HUMPS_A_PART: readonly number[] = [1, 2, 3, 4, 5, 6, 7, 9, 11];
const FASTEST_RPM = LIMITS.fastestRpm.value * 1.1;
const SLOWEST_RPM = LIMITS.slowestRpm.value * 0.9;
/** A starved pump turns slowly; below this an assumed bar count is likelier wrong than the pump so slow. */
const SLOWEST_ASSUMED_RPM = LIMITS.slowestRpm.value * 0.6;
/** Six bars of a starved pump; a slower line is notches. */
const SLOWEST_HUMP_HZ = (6 * SLOWEST_ASSUMED_RPM) / 60;

/** Humps per revolution of a two-brush motor. */
export function humpsForBars(bars: number): number {
  return bars % 2 === 0 ? bars : 2 * bars;
}

/** Bars of a two-brush motor with that many humps a turn; ten is read as ten bars, not five. */
export function barsForHumps(perRevolution: number): number {
  return perRevolution > 12 ? perRevolution / 2 : perRevolution;
}

interface Hypothesis {
  readonly line: Line;
  readonly lineHz: number;
  readonly track: PhaseTrack;
  readonly order: OrderSignal;
  readonly signature?: Signature;
}

/**
 * Finds the humps and the revolution in a stretch of steady current.
 * Every strong line is tried as the one to follow, since deep notches can outshine the humps; the pattern that
 * explains most of the signal wins.
 * @returns why not, when no line stands out, or none can be told for the humps
 */
export function findRevolution(
  samples: Float32Array,
  sampleRateHz: number,
  givenBars: number | undefined,
): Revolution | Untold {
  const segment = Math.min(samples.length, Math.round(SEGMENT_S * sampleRateHz));
  const spectrum = welchSpectrum(withoutMean(samples), sampleRateHz, segment, SEGMENTS);
  const top = Math.min(HIGHEST_HUMP_HZ, 0.47 * sampleRateHz);
  const lines = findLines(spectrum, LOWEST_LINE_HZ, top, 400)
    .filter((line) => line.prominence >= leastProminence(samples.length / segment))
    .filter((line, i, all) => !all.slice(0, i).some((stronger) => isSameLine(stronger, line)))
    .slice(0, LINES_TRIED);
  if (lines.length === 0) {
    return {
      untold: `no hump rate stands out of the noise (${Math.round(sampleRateHz)} samples a second); use a smaller clamp range, a faster time base and 10 kHz bandwidth or more`,
    };
  }
  const tried = lines.map((line) => follow(samples, sampleRateHz, line));
  const [first] = tried;
  const share = dominates(lines) && first.lineHz > SLOWEST_HUMP_HZ ? humpShare(first.track, samples) : 1;
  const best = bestPatterned(tried, share);
  if (best?.signature && !tried.some((other) => contests(other, best))) {
    const measured = resolve(samples, best, best.signature, best === first ? share : 1, givenBars);
    // Plain humps pass at the rate of their own line, whatever line the turn was found on.
    const plain = measured && (share >= HIGHEST_HUMP || isSameSpeed(humpHz(measured), first.lineHz));
    if (plain) return alongBest(measured, tried);
  }
  // Among notches without a turn nobody knows which line is the humps.
  if (share > DEEPEST_HUMP) {
    return {
      untold:
        'deep notches pass, and nothing parts a whole turn from a part of it, or humps from notches; capture longer, or give the bar count',
    };
  }
  return byCount(first, givenBars);
}

function humpHz({ lineHz, linePerRevolution, perRevolution }: Revolution): number {
  return (lineHz / linePerRevolution) * perRevolution;
}

function isSameSpeed(a: number, b: number): boolean {
  return Math.abs(a / b - 1) < SAME_SPEED;
}

/** The turn is followed along the line that tells the angle best: strong, and of a high order. */
function alongBest(measured: Revolution, tried: readonly Hypothesis[]): Revolution {
  const turnHz = measured.lineHz / measured.linePerRevolution;
  const orders = tried.filter(({ lineHz }) => {
    const order = lineHz / turnHz;
    return order > 0.5 && Math.abs(order / Math.round(order) - 1) < SAME_SPEED;
  });
  const sharpness = ({ line }: Hypothesis) => line.power * line.hz ** 2;
  const { lineHz, track } = orders.reduce((a, b) => (sharpness(b) > sharpness(a) ? b : a));
  return { ...measured, lineHz, linePerRevolution: Math.round(lineHz / turnHz), track };
}

/** The turn by a bar count, given or usual; an assumption that would make an impossible pump is not made. */
function byCount({ line, lineHz, track }: Hypothesis, givenBars: number | undefined): Revolution | Untold {
  const bars = givenBars ?? LIMITS.usualBars.value;
  const perRevolution = humpsForBars(bars);
  const rpm = (60 * lineHz) / perRevolution;
  if (givenBars === undefined && (rpm > FASTEST_RPM || rpm < SLOWEST_ASSUMED_RPM)) {
    return {
      untold: `the bars are too alike for the revolution to show, and the usual ${bars} bars would make it ${Math.round(rpm)} rpm, which no pump turns; give the bar count`,
    };
  }
  return {
    basis: givenBars === undefined ? 'assumed' : 'given',
    perRevolution,
    confidence: 1 - LEAST_PROMINENCE / (LEAST_PROMINENCE + line.prominence),
    lineHz,
    linePerRevolution: perRevolution,
    track,
    contradictsGiven: false,
  };
}

/** A drifting speed smears one line into several; the nearest true neighbour is a 22nd away. */
function isSameLine(a: Line, b: Line): boolean {
  return Math.abs(a.hz / b.hz - 1) < SMEAR;
}

/** Noise alone throws up higher peaks the fewer segments are averaged. */
function leastProminence(segments: number): number {
  return LEAST_PROMINENCE + SINGLE_SEGMENT / Math.max(1, segments);
}

/** Peak to peak of a line as a share of the draw. Sound humps are a small part; a line stronger than that is notches. */
function humpShare({ amplitude }: PhaseTrack, samples: Float32Array): number {
  return (2 * median(amplitude)) / Math.abs(meanOf(samples));
}

/**
 * The line whose pattern is believed: the humps' own where they are plain. A harmonic of plain humps says nothing about
 * the turn that they don't; another line of the rotor may.
 * @param share peak to peak of the first line as a share of the draw; 1 when it doesn't dominate
 */
function bestPatterned([first, ...others]: readonly Hypothesis[], share: number): Hypothesis | undefined {
  if (share < HIGHEST_HUMP && first.signature) return first;
  const believed = (other: Hypothesis) =>
    share > DEEPEST_HUMP || (!isHarmonic(other.line, first.line) && (other.signature?.explained ?? 0) > WHOLE);
  return [first, ...others.filter(believed)]
    .filter((hypothesis) => hypothesis.signature && 60 * patternHz(hypothesis) > SLOWEST_ASSUMED_RPM)
    .reduce<Hypothesis | undefined>(better, undefined);
}

/** Sound humps outshine everything but their own harmonics; then only their line may decide on the turn. */
function dominates([first, ...others]: readonly Line[]): boolean {
  return others.every((line) => line.power * (isHarmonic(line, first) ? HARMONIC_DOMINANCE : DOMINANCE) < first.power);
}

function isHarmonic(line: Line, first: Line): boolean {
  const ratio = line.hz / first.hz;
  return ratio > 1.5 && Math.abs(ratio - Math.round(ratio)) < 0.02;
}

function withoutMean(samples: Float32Array): Float32Array {
  let sum = 0;
  for (const value of samples) sum += value;
  const mean = sum / samples.length;
  return samples.map((value) => value - mean);
}

function follow(samples: Float32Array, sampleRateHz: number, line: Line): Hypothesis {
  const coarse = trackPhase(samples, sampleRateHz, line.hz, COARSE_WINDOW_S * line.hz);
  const hops = coarse.at.length;
  const lineHz =
    hops > 2
      ? (sampleRateHz * (coarse.cycles[hops - 1] - coarse.cycles[0])) / (coarse.at[hops - 1] - coarse.at[0])
      : line.hz;
  const long = samples.length / sampleRateHz > 3 * FINE_WINDOW_S;
  const fine = long ? trackPhase(samples, sampleRateHz, lineHz, FINE_WINDOW_S * lineHz) : coarse;
  const order = toOrder(samples, fine, POINTS_A_CYCLE);
  const signature = findSignature(order, (period) => isPossibleTurn(period, lineHz));
  return { line, lineHz, track: fine, order, ...(signature && { signature }) };
}

/** Whether so many humps can be a turn, or half a turn of an odd-barred motor, at a speed that a pump has. */
function isPossibleTurn(humps: number, humpHz: number): boolean {
  const rpm = (60 * humpHz) / (HUMPS_A_TURN.includes(humps) ? humps : 2 * humps);
  return HUMPS_A_TURN_OR_HALF.includes(humps) && rpm <= FASTEST_RPM && rpm >= SLOWEST_RPM;
}

const NEARLY = 0.03;
const SURE_MARGIN = 6;
const FAR_SURER = 10;

/**
 * More explained wins. Of near-equal explanations a whole turn wins over a part of it, since like notches hide what
 * parts them on most lines; then the stronger line.
 */
function better(a: Hypothesis | undefined, b: Hypothesis): Hypothesis {
  if (!a?.signature || !b.signature) return a ?? b;
  const lead = b.signature.explained - a.signature.explained;
  if (lead > NEARLY) return b;
  const whole = b.signature.margin > SURE_MARGIN && isPartOf(patternHz(a), patternHz(b));
  return lead > -NEARLY && whole ? b : a;
}

/**
 * Two lines disagree on whether what repeats is a turn or a part of one, and the slower isn't sure: nobody can tell, unless
 * the faster is the one believed and by far the surer.
 */
function contests({ signature: other, ...line }: Hypothesis, { signature: best, ...own }: Hypothesis): boolean {
  if (!other || !best || other.explained < best.explained - NEARLY) return false;
  const [otherHz, bestHz] = [line.lineHz / other.period, own.lineHz / best.period];
  if (otherHz > bestHz) return best.margin <= SURE_MARGIN && isPartOf(otherHz, bestHz);
  return other.margin <= SURE_MARGIN && best.margin < FAR_SURER * other.margin && isPartOf(bestHz, otherHz);
}

function patternHz({ lineHz, signature }: Hypothesis): number {
  return lineHz / (signature?.period ?? 1);
}

/** Whether what repeats at `hz` is a whole fraction of a turn at `turnHz`, a speed that a pump has. */
function isPartOf(hz: number, turnHz: number): boolean {
  const parts = Math.round(hz / turnHz);
  return parts >= 2 && Math.abs(hz / turnHz / parts - 1) < SAME_SPEED && 60 * turnHz >= SLOWEST_RPM;
}

/** Share of a pattern that its own parts explain, from which on it is a row of like notches. */
const REGULAR = 0.8;
/** More turns than these part halves that differ at all. */
const FEW_TURNS = 30;

/**
 * Like notches at like distances: where one turn could as well be half of one, nothing says which. What every hump has in
 * common is taken out first.
 */
function isRegular(pattern: Float64Array, humps: number): boolean {
  const common = foldOf(pattern, humps);
  const notches = pattern.map((value, i) => value - common[i % common.length]);
  const power = (values: Float64Array) => values.reduce((sum, value) => sum + value * value, 0) / values.length;
  const all = power(notches);
  return [2, 3].some((parts) => humps % parts === 0 && power(foldOf(notches, parts)) > REGULAR * all);
}

/** Average over `parts` equal parts of a pattern. */
function foldOf(pattern: Float64Array, parts: number): Float64Array {
  const width = Math.floor(pattern.length / parts);
  const mean = new Float64Array(width);
  for (let i = 0; i < width * parts; i++) mean[i % width] += pattern[i] / parts;
  return mean;
}

/** Opposite notches make half a turn of eight bars repeat: four humps, unless the four cycles followed are the notches. */
function humpsInTurn(period: number): readonly number[] {
  return period === 4 ? HUMPS_A_TURN_OR_HALF : [4, ...HUMPS_A_TURN_OR_HALF];
}

/**
 * From the repeating pattern to the revolution. A pattern that repeats at a possible shaft speed is one turn, except that
 * an odd number of like humps is half a turn of an odd-barred motor. A faster pattern (opposite notches, like brushes)
 * is taken at the one multiple that a real motor at a real speed can have.
 * @returns undefined when the pattern is a single hump or more than one multiple fits
 */
function resolve(
  samples: Float32Array,
  hypothesis: Hypothesis,
  signature: Signature,
  lineShare: number,
  givenBars: number | undefined,
): Revolution | undefined {
  const { lineHz, track } = hypothesis;
  const patternRpm = (60 * lineHz) / signature.period;
  const points = Math.max(POINTS_A_CYCLE, Math.ceil(POINTS_A_PATTERN / signature.period));
  const order = toOrder(samples, track, points);
  const pattern = meanPattern(order, signature.period);
  const few = order.cycles < FEW_TURNS * signature.period;
  const isTurn = patternRpm <= FASTEST_RPM;
  const counted = humpOrder(pattern, isTurn ? humpsInTurn(signature.period) : HUMPS_A_PART);
  // A line no deeper than humps may be is the humps, unless the pattern plainly says otherwise.
  const isHumps = lineShare < HIGHEST_HUMP || (lineShare < DEEPEST_HUMP && counted.certainty < UNPLAIN);
  const humps = isHumps ? { perPattern: signature.period, certainty: 1 } : counted;
  if (humps.perPattern === 1) return undefined;
  const turns = (multiple: number): Revolution => ({
    basis: 'measured',
    perRevolution: humps.perPattern * multiple,
    confidence: (1 - 1 / signature.margin) * humps.certainty,
    lineHz,
    linePerRevolution: signature.period * multiple,
    track,
    contradictsGiven: false,
  });
  const given = givenBars === undefined ? undefined : humpsForBars(givenBars);
  if (given !== undefined && given % humps.perPattern === 0) {
    const multiple = given / humps.perPattern;
    if (multiple === 1) return turns(1);
    // Parts of a turn too slow for any pump were notches, taken for humps.
    if (patternRpm / multiple >= SLOWEST_RPM) return { ...turns(multiple), basis: 'given' };
  }
  const contradictsGiven = given !== undefined;
  const possible = (multiple: number) => HUMPS_A_TURN.includes(humps.perPattern * multiple);
  if (isTurn && possible(1)) {
    const hidden =
      few &&
      possible(2) &&
      patternRpm / 2 >= SLOWEST_RPM &&
      lineShare >= HIGHEST_HUMP &&
      isRegular(pattern, humps.perPattern);
    return hidden ? undefined : { ...turns(1), contradictsGiven };
  }
  // A turn that is only deduced needs a part that is beyond doubt.
  if (signature.explained < WHOLE || humps.certainty < PLAIN) return undefined;
  const multiples = [2, 3, 4, 5, 6].filter(
    (multiple) => possible(multiple) && patternRpm / multiple <= FASTEST_RPM && patternRpm / multiple >= SLOWEST_RPM,
  );
  return multiples.length === 1 ? { ...turns(multiples[0]), contradictsGiven } : undefined;
}
