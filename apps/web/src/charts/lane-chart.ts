import {
  CategoryScale,
  Chart,
  LinearScale,
  LineController,
  LineElement,
  PointElement,
  type ChartConfiguration,
  type ChartDataset,
  type ChartEvent,
} from 'chart.js';
import annotationPlugin, { type AnnotationOptions } from 'chartjs-plugin-annotation';
import zoomPlugin from 'chartjs-plugin-zoom';
import type { Span, TraceLane, TraceMark } from './signals';
import { timeText } from './trace-window';

Chart.register(LineController, LineElement, PointElement, LinearScale, CategoryScale, annotationPlugin, zoomPlugin);

/** Spans shorter than this share of the screen would only smear it. */
const LEAST_SHARE = 0.002;
const MOST_SPANS = 60;
const MOST_MARKS = 40;
/** Room for the numbers beside every lane, so that their times stand under each other, px. */
export const SCALE_WIDTH = 52;
/** A label of the time beside the edge may not narrow its lane, px. */
export const EDGE = 14;

export const FONT = { family: 'Atkinson Hyperlegible Next Variable', size: 13 };

export const token = (name: string) => getComputedStyle(document.documentElement).getPropertyValue(name).trim();

/** How signals of one lane are told apart: by colour and by dash. */
export const LINES = [
  { token: '--ink', dash: [] },
  { token: '--steel', dash: [7, 3] },
  { token: '--plum', dash: [2, 3] },
  { token: '--ochre', dash: [10, 3, 2, 3] },
] as const;

export function annotate(chart: Chart | null, annotations: AnnotationOptions[]): void {
  const plugin = chart?.options.plugins?.annotation;
  if (!chart || !plugin) return;
  plugin.annotations = annotations;
  chart.update('none');
}

export function setLimits(chart: Chart, min: number, max: number): void {
  const x = chart.options.scales?.x;
  if (x) Object.assign(x, { min, max });
}

const TONES = {
  turn: '#b9842026',
  inrush: '#2c5b881f',
  dropout: '#b4472b33',
} as const;

/** A turn that is narrower than so much of the view has no room for its label, and nothing to show. */
const TURN_SHARE = 0.1;

export function spanBoxes(spans: readonly Span[], fromS: number, toS: number): AnnotationOptions[] {
  const shown = spans.filter(
    (span) => span.toS > fromS && span.fromS < toS && span.toS - span.fromS > LEAST_SHARE * (toS - fromS),
  );
  return shown.slice(0, MOST_SPANS).map(({ fromS: xMin, toS: xMax, label, tone }): AnnotationOptions => ({
    type: 'box',
    xMin,
    xMax,
    backgroundColor: TONES[tone],
    borderWidth: 0,
    ...(label &&
      (tone !== 'turn' || xMax - xMin > TURN_SHARE * (toS - fromS)) && {
        label: {
          display: true,
          content: label,
          position: { x: labelPlace(0.5 * (xMin + xMax), fromS, toS), y: 'start' },
          color: token('--ink'),
          font: { ...FONT, weight: 'bold' },
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

export function cursorLines(cursorsS: readonly number[]): AnnotationOptions[] {
  return cursorsS.map((timeS, i) => ({
    ...upright(timeS, '--plum'),
    label: { display: true, content: 'AB'[i], position: 'end', backgroundColor: token('--plum'), color: '#fff' },
  }));
}

/** Numbered, as the list of them is. */
export function markLines(marks: readonly TraceMark[], fromS: number, toS: number): AnnotationOptions[] {
  return marks
    .map(({ atS }, i) => ({ atS, number: i + 1 }))
    .filter(({ atS }) => atS >= fromS && atS <= toS)
    .slice(0, MOST_MARKS)
    .map(({ atS, number }) => ({
      ...upright(atS, '--ink'),
      borderDash: [5, 4],
      label: {
        display: true,
        content: String(number),
        position: 'start' as const,
        backgroundColor: token('--card'),
        color: token('--ink'),
        borderColor: token('--ink'),
        borderWidth: 1,
        font: { ...FONT, weight: 'bold' as const },
      },
    }));
}

function upright(timeS: number, color: string) {
  return { type: 'line' as const, xMin: timeS, xMax: timeS, borderColor: token(color), borderWidth: 2 };
}

type Points = { x: number; y: number }[];

/** What a lane is drawn as; its points come later. */
export function laneConfiguration({
  lane,
  startS,
  durationS,
  showsTime,
  hasRight,
  moved,
  pressed,
}: {
  readonly lane: TraceLane;
  readonly startS: number;
  readonly durationS: number;
  readonly showsTime: boolean;
  /** Some lane of the trace has a scale on the right: all leave room for it. */
  readonly hasRight: boolean;
  readonly moved: (context: { chart: Chart }) => void;
  readonly pressed: (event: ChartEvent, elements: unknown, chart: Chart) => void;
}): ChartConfiguration<'line', Points> {
  const [{ unit }] = lane;
  const datasets = lane.map((signal, i): ChartDataset<'line', Points> => {
    const look = LINES[i % LINES.length];
    return {
      ...{ data: [], borderWidth: i === 0 ? 1.4 : 1.8, pointRadius: 0, tension: 0 },
      borderColor: () => token(look.token),
      borderDash: [...look.dash],
      yAxisID: signal.unit === unit ? 'y' : 'right',
    };
  });
  const isRightUsed = lane.some((signal) => signal.unit !== unit);
  const scale = (drawn: boolean, ticks: boolean) => ({
    grace: '12%',
    afterFit: (fitted: { width: number }) => {
      fitted.width = SCALE_WIDTH;
    },
    grid: { color: () => token('--line'), drawOnChartArea: drawn, drawTicks: ticks },
    border: { display: false },
    ticks: { display: ticks, font: FONT, color: () => token('--soft'), maxTicksLimit: 7 },
  });
  return {
    type: 'line',
    data: { datasets },
    options: {
      animation: false,
      parsing: false,
      normalized: true,
      maintainAspectRatio: false,
      layout: { autoPadding: false, padding: { right: EDGE, top: 4 } },
      onClick: pressed,
      events: ['click'],
      scales: {
        x: timeScale(startS, durationS, showsTime),
        y: scale(true, true),
        ...(hasRight && { right: { ...scale(false, isRightUsed), position: 'right' } }),
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

function timeScale(startS: number, durationS: number, showsTime: boolean) {
  return {
    type: 'linear' as const,
    min: startS,
    max: startS + durationS,
    grid: { display: false },
    display: showsTime,
    ticks: {
      font: FONT,
      color: () => token('--soft'),
      maxTicksLimit: 8,
      autoSkipPadding: 14,
      includeBounds: false,
      maxRotation: 0,
      callback(this: { readonly min: number; readonly max: number }, value: number | string) {
        return timeText(Number(value), this.max - this.min);
      },
    },
  };
}
