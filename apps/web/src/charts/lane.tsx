import { Chart, type ChartEvent } from 'chart.js';
import { useEffect, useRef, useState } from 'react';
import { useTheme } from '../app/theme';
import { annotate, cursorLines, laneConfiguration, markLines, setLimits, spanBoxes } from './lane-chart';
import type { Span, TraceLane, TraceMark, TraceSignal } from './signals';
import { ownWindow, toPoints, withMargin, type Recorded, type TraceWindow } from './trace-window';

interface LaneProps {
  readonly lane: TraceLane;
  readonly recorded: Recorded;
  readonly view: TraceWindow;
  readonly height: number;
  /** The lowest of several shows the time for all. */
  readonly showsTime: boolean;
  readonly hasRight: boolean;
  readonly cursorsS: readonly number[];
  readonly marks: readonly TraceMark[];
  readonly onMove: (fromS: number, toS: number) => void;
  readonly onPress: (timeS: number) => void;
  /** A signal's values at the cursors, each time that they change. */
  readonly onRead: (id: string, values: readonly number[]) => void;
  readonly onMissing: (isMissing: boolean) => void;
}

const NO_SPANS: readonly Span[] = [];

type Points = { x: number; y: number }[];

/** Signals on one scale, or two, over the window that all lanes share. */
export function Lane(props: LaneProps) {
  const { lane, recorded, view, height, showsTime, hasRight, cursorsS, marks } = props;
  const { samples, sampleRateHz, startS } = recorded;
  const spans = lane[0].spans ?? NO_SPANS;
  const canvas = useRef<HTMLCanvasElement>(null);
  const chart = useRef<Chart | null>(null);
  const told = useRef(props);
  const [points, setPoints] = useState<Readonly<Record<string, Points>>>({});
  const theme = useTheme();
  useEffect(() => {
    told.current = props;
  });

  useEffect(() => {
    if (!canvas.current) return;
    const moved = ({ chart: moving }: { chart: Chart }) =>
      told.current.onMove(moving.scales.x.min, moving.scales.x.max);
    const pressed = (event: ChartEvent, _elements: unknown, pressedChart: Chart) => {
      const timeS = pressedChart.scales.x.getValueForPixel(event.x ?? 0);
      if (timeS !== undefined) told.current.onPress(timeS);
    };
    const durationS = samples / sampleRateHz;
    const made = new Chart(
      canvas.current,
      laneConfiguration({ lane, startS, durationS, showsTime, hasRight, moved, pressed }),
    );
    chart.current = made;
    return () => {
      made.destroy();
      chart.current = null;
    };
  }, [lane, samples, sampleRateHz, startS, showsTime, hasRight, theme]);

  useEffect(() => {
    const newer = new AbortController();
    // What was drawn before moves at once; what is new of it follows.
    const shown = chart.current;
    if (shown) {
      setLimits(shown, startS + view.from / sampleRateHz, startS + view.to / sampleRateHz);
      shown.update('none');
    }
    const width = Math.max(200, canvas.current?.clientWidth ?? 800);
    lane.forEach((signal, i) => {
      load(signal, { samples, sampleRateHz, startS }, view, width, newer.signal).then(
        (read) => {
          const drawn = chart.current;
          if (newer.signal.aborted || !drawn) return;
          drawn.data.datasets[i].data = read;
          drawn.update('none');
          setPoints((before) => ({ ...before, [signal.id]: read }));
          told.current.onMissing(false);
        },
        () => {
          if (!newer.signal.aborted) told.current.onMissing(true);
        },
      );
    });
    return () => newer.abort();
  }, [lane, samples, view, startS, sampleRateHz, showsTime, hasRight, theme]);

  useEffect(() => {
    for (const { id } of lane) {
      told.current.onRead(
        id,
        cursorsS.map((timeS) => nearest(points[id] ?? [], timeS)),
      );
    }
  }, [lane, points, cursorsS]);

  useEffect(() => {
    const fromS = startS + view.from / sampleRateHz;
    const toS = startS + view.to / sampleRateHz;
    annotate(chart.current, [
      ...spanBoxes(spans, fromS, toS),
      ...markLines(marks, fromS, toS),
      ...cursorLines(cursorsS),
    ]);
  }, [lane, spans, cursorsS, marks, view, startS, sampleRateHz, showsTime, hasRight, theme]);

  // Empty axes have a scale that is nobody's.
  const isDrawn = lane.every(({ id }) => id in points);
  return (
    <div style={{ height }} className="relative" aria-busy={!isDrawn}>
      <canvas ref={canvas} className={isDrawn ? '' : 'opacity-0'} />
    </div>
  );
}

/** What there is of a signal in a window and around it, at the record's times; nothing where it has ended. */
async function load(
  signal: TraceSignal,
  main: Recorded,
  view: TraceWindow,
  width: number,
  newer: AbortSignal,
): Promise<Points> {
  const { recorded = main, laterS = 0 } = signal.of ?? {};
  const own = ownWindow(view, main, recorded, laterS);
  if (!own) return [];
  const loaded = withMargin(own, recorded.samples);
  const share = (loaded.to - loaded.from) / (own.to - own.from);
  const columns = Math.min(loaded.to - loaded.from, Math.round(width * share));
  const pairs = await signal.source(loaded, columns, newer);
  return toPoints(pairs, loaded, (sample) => recorded.startS + laterS + sample / recorded.sampleRateHz);
}

function nearest(points: Points, x: number): number {
  let low = 0;
  let high = points.length - 1;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (points[middle].x < x) low = middle + 1;
    else high = middle;
  }
  return points[low]?.y ?? NaN;
}
