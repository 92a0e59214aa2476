import {
  CategoryScale,
  Chart,
  LinearScale,
  LineController,
  LineElement,
  PointElement,
  type ChartConfiguration,
  type ChartEvent,
} from 'chart.js';
import annotationPlugin, { type AnnotationOptions } from 'chartjs-plugin-annotation';
import zoomPlugin from 'chartjs-plugin-zoom';
import { useEffect, useRef, useState } from 'react';
import { useTheme } from '../app/theme';
import { timeText, toPoints, withMargin, type Recorded, type TraceSource, type TraceWindow } from './trace-window';

Chart.register(LineController, LineElement, PointElement, LinearScale, CategoryScale, annotationPlugin, zoomPlugin);

/** A measurement drawn where it was made. Times in seconds. */
export interface Span {
  readonly fromS: number;
  readonly toS: number;
  readonly label?: string;
  readonly tone: 'turn' | 'inrush' | 'dropout';
}

/** One signal of a trace. */
export interface LaneSignal {
  readonly name: string;
  readonly unit: string;
  readonly source: TraceSource;
  readonly spans?: readonly Span[];
}

interface LaneProps {
  readonly signal: LaneSignal;
  readonly recorded: Recorded;
  readonly view: TraceWindow;
  readonly height: number;
  /** The lowest of several shows the time for all. */
  readonly showsTime: boolean;
  readonly cursorsS: readonly number[];
  readonly onMove: (fromS: number, toS: number) => void;
  readonly onPress: (timeS: number) => void;
  /** Its values at the cursors, each time that they change. */
  readonly onRead: (values: readonly number[]) => void;
  readonly onMissing: (isMissing: boolean) => void;
}

/** Spans shorter than this share of the screen would only smear it. */
const LEAST_SHARE = 0.002;
const MOST_SPANS = 60;
const NO_SPANS: readonly Span[] = [];
/** Room for the numbers beside every lane, so that their times stand under each other. */
const SCALE_WIDTH = 52;

type Points = readonly { x: number; y: number }[];

/** One signal over the window that all lanes share. */
export function Lane(props: LaneProps) {
  const { signal, recorded, view, height, showsTime, cursorsS } = props;
  const { samples, sampleRateHz, startS } = recorded;
  const { source, spans = NO_SPANS } = signal;
  const canvas = useRef<HTMLCanvasElement>(null);
  const chart = useRef<Chart | null>(null);
  const told = useRef(props);
  const [points, setPoints] = useState<Points>([]);
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
    const made = new Chart(
      canvas.current,
      configuration({ startS, durationS: samples / sampleRateHz, showsTime, moved, pressed }),
    );
    chart.current = made;
    return () => {
      made.destroy();
      chart.current = null;
    };
  }, [samples, sampleRateHz, startS, showsTime, theme]);

  useEffect(() => {
    const newer = new AbortController();
    // What was drawn before moves at once; what is new of it follows.
    const shown = chart.current;
    if (shown) {
      setLimits(shown, startS + view.from / sampleRateHz, startS + view.to / sampleRateHz);
      shown.update('none');
    }
    const loaded = withMargin(view, samples);
    const width = Math.max(200, canvas.current?.clientWidth ?? 800);
    const columns = Math.min(
      loaded.to - loaded.from,
      Math.round((width * (loaded.to - loaded.from)) / (view.to - view.from)),
    );
    source(loaded, columns, newer.signal).then(
      (pairs) => {
        const drawn = chart.current;
        if (newer.signal.aborted || !drawn) return;
        const read = toPoints(pairs, loaded, (sample) => startS + sample / sampleRateHz);
        drawn.data.datasets[0].data = read;
        drawn.update('none');
        setPoints(read);
        told.current.onMissing(false);
      },
      () => {
        if (!newer.signal.aborted) told.current.onMissing(true);
      },
    );
    return () => newer.abort();
  }, [samples, view, source, startS, sampleRateHz, showsTime, theme]);

  useEffect(() => {
    told.current.onRead(cursorsS.map((timeS) => nearest(points, timeS)));
  }, [points, cursorsS]);

  useEffect(() => {
    const shown = { fromS: startS + view.from / sampleRateHz, toS: startS + view.to / sampleRateHz };
    annotate(chart.current, [...spanBoxes(spans, shown.fromS, shown.toS), ...cursorLines(cursorsS)]);
  }, [spans, cursorsS, view, startS, sampleRateHz, showsTime, theme]);

  return (
    <div style={{ height }} className="relative">
      <canvas ref={canvas} />
    </div>
  );
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

function annotate(chart: Chart | null, annotations: AnnotationOptions[]): void {
  const plugin = chart?.options.plugins?.annotation;
  if (!chart || !plugin) return;
  plugin.annotations = annotations;
  chart.update('none');
}

function setLimits(chart: Chart, min: number, max: number): void {
  const x = chart.options.scales?.x;
  if (x) Object.assign(x, { min, max });
}

const TONES = {
  turn: { fill: '#b9842026', edge: '#b98420' },
  inrush: { fill: '#2c5b881f', edge: '#2c5b88' },
  dropout: { fill: '#b4472b33', edge: '#b4472b' },
} as const;

function spanBoxes(spans: readonly Span[], fromS: number, toS: number): AnnotationOptions[] {
  const shown = spans.filter(
    (span) => span.toS > fromS && span.fromS < toS && span.toS - span.fromS > LEAST_SHARE * (toS - fromS),
  );
  return shown.slice(0, MOST_SPANS).map(({ fromS: xMin, toS: xMax, label, tone }): AnnotationOptions => ({
    type: 'box',
    xMin,
    xMax,
    backgroundColor: TONES[tone].fill,
    borderWidth: 0,
    ...(label && {
      label: {
        display: true,
        content: label,
        position: { x: labelPlace(0.5 * (xMin + xMax), fromS, toS), y: 'start' },
        color: token('--ink'),
        font: { family: 'Atkinson Hyperlegible Next Variable', size: 13, weight: 'bold' },
        padding: 4,
      },
    }),
  }));
}

/** A label near an edge of the view would run out of it. */
function labelPlace(atS: number, fromS: number, toS: number): 'start' | 'center' | 'end' {
  const share = (atS - fromS) / (toS - fromS);
  if (share < 0.2) return 'start';
  return share > 0.8 ? 'end' : 'center';
}

function cursorLines(cursorsS: readonly number[]): AnnotationOptions[] {
  return cursorsS.map((timeS, i) => ({
    type: 'line',
    xMin: timeS,
    xMax: timeS,
    borderColor: token('--plum'),
    borderWidth: 2,
    label: { display: true, content: 'AB'[i], position: 'end', backgroundColor: token('--plum'), color: '#fff' },
  }));
}

const token = (name: string) => getComputedStyle(document.documentElement).getPropertyValue(name).trim();

function configuration({
  startS,
  durationS,
  showsTime,
  moved,
  pressed,
}: {
  readonly startS: number;
  readonly durationS: number;
  readonly showsTime: boolean;
  readonly moved: (context: { chart: Chart }) => void;
  readonly pressed: (event: ChartEvent, elements: unknown, chart: Chart) => void;
}): ChartConfiguration<'line', { x: number; y: number }[]> {
  const font = { family: 'Atkinson Hyperlegible Next Variable', size: 13 };
  return {
    type: 'line',
    data: { datasets: [{ data: [], borderColor: () => token('--ink'), borderWidth: 1.4, pointRadius: 0, tension: 0 }] },
    options: {
      animation: false,
      parsing: false,
      normalized: true,
      maintainAspectRatio: false,
      onClick: pressed,
      events: ['click'],
      scales: {
        x: {
          type: 'linear',
          min: startS,
          max: startS + durationS,
          grid: { display: false },
          display: showsTime,
          ticks: {
            font,
            color: () => token('--soft'),
            maxTicksLimit: 8,
            includeBounds: false,
            maxRotation: 0,
            callback(value) {
              return timeText(Number(value), this.max - this.min);
            },
          },
        },
        y: {
          grace: '12%',
          afterFit: (scale) => {
            scale.width = SCALE_WIDTH;
          },
          grid: { color: () => token('--line') },
          border: { display: false },
          ticks: { font, color: () => token('--soft'), maxTicksLimit: 7 },
        },
      },
      plugins: {
        annotation: { annotations: [] },
        zoom: {
          limits: { x: { min: startS, max: startS + durationS, minRange: durationS / 1e6 } },
          zoom: { wheel: { enabled: true, speed: 0.15 }, pinch: { enabled: true }, mode: 'x', onZoom: moved },
          pan: { enabled: true, mode: 'x', onPan: moved },
        },
      },
    },
  };
}
