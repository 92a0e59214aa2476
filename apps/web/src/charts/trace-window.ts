/** A stretch of a capture on screen, in samples; `to` is one past the last. */
export interface TraceWindow {
  readonly from: number;
  readonly to: number;
}

/** A record's own clock. */
export interface Recorded {
  readonly samples: number;
  readonly sampleRateHz: number;
  /** Time of sample 0, s. */
  readonly startS: number;
}

/**
 * Where a trace's samples come from: lowest and highest in each column, interleaved.
 * @param signal ends a request that a newer one took the place of
 * @throws Error when they can't be had
 */
export type TraceSource = (window: TraceWindow, columns: number, signal: AbortSignal) => Promise<Float32Array>;

const FEWEST_SAMPLES = 16;

/** Keeps a window within the capture and no narrower than a few samples. */
export function clampWindow({ from, to }: TraceWindow, samples: number): TraceWindow {
  const width = Math.min(samples, Math.max(FEWEST_SAMPLES, to - from));
  const start = Math.min(Math.max(0, from), samples - width);
  return { from: Math.floor(start), to: Math.ceil(start + width) };
}

/** A window with as much again around it, half on either side: what is moved into view is there already. */
export function withMargin({ from, to }: TraceWindow, samples: number): TraceWindow {
  const margin = Math.ceil((to - from) / 2);
  return { from: Math.max(0, from - margin), to: Math.min(samples, to + margin) };
}

/** The same stretch of time in the samples of another record, laid so much later; nothing where it has none there. */
export function ownWindow(
  { from, to }: TraceWindow,
  main: Recorded,
  own: Recorded,
  laterS: number,
): TraceWindow | undefined {
  const sampleAt = (sample: number) =>
    (main.startS + sample / main.sampleRateHz - laterS - own.startS) * own.sampleRateHz;
  const first = Math.max(0, Math.floor(sampleAt(from)));
  const last = Math.min(own.samples, Math.ceil(sampleAt(to)));
  return last > first ? { from: first, to: last } : undefined;
}

/** Points to draw from min-max pairs: both ends of every column, so that no spike is lost; a gap where there is no value. */
export function toPoints(
  pairs: Float32Array,
  { from, to }: TraceWindow,
  timeOf: (sample: number) => number,
): { x: number; y: number }[] {
  const columns = pairs.length / 2;
  const step = (to - from) / columns;
  const points: { x: number; y: number }[] = [];
  for (let c = 0; c < columns; c++) {
    const x = timeOf(from + (step <= 1 ? c * step : (c + 0.5) * step));
    points.push({ x, y: pairs[2 * c] });
    if (pairs[2 * c + 1] !== pairs[2 * c] && !Number.isNaN(pairs[2 * c])) points.push({ x, y: pairs[2 * c + 1] });
  }
  return points;
}

/** A time for an axis or a readout, in the unit that suits the stretch shown. */
export function timeText(seconds: number, spanS: number): string {
  return spanS < 1
    ? `${(seconds * 1000).toFixed(spanS < 0.05 ? 2 : 0)} ms`
    : `${seconds.toFixed(spanS < 10 ? 2 : 0)} s`;
}

/** Something that happened, with the stretch that shows it. */
export interface TraceEvent {
  readonly name: string;
  readonly atS: number;
  readonly fromS: number;
  readonly toS: number;
}

/** The event before or after a time, in order of time; the first or the last where there is none. */
export function neighbour(events: readonly TraceEvent[], timeS: number, way: 1 | -1): TraceEvent | undefined {
  const beyond = events.filter(({ atS }) => way * (atS - timeS) > 0);
  return way > 0 ? (beyond[0] ?? events.at(-1)) : (beyond.at(-1) ?? events[0]);
}
