import { Chart, LinearScale, LineController, LineElement, PointElement, type ChartConfiguration } from 'chart.js';
import { useEffect, useRef } from 'react';
import { useTheme } from '../app/theme';

Chart.register(LineController, LineElement, PointElement, LinearScale);

/** One line of a chart. */
export interface XyLine {
  readonly name: string;
  readonly points: readonly (readonly [x: number, y: number])[];
  readonly tone: 'ink' | 'rust' | 'steel';
  readonly dash?: readonly number[];
  /** Points only, with no line through them. */
  readonly isCloud?: boolean;
}

/** Where points stand too close to be marked one by one. */
const CROWDED = 40;

/** A few lines over one axis each way, from zero unless told otherwise; named below where there are several. */
export function XyLines({
  label,
  lines,
  xText,
  yText = String,
  height = 'h-36',
  yFromZero = true,
}: {
  readonly label: string;
  readonly lines: readonly XyLine[];
  readonly xText: (x: number) => string;
  readonly yText?: (y: number) => string;
  readonly height?: string;
  readonly yFromZero?: boolean;
}) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const key = JSON.stringify([lines, useTheme()]);
  useEffect(() => {
    if (!canvas.current) return;
    const style = getComputedStyle(document.documentElement);
    const colour = (name: string) => style.getPropertyValue(`--${name}`);
    const config: ChartConfiguration<'line', { x: number; y: number }[]> = {
      type: 'line',
      data: {
        datasets: lines.map(({ points, tone, dash = [], isCloud = false }) => ({
          data: points.map(([x, y]) => ({ x, y })),
          borderColor: colour(tone),
          backgroundColor: colour(tone),
          borderDash: [...dash],
          borderWidth: 2,
          showLine: !isCloud,
          pointRadius: isCloud ? 2 : points.length > CROWDED ? 0 : 3.5,
        })),
      },
      options: {
        animation: false,
        responsive: true,
        maintainAspectRatio: false,
        font: { family: getComputedStyle(document.body).fontFamily },
        scales: {
          x: {
            type: 'linear',
            min: 0,
            grid: { display: false },
            ticks: { color: colour('soft'), maxTicksLimit: 6, callback: (value) => xText(Number(value)) },
          },
          y: {
            beginAtZero: yFromZero,
            grid: { color: colour('line') },
            ticks: { color: colour('soft'), maxTicksLimit: 5, callback: (value) => yText(Number(value)) },
          },
        },
      },
    };
    const chart = new Chart(canvas.current, config);
    return () => chart.destroy();
    // The key holds all that is drawn.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [key]);
  return (
    <figure className="m-0">
      <div className={height}>
        <canvas ref={canvas} role="img" aria-label={label} />
      </div>
      {lines.length > 1 && (
        <figcaption className="label flex flex-wrap gap-x-5">
          {lines.map(({ name, tone, dash, isCloud }) => (
            <span key={name}>
              <span className={`font-bold ${TONES[tone]}`}>{isCloud ? '· · ·' : dash ? '- - -' : '━━'}</span> {name}
            </span>
          ))}
        </figcaption>
      )}
    </figure>
  );
}

const TONES = { ink: 'text-ink', rust: 'text-rust', steel: 'text-steel' } as const;
