import { Chart, LinearScale, LineController, LineElement, PointElement } from 'chart.js';
import annotationPlugin, { type AnnotationOptions } from 'chartjs-plugin-annotation';
import { useEffect, useRef, type PointerEvent } from 'react';
import { useTheme } from '../app/theme';
import { annotate, EDGE, SCALE_WIDTH, token } from './lane-chart';
import type { TraceSignal } from './signals';
import { toPoints, type Recorded, type TraceEvent, type TraceWindow } from './trace-window';

Chart.register(LineController, LineElement, PointElement, LinearScale, annotationPlugin);

/** More would make one band of them. */
const MOST_EVENTS = 300;
/** A window narrower than this share of the record is drawn that wide, so that it is seen. */
const LEAST_SHOWN = 0.006;

/** The whole record in a strip: where the window is, where something happened; a press or a drag moves the window there. */
export function Strip({
  signal,
  recorded,
  view,
  events,
  hasRight,
  onGo,
}: {
  readonly signal: TraceSignal;
  readonly recorded: Recorded;
  readonly view: TraceWindow;
  readonly events: readonly TraceEvent[];
  /** The lanes have scales on the right. */
  readonly hasRight: boolean;
  /** The sample that the window shall have in its middle. */
  readonly onGo: (sample: number) => void;
}) {
  const { samples, sampleRateHz, startS } = recorded;
  const { source } = signal;
  const canvas = useRef<HTMLCanvasElement>(null);
  const chart = useRef<Chart | null>(null);
  const theme = useTheme();

  useEffect(() => {
    if (!canvas.current) return;
    const newer = new AbortController();
    const hidden = { display: false } as const;
    const made = new Chart(canvas.current, {
      type: 'line',
      data: {
        datasets: [
          { data: [] as { x: number; y: number }[], borderColor: token('--soft'), borderWidth: 1, pointRadius: 0 },
        ],
      },
      options: {
        ...{
          layout: { autoPadding: false },
          animation: false,
          parsing: false,
          normalized: true,
          maintainAspectRatio: false,
          events: [],
        },
        scales: { x: { ...hidden, type: 'linear', min: 0, max: samples }, y: { ...hidden, grace: '10%' } },
        plugins: { annotation: { annotations: [] } },
      },
    });
    chart.current = made;
    const all = { from: 0, to: samples };
    const columns = Math.min(samples, Math.max(200, canvas.current.clientWidth));
    source(all, columns, newer.signal).then(
      (pairs) => {
        if (newer.signal.aborted) return;
        made.data.datasets[0].data = toPoints(pairs, all, (sample) => sample);
        made.update('none');
      },
      // The lanes say what can't be loaded.
      () => undefined,
    );
    return () => {
      newer.abort();
      made.destroy();
      chart.current = null;
    };
  }, [source, samples, theme]);

  useEffect(() => {
    const least = (LEAST_SHOWN * samples) / 2;
    const middle = (view.from + view.to) / 2;
    const half = Math.max(least, (view.to - view.from) / 2);
    const ticks = events.slice(0, MOST_EVENTS).map(({ atS }): AnnotationOptions => {
      const at = (atS - startS) * sampleRateHz;
      return { type: 'line', xMin: at, xMax: at, borderColor: token('--rust'), borderWidth: 1.5 };
    });
    annotate(chart.current, [
      ...ticks,
      {
        ...{ type: 'box', xMin: middle - half, xMax: middle + half, borderWidth: 2 },
        ...{ backgroundColor: `${token('--steel')}18`, borderColor: token('--steel') },
      },
    ]);
  }, [view, events, samples, sampleRateHz, startS, source, theme]);

  const go = ({ clientX, currentTarget, buttons, type }: PointerEvent<HTMLDivElement>) => {
    if (type === 'pointermove' && buttons === 0) return;
    const { left, width } = currentTarget.getBoundingClientRect();
    onGo(((clientX - left) / width) * samples);
  };

  return (
    <div
      role="img"
      aria-label={`The whole record, with ${events.length} events and the part that is shown; press where to go`}
      className="no-print mb-1 h-11 cursor-pointer touch-none rounded-lg bg-paper"
      // Its times stand above those of the lanes.
      style={{ marginLeft: SCALE_WIDTH, marginRight: EDGE + (hasRight ? SCALE_WIDTH : 0) }}
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        go(event);
      }}
      onPointerMove={go}
    >
      <canvas ref={canvas} />
    </div>
  );
}
