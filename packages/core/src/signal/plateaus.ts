import { median, robustDeviation } from './levels.js';

/** A stretch of parts that stays at one level; half-open. */
export interface Plateau {
  readonly from: number;
  readonly to: number;
  readonly level: number;
}

/** Of the scatter from one part to the next: within it a level stands still. */
const SCATTERS = 4;

/**
 * Stretches in which a course stands still, in order. A slow ramp passes through any tolerance bit by bit and has none.
 * @param parts the course, in equal parts
 * @param leastTolerance what a level may differ by at least
 * @param leastApart neighbours that are nearer are one
 * @param fewest parts of a stretch
 */
export function plateausOf(
  parts: Float64Array,
  { leastTolerance, leastApart, fewest }: Readonly<Record<'leastTolerance' | 'leastApart' | 'fewest', number>>,
): Plateau[] {
  if (parts.length < 2 * fewest) return [];
  const changes = parts.subarray(1).map((value, i) => value - parts[i]);
  const tolerance = Math.max(leastTolerance, SCATTERS * robustDeviation(changes));
  const standing = runsWithin(parts, tolerance)
    .map((run) => trimmed(parts, run, tolerance / 2))
    .filter(([from, to]) => to - from >= fewest && !climbs(parts.subarray(from, to), tolerance))
    .map(([from, to]): Plateau => ({ from, to, level: median(parts.subarray(from, to)) }));
  const apart: Plateau[] = [];
  for (const one of standing) {
    const last = apart.at(-1);
    if (!last || Math.abs(last.level - one.level) >= leastApart) apart.push(one);
    // A pause is no change of level.
    else apart[apart.length - 1] = { from: last.from, to: one.to, level: (last.level + one.level) / 2 };
  }
  return apart;
}

type Run = readonly [from: number, to: number];

/** Runs of parts that stay near their own mean. One part that strays ends none. */
function runsWithin(parts: Float64Array, tolerance: number): Run[] {
  const runs: Run[] = [];
  let from = 0;
  let [sum, count] = [parts[0], 1];
  const strays = (i: number) => Math.abs(parts[i] - sum / count) > tolerance;
  for (let i = 1; i < parts.length; i++) {
    if (!strays(i)) {
      sum += parts[i];
      count++;
    } else if (i + 1 === parts.length || strays(i + 1)) {
      runs.push([from, i]);
      from = i;
      [sum, count] = [parts[i], 1];
    }
  }
  runs.push([from, parts.length]);
  return runs;
}

/** The same without what at its ends belongs to the way there and on: parts that are off its own level. */
function trimmed(parts: Float64Array, [first, end]: Run, most: number): Run {
  const own = median(parts.subarray(first, end));
  const isOff = (i: number) => Math.abs(parts[i] - own) > most;
  let [from, to] = [first, end];
  while (from < to && isOff(from)) from++;
  while (to > from && isOff(to - 1)) to--;
  return [from, to];
}

function climbs(run: Float64Array, tolerance: number): boolean {
  const third = Math.max(1, Math.floor(run.length / 3));
  return Math.abs(median(run.subarray(0, third)) - median(run.subarray(-third))) > tolerance / 2;
}
