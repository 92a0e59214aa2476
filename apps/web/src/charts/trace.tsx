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
import { useTheme } from '../app/theme';
import { useEffect, useRef, useState, type KeyboardEvent } from 'react';
import { ErrorNotice } from '../ui/notice';
import { clampWindow, timeText, toPoints, withMargin, type TraceSource, type TraceWindow } from './trace-window';

Chart.register(LineController, LineElement, PointElement, LinearScale, CategoryScale, annotationPlugin, zoomPlugin);

/** A measurement drawn where it was made. Times in seconds. */
export interface Span {
  readonly fromS: number;
  readonly toS: number;
  readonly label?: string;
  readonly tone: 'turn' | 'inrush' | 'dropout';
}

export interface TraceProps {
  readonly label: string;
  readonly source: TraceSource;
  readonly samples: number;
  readonly sampleRateHz: number;
  readonly startS: number;
  readonly unit: string;
  readonly spans?: readonly Span[];
  /** Stretches worth a look, each one press away. */
  readonly views?: readonly { readonly name: string; readonly fromS: number; readonly toS: number }[];
  readonly initial?: { readonly fromS: number; readonly toS: number };
  readonly height?: number;
}

interface Cursor {
  readonly timeS: number;
  readonly value: number;
}

/** Spans shorter than this share of the screen would only smear it. */
const LEAST_SHARE = 0.002;
const MOST_SPANS = 60;
const NO_SPANS: readonly Span[] = [];

/** A trace over any number of samples: wheel, pinch, drag and keys move the window; a press sets a cursor. */
export function Trace(props: TraceProps) {
  const { samples, sampleRateHz, startS, source, spans = NO_SPANS, height = 300 } = props;
  const canvas = useRef<HTMLCanvasElement>(null);
  const chart = useRef<Chart | null>(null);
  const [cursors, setCursors] = useState<readonly Cursor[]>([]);
  const sampleOf = (timeS: number) => (timeS - startS) * sampleRateHz;
  const [view, setView] = useState<TraceWindow>(() =>
    props.initial
      ? clampWindow({ from: sampleOf(props.initial.fromS), to: sampleOf(props.initial.toS) }, samples)
      : { from: 0, to: samples },
  );
  const theme = useTheme();
  const [missing, setMissing] = useState(false);
  const timeOf = (sample: number) => startS + sample / sampleRateHz;

  useEffect(() => {
    if (!canvas.current) return;
    const moved = ({ chart: moving }: { chart: Chart }) => {
      const { min, max } = moving.scales.x;
      setView(clampWindow({ from: (min - startS) * sampleRateHz, to: (max - startS) * sampleRateHz }, samples));
    };
    const pressed = (event: ChartEvent, _elements: unknown, pressedChart: Chart) => {
      const timeS = pressedChart.scales.x.getValueForPixel(event.x ?? 0);
      if (timeS === undefined) return;
      const points = pressedChart.data.datasets[0].data as { x: number; y: number }[];
      const value = nearest(points, timeS);
      setCursors((before) => (before.length >= 2 ? [{ timeS, value }] : [...before, { timeS, value }]));
    };
    const made = new Chart(canvas.current, configuration(startS, samples / sampleRateHz, moved, pressed));
    chart.current = made;
    return () => {
      made.destroy();
      chart.current = null;
    };
  }, [samples, sampleRateHz, startS, theme]);

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
        drawn.data.datasets[0].data = toPoints(pairs, loaded, (sample) => startS + sample / sampleRateHz);
        drawn.update('none');
        setMissing(false);
      },
      () => {
        if (!newer.signal.aborted) setMissing(true);
      },
    );
    return () => newer.abort();
  }, [samples, view, source, startS, sampleRateHz, theme]);

  useEffect(() => {
    const shown = { fromS: startS + view.from / sampleRateHz, toS: startS + view.to / sampleRateHz };
    annotate(chart.current, [...spanBoxes(spans, shown.fromS, shown.toS), ...cursorLines(cursors)]);
  }, [spans, cursors, view, startS, sampleRateHz, theme]);

  const keys = (event: KeyboardEvent) => {
    const width = view.to - view.from;
    const shift = (share: number) =>
      setView(clampWindow({ from: view.from + share * width, to: view.to + share * width }, samples));
    const scale = (factor: number) => {
      const middle = (view.from + view.to) / 2;
      setView(clampWindow({ from: middle - (factor * width) / 2, to: middle + (factor * width) / 2 }, samples));
    };
    const actions: Record<string, () => void> = {
      ArrowLeft: () => shift(-0.2),
      ArrowRight: () => shift(0.2),
      ArrowUp: () => scale(0.6),
      ArrowDown: () => scale(1 / 0.6),
      '+': () => scale(0.6),
      '-': () => scale(1 / 0.6),
      Home: () => setView({ from: 0, to: samples }),
      Escape: () => setCursors([]),
    };
    const action = actions[event.key];
    if (!action) return;
    event.preventDefault();
    action();
  };

  return (
    <figure className="m-0">
      <div className="no-print mb-1 flex flex-wrap items-center gap-1">
        {[{ name: 'Whole record', fromS: startS, toS: timeOf(samples) }, ...(props.views ?? [])].map(
          ({ name, fromS, toS }) => (
            <button
              key={name}
              type="button"
              onClick={() => setView(clampWindow({ from: sampleOf(fromS), to: sampleOf(toS) }, samples))}
              className="min-h-11 rounded-xl px-3 text-steel hover:bg-paper"
            >
              {name}
            </button>
          ),
        )}
        <span className="label ml-auto">Press to set a cursor, again for a second.</span>
      </div>
      <div
        tabIndex={0}
        role="application"
        aria-label={`${props.label}. Arrow keys move and zoom, Home shows all, a press sets a cursor, Escape clears them.`}
        onKeyDown={keys}
        style={{ height }}
        className="relative touch-none rounded-lg"
      >
        <canvas ref={canvas} />
      </div>
      <ErrorNotice
        text={missing ? 'This part of the trace can’t be loaded just now. Move or zoom to try it again.' : undefined}
      />
      <CursorReadout cursors={cursors} unit={props.unit} />
    </figure>
  );
}

function CursorReadout({ cursors, unit }: { cursors: readonly Cursor[]; unit: string }) {
  const [a, b] = cursors;
  if (!a) return null;
  const spanS = b ? Math.abs(b.timeS - a.timeS) : 0;
  return (
    <figcaption className="mt-1 flex flex-wrap gap-x-6 text-[0.93rem]" aria-live="polite">
      {cursors.map((cursor, i) => (
        <span key={i}>
          <b className="text-plum">{'AB'[i]}</b> {timeText(cursor.timeS, 0.5)} · {cursor.value.toFixed(2)} {unit}
        </span>
      ))}
      {b && spanS > 0 && (
        <span className="font-semibold">
          A to B {(spanS * 1000).toFixed(2)} ms · {Math.round(60 / spanS)} rpm if one turn ·{' '}
          {(b.value - a.value).toFixed(2)} {unit}
        </span>
      )}
    </figcaption>
  );
}

function nearest(points: readonly { x: number; y: number }[], x: number): number {
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

function cursorLines(cursors: readonly Cursor[]): AnnotationOptions[] {
  return cursors.map(({ timeS }, i) => ({
    type: 'line',
    xMin: timeS,
    xMax: timeS,
    borderColor: token('--plum'),
    borderWidth: 2,
    label: { display: true, content: 'AB'[i], position: 'end', backgroundColor: token('--plum'), color: '#fff' },
  }));
}

const token = (name: string) => getComputedStyle(document.documentElement).getPropertyValue(name).trim();

function configuration(
  startS: number,
  durationS: number,
  moved: (context: { chart: Chart }) => void,
  pressed: (event: ChartEvent, elements: unknown, chart: Chart) => void,
): ChartConfiguration<'line', { x: number; y: number }[]> {
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
