import type { Rung } from '@jarro/core';
import { useWidth } from './use-width';

export const HEIGHT = 96;
const TOP = 12;
const FLOOR = 86;
/** Steps smaller than this are not labelled. */
const LABEL_FROM_V = 0.1;

/** One stair: its loss as foretold and as measured, in volts from where the side begins. */
interface Stair {
  readonly id: string;
  readonly healthy: number;
  readonly measured?: number | undefined;
  readonly rung: Rung;
}

/** The way in: what is lost from battery + on, station by station; the last stair is the pump's feed. */
export function SupplyStairs({ rungs, limitV }: { rungs: readonly Rung[]; limitV: number }) {
  const stairs = supplyStairs(rungs);
  const most = Math.max(1, limitV * 1.25, ...stairs.map(({ measured }) => measured ?? 0));
  return (
    <Stairs
      stairs={stairs}
      y={(loss) => TOP + (Math.max(-0.05, loss) / most) * (FLOOR - TOP)}
      limit={{ at: limitV, label: `house limit ${limitV.toFixed(2)} V` }}
      empty="Choose a station below and read it with the pump running: battery first."
      ends={0.35}
    />
  );
}

/** The way out: what the pump's ground stands above battery -, down to nothing. */
export function GroundStairs({ rungs, limitV }: { rungs: readonly Rung[]; limitV: number }) {
  const stairs = rungs.map((rung) => ({
    id: rung.station.id,
    healthy: rung.healthyV,
    measured: rung.volts,
    rung,
  }));
  const most = Math.max(2 * limitV, ...stairs.map(({ measured }) => measured ?? 0));
  return (
    <Stairs
      stairs={stairs}
      y={(volts) => FLOOR - (Math.max(0, volts) / most) * (FLOOR - TOP)}
      limit={{ at: limitV, label: '' }}
      empty="Ground not read"
      ends={1}
      end={0}
    />
  );
}

/**
 * Loss by station. Behind a driver module the mean volts follow its duty, so there the loss counts from what the module
 * should put out.
 */
function supplyStairs(rungs: readonly Rung[]): Stair[] {
  let lost = 0;
  return rungs.map((rung, i) => {
    const before = rungs[i - 1];
    if (before && rung.station.kind !== 'module') lost += before.healthyV - rung.healthyV;
    const measured = rung.volts === undefined ? undefined : lost + rung.healthyV - rung.volts;
    return { id: rung.station.id, healthy: lost, measured, rung };
  });
}

interface StairsProps {
  readonly stairs: readonly Stair[];
  readonly y: (volts: number) => number;
  readonly limit: { readonly at: number; readonly label: string };
  readonly empty: string;
  /** Width of the last stair, in stairs. */
  readonly ends: number;
  /** Where the stairs end, if it is known without reading. */
  readonly end?: number;
}

/** Healthy faint, measured solid; dashed across stations that were skipped; rust where too much is lost. */
function Stairs({ stairs, y, limit, empty, ends, end }: StairsProps) {
  const [ref, width] = useWidth();
  const cell = width / (stairs.length - 1 + ends);
  const x = (i: number) => Math.min(width, i * cell);
  const read = stairs.flatMap(({ measured, rung }, i) => (measured === undefined ? [] : [{ i, at: measured, rung }]));
  if (read.length === 0) {
    return (
      <p ref={ref} className="grid place-items-center text-center text-soft" style={{ height: HEIGHT }}>
        {empty}
      </p>
    );
  }
  const healthy = stairs.map((stair, i) => `H${x(i)}V${y(stair.healthy)}H${x(i + 1)}`).join('');
  const limitY = y(limit.at);
  const last = read[read.length - 1];
  return (
    <svg ref={ref} height={HEIGHT} className="w-full" aria-hidden>
      <line x1={0} x2={width} y1={limitY} y2={limitY} stroke="var(--soft)" strokeDasharray="2 4" />
      {limit.label && (
        <text x={4} y={limitY - 5} fontSize="12" fill="var(--soft)">
          {limit.label}
        </text>
      )}
      <path
        d={`M0 ${y(stairs[0].healthy)}${healthy}`}
        fill="none"
        stroke="var(--steel)"
        strokeWidth="2"
        opacity="0.45"
      />
      {read.map((point, k) => {
        const next = read[k + 1];
        return next ? (
          <Tread key={point.rung.station.id} x={x} y={y} from={point} to={next} width={width} />
        ) : (
          <line
            key={point.rung.station.id}
            x1={x(point.i)}
            x2={x(point.i + 1)}
            y1={y(point.at)}
            y2={y(point.at)}
            stroke="var(--ink)"
            strokeWidth="3.5"
          />
        );
      })}
      {end !== undefined && (
        <Tread x={x} y={y} from={last} to={{ i: stairs.length, at: end, rung: last.rung }} width={width} />
      )}
    </svg>
  );
}

interface Point {
  readonly i: number;
  readonly at: number;
  readonly rung: Rung;
}

/** From one station that was read to the next: a tread, the riser, and what it means where it is too high. */
function Tread({
  x,
  y,
  from,
  to,
  width,
}: {
  x: (i: number) => number;
  y: (volts: number) => number;
  from: Point;
  to: Point;
  width: number;
}) {
  // A step belongs to the rung that it leads to on the supply side, and to the one it starts from on the ground side.
  const step = from.rung.side === 'ground' ? from.rung.step : to.rung.step;
  const bad = step !== undefined && !step.within;
  const [here, there, riser] = [y(from.at), y(to.at), x(to.i)];
  const [top, bottom] = [Math.min(here, there), Math.max(here, there)];
  const suspectFrom = x(Math.min(from.i + 1, to.i));
  return (
    <g>
      {bad && (
        <rect
          x={suspectFrom - 6}
          y={top}
          width={Math.max(24, riser - suspectFrom + 12)}
          height={Math.max(2, bottom - top)}
          fill="var(--rust)"
          opacity="0.22"
        />
      )}
      <g stroke="var(--ink)" strokeWidth="3.5">
        <line x1={x(from.i)} x2={x(Math.min(from.i + 1, to.i))} y1={here} y2={here} />
        {to.i > from.i + 1 && (
          <line x1={x(from.i + 1)} x2={riser} y1={here} y2={here} strokeDasharray="5 5" strokeWidth="2" />
        )}
        <line x1={riser} x2={riser} y1={here} y2={there} />
      </g>
      {bad && step.dropV >= LABEL_FROM_V && (
        <StepLabel
          x={riser}
          y={bottom - top > 40 ? (top + bottom) / 2 : Math.min(bottom + 18, HEIGHT - 14)}
          step={step}
          room={width}
        />
      )}
    </g>
  );
}

function StepLabel({ x, y, step, room }: { x: number; y: number; step: NonNullable<Rung['step']>; room: number }) {
  const right = room - x > 150;
  return (
    <g fill="var(--rust)" textAnchor={right ? 'start' : 'end'}>
      <text x={right ? x + 16 : x - 16} y={y} fontSize="20" fontWeight="700">
        {step.dropV.toFixed(2)} V
      </text>
      {step.resistanceOhm !== undefined && step.powerW !== undefined && (
        <text x={right ? x + 16 : x - 16} y={y + 15} fontSize="13">
          {step.resistanceOhm.toFixed(2)} Ω · {step.powerW.toFixed(1)} W
        </text>
      )}
    </g>
  );
}
