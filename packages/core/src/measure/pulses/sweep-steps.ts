import { chunksOf, type SampleSource } from '../../capture/source.js';
import { plateausOf } from '../../signal/plateaus.js';
import { switchedStretches, type Clock } from './clock.js';
import type { SwitchedLine } from './line.js';
import type { SweepStep } from './sweep-record.js';

/** A stretch in which the command stood, and what was read in it. */
export interface CutStep extends SweepStep {
  /** s on the record's clock. */
  readonly fromS: number;
  readonly toS: number;
}

export interface SweepLines {
  readonly command: { readonly line: SwitchedLine; readonly clock: Clock };
  readonly output?: SwitchedLine;
  /** A, Pa, V. */
  readonly current?: SampleSource;
  readonly pressure?: SampleSource;
  readonly supply?: SampleSource;
  readonly sampleRateHz: number;
  readonly startS: number;
}

/** The command is looked at in so many parts of the record at most: a step of a minute's record is found to some 30 ms. */
const MOST_PARTS = 2000;
/** An edge is known to a sample: in parts of so many that moves a duty by a tenth of a point. */
const LEAST_SAMPLES = 1000;
/** A step that a person or a scan tool holds for a reading; shorter ones are how a controller moves. */
const LEAST_STEP_S = 0.5;
const FEWEST_PARTS = 5;
/** Points of duty: less apart, two steps are one. */
const LEAST_APART = 2;
const LEAST_TOLERANCE = 0.5;
/** The first half of each step is the pump's and the pressure's to settle in. */
const SETTLED_FROM = 0.5;
/** As many as a sheet holds. */
const MOST_STEPS = 20;

/**
 * Cuts a duty sweep out of a record whose command was stepped: stretches in which its duty stands, each with the means of
 * whatever was recorded beside it over its second half.
 * @returns nothing unless the command stood at two duties or more
 */
export function cutSweep({ command, output, current, pressure, supply, sampleRateHz, startS }: SweepLines): CutStep[] {
  const stretches = standingStretches(command.line, command.clock, sampleRateHz);
  if (stretches.length < 2) return [];
  const windows = stretches.map(({ settled, to }) => [settled, to] as const);
  const [amperes, pascals, volts] = [current, pressure, supply].map((source) => source && meansOver(source, windows));
  return windows.map(([from, to], i) => ({
    fromS: startS + stretches[i].from / sampleRateHz,
    toS: startS + to / sampleRateHz,
    commandPercent: command.line.dutyPercent(from, to),
    ...(output && { outputPercent: output.dutyPercent(from, to) }),
    ...(amperes && { currentA: amperes[i] }),
    ...(pascals && { pressurePa: pascals[i] }),
    ...(volts && { supplyV: volts[i] }),
  }));
}

/** All in samples, and whole periods apart: a period that is cut off would count its first part only. */
interface Stretch {
  readonly from: number;
  readonly settled: number;
  readonly to: number;
  /** Duty, %. */
  readonly level: number;
}

/** Where the duty stands still long enough for a reading, in order of time; at most the longest twenty. A line at rest asks for nothing. */
function standingStretches(line: SwitchedLine, clock: Clock, sampleRateHz: number): Stretch[] {
  const length = Math.ceil(Math.max(LEAST_SAMPLES, line.length / MOST_PARTS) / clock.period) * clock.period;
  const fewest = Math.max(FEWEST_PARTS, (LEAST_STEP_S * sampleRateHz) / length);
  const standing = switchedStretches(clock, line.length).flatMap((switched) => {
    const at = (part: number) => switched.from + part * length;
    const parts = Float64Array.from({ length: Math.floor((switched.to - switched.from) / length) }, (_, i) =>
      line.dutyPercent(at(i), at(i + 1)),
    );
    return plateausOf(parts, { leastTolerance: LEAST_TOLERANCE, leastApart: LEAST_APART, fewest }).map(
      ({ from, to, level }): Stretch => ({
        ...{ from: at(from), to: at(to), level },
        settled: at(Math.ceil(from + SETTLED_FROM * (to - from))),
      }),
    );
  });
  // A second prime at the same duty is no other step.
  const apart = standing.filter(({ level }, i) => i === 0 || Math.abs(level - standing[i - 1].level) >= LEAST_APART);
  const longest = apart.sort((a, b) => b.to - b.from - (a.to - a.from)).slice(0, MOST_STEPS);
  return longest.sort((a, b) => a.from - b.from);
}

/** Means over stretches that follow one another, in one pass. @param windows samples */
export function meansOver(source: SampleSource, windows: readonly (readonly [from: number, to: number])[]): number[] {
  const sums = new Float64Array(windows.length);
  const counts = new Float64Array(windows.length);
  let at = 0;
  let window = 0;
  for (const chunk of chunksOf(source)) {
    for (let i = 0; i < chunk.length && window < windows.length; i++, at++) {
      while (window < windows.length && at >= windows[window][1]) window++;
      if (window === windows.length || at < windows[window][0]) continue;
      sums[window] += chunk[i];
      counts[window]++;
    }
  }
  return Array.from(sums, (sum, i) => sum / counts[i]);
}
