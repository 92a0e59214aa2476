import { type HoldRecord, shownAs } from '@jarro/core';
import { Chart, LinearScale, LineController, LineElement, PointElement, type ChartConfiguration } from 'chart.js';
import { useEffect, useRef } from 'react';
import type { PressureUnitName } from '@jarro/api-types';
import { useTheme } from '../../app/theme';

Chart.register(LineController, LineElement, PointElement, LinearScale);

const MINUTES_FROM_S = 180;

const DASHES: Record<HoldRecord['blocked'], number[]> = { none: [], supply: [6, 4], return: [2, 3] };

/** Pressure over minutes, a line a test; which line was blocked shows in its dashes. */
export function HoldCurve({ records, unit }: { records: readonly HoldRecord[]; unit: PressureUnitName }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const key = JSON.stringify([records, unit, useTheme()]);
  useEffect(() => {
    if (!canvas.current) return;
    const style = getComputedStyle(document.documentElement);
    const ink = style.getPropertyValue('--ink');
    const soft = style.getPropertyValue('--soft');
    const line = style.getPropertyValue('--line');
    const { text } = shownAs('Pa', 'rail', unit);
    const longestS = Math.max(...records.map(({ points }) => points[points.length - 1][0]));
    const perTick = longestS > MINUTES_FROM_S ? 60 : 1;
    const config: ChartConfiguration<'line', { x: number; y: number }[]> = {
      type: 'line',
      data: {
        datasets: records.map(({ points, blocked }) => ({
          data: points.map(([atS, pascal]) => ({ x: atS / perTick, y: Number(text(pascal)) })),
          borderColor: ink,
          backgroundColor: ink,
          borderDash: DASHES[blocked],
          borderWidth: 2,
          pointRadius: points.length > 40 ? 0 : 3.5,
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
            ticks: {
              color: soft,
              maxTicksLimit: 6,
              callback: (value) => `${Number(value)} ${perTick === 60 ? 'min' : 's'}`,
            },
          },
          y: { beginAtZero: true, grid: { color: line }, ticks: { color: soft, maxTicksLimit: 5 } },
        },
      },
    };
    const chart = new Chart(canvas.current, config);
    return () => chart.destroy();
    // The key holds all that is drawn.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [key]);
  return (
    <div className="h-36">
      <canvas ref={canvas} role="img" aria-label="Pressure over time after shut-down" />
    </div>
  );
}
