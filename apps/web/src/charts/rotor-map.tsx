import type { Bar } from '@jarro/core';
import { BAR_STATE_NAMES } from '../app/words';

const SIZE = 240;
const CENTER = SIZE / 2;
const HUB = 30;
const RIM = 92;
/** Share of the draw shown between hub and rim at the least, so that sound bars don't look ragged. */
const LEAST_RANGE = 0.4;

/** The commutator as the brushes meet it: a bar a sector, its length the bar's current. Low bars are named, not only coloured. */
export function RotorMap({ bars, basis }: { bars: readonly Bar[]; basis: string }) {
  const highest = Math.max(...bars.map((bar) => bar.relative));
  const lowest = Math.min(...bars.map((bar) => bar.relative), highest - LEAST_RANGE);
  const radius = (relative: number) => HUB + ((RIM - HUB) * (relative - lowest + 0.06)) / (highest - lowest + 0.06);
  const step = (2 * Math.PI) / bars.length;
  return (
    <svg viewBox={`0 0 ${SIZE} ${SIZE}`} className="w-full max-w-64" role="img" aria-label={describe(bars)}>
      {[0.4, 0.7, 1].map((share) => (
        <circle key={share} cx={CENTER} cy={CENTER} r={HUB + share * (RIM - HUB)} fill="none" stroke="var(--line)" />
      ))}
      {bars.map((bar, i) => {
        const from = i * step + 0.05;
        const to = (i + 1) * step - 0.05;
        const bad = bar.state !== 'sound';
        const [x, y] = polar(RIM + 15, (from + to) / 2);
        return (
          <g key={bar.index}>
            <path
              d={sector(HUB, radius(bar.relative), from, to)}
              fill={bad ? 'var(--rust)' : 'var(--steel)'}
              opacity={bad ? 1 : 0.82}
            />
            <text
              x={x}
              y={y}
              textAnchor="middle"
              dominantBaseline="central"
              fontSize={bad ? 15 : 13}
              fontWeight={bad ? 700 : 400}
              fill={bad ? 'var(--rust)' : 'var(--soft)'}
            >
              {bar.index}
              {bad && '!'}
            </text>
          </g>
        );
      })}
      <text
        x={CENTER}
        y={CENTER - 5}
        textAnchor="middle"
        dominantBaseline="central"
        fontSize="18"
        fontWeight="700"
        fill="var(--ink)"
      >
        {bars.length}
      </text>
      <text
        x={CENTER}
        y={CENTER + 12}
        textAnchor="middle"
        dominantBaseline="central"
        fontSize="10.5"
        fill="var(--soft)"
      >
        {basis}
      </text>
    </svg>
  );
}

function describe(bars: readonly Bar[]): string {
  const bad = bars.filter((bar) => bar.state !== 'sound');
  if (bad.length === 0) return `Rotor map: ${bars.length} bars, all sound`;
  const list = bad.map(
    (bar) => `bar ${bar.index} ${BAR_STATE_NAMES[bar.state]}, ${Math.min(100, Math.round(-100 * bar.relative))} % down`,
  );
  return `Rotor map: ${bars.length} bars; ${list.join('; ')}`;
}

/** Angle 0 is up, clockwise. */
function polar(radius: number, angle: number): [number, number] {
  return [CENTER + radius * Math.sin(angle), CENTER - radius * Math.cos(angle)];
}

function sector(inner: number, outer: number, from: number, to: number): string {
  const [a, b, c, d] = [polar(outer, from), polar(outer, to), polar(inner, to), polar(inner, from)].map(String);
  const large = to - from > Math.PI ? 1 : 0;
  return `M${a} A${outer} ${outer} 0 ${large} 1 ${b} L${c} A${inner} ${inner} 0 ${large} 0 ${d}Z`;
}
