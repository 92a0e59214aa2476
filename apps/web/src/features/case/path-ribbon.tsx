import { voltageLadder, type HouseLimits, type LadderStep } from '@jarro/core';
import { Check, Minus, Pause, TriangleAlert } from 'lucide-react';
import { useRef, useEffect, useState } from 'react';
import type { CaseDetail, ReadingKind } from '../../app/types';
import { grouped, STATION_NAMES } from '../../app/words';
import { newestLoaded, standingCaptures, verdictsOf } from './evidence';

interface RibbonProps {
  readonly item: CaseDetail;
  readonly limits: HouseLimits;
  readonly onStation: (kind: ReadingKind) => void;
}

const HEIGHT = 96;
const TOP = 12;
const FLOOR = 86;
/** Steps smaller than this are not labelled. */
const LABEL_FROM_V = 0.1;

/** The signature: the vehicle's own supply path as a staircase of volts, station by station, and the way to enter a reading. */
export function PathRibbon({ item, limits: { supplyDropV, groundDropV }, onStation }: RibbonProps) {
  const volts = newestLoaded(item);
  const ladder = voltageLadder(volts, groundDropV);
  const supply = ladder.filter((step) => step.station !== 'pump_ground');
  const ground = ladder.find((step) => step.station === 'pump_ground');
  const ramp = standingCaptures(item).at(-1)?.analysis?.ramp;
  const across = item.ledger.acrossPumpV;
  // Before anything is known of the path, the stations alone leave the room to the work.
  const begun = Object.keys(volts).length > 0 || ramp !== undefined;
  return (
    <section aria-label="Supply path" className="card p-3 pt-2">
      {begun && (
        <div className="grid grid-cols-8 gap-2">
          <div className="col-span-8 md:col-span-5">
            <div className="label">Volts lost on the way in, pump running</div>
            <Staircase steps={supply} currentA={ramp?.steady?.meanA} limitV={supplyDropV} />
          </div>
          <div className="col-span-8 mt-1 flex flex-wrap items-baseline justify-center gap-x-4 md:col-span-1 md:grid md:content-center md:gap-0 justify-items-center rounded-xl bg-enamel px-1 py-2 text-on-enamel">
            <div className="text-2xl leading-tight font-bold whitespace-nowrap md:text-xl lg:text-2xl">
              {across === undefined ? '–' : `${across.toFixed(2)} V`}
            </div>
            <div className="text-lg leading-tight font-semibold text-[#f0c987]">
              {ramp?.steady
                ? `${ramp.steady.meanA.toFixed(2)} A`
                : ramp?.pattern === 'no-current'
                  ? 'no current'
                  : 'no capture'}
            </div>
            <div className="text-[0.93rem]">
              {ramp?.rpm === undefined ? 'across the pump' : `${grouped(ramp.rpm)} rpm`}
            </div>
          </div>
          <div className="col-span-2 hidden md:block">
            <div className="label text-right">Volts left on the way out</div>
            <GroundSteps step={ground} limitV={groundDropV} />
          </div>
        </div>
      )}
      <div className="mt-1 grid grid-cols-4 gap-2 md:grid-cols-8">
        {supply.map((step) => (
          <StationButton key={step.station} step={step} onStation={onStation} />
        ))}
        <PumpStation item={item} />
        <StationButton step={ground ?? { station: 'pump_ground', standing: 'unknown' }} onStation={onStation} />
        <div className="rounded-xl border border-line px-2 py-1.5">
          <div className="flex flex-col justify-between text-[0.93rem] font-semibold lg:flex-row">
            <span>Battery −</span>
            <span>0.00</span>
          </div>
          <div className="text-[0.87rem] text-soft">reference</div>
        </div>
      </div>
    </section>
  );
}

const STANDINGS = {
  cleared: { mark: Check, word: 'cleared', tone: 'text-mineral' },
  suspect: { mark: TriangleAlert, word: 'suspect', tone: 'text-rust' },
  unknown: { mark: Minus, word: 'not read', tone: 'text-soft' },
} as const;

function StationButton({ step, onStation }: { step: LadderStep; onStation: (kind: ReadingKind) => void }) {
  const { mark: Mark, word, tone } = STANDINGS[step.standing];
  return (
    <button
      type="button"
      onClick={() => onStation(step.station)}
      className={`min-h-12 rounded-xl border px-2 py-1.5 text-left hover:border-ink ${step.standing === 'suspect' ? 'border-2 border-rust' : 'border-line'}`}
    >
      <div className="flex flex-col justify-between gap-x-1 text-[0.93rem] font-semibold lg:flex-row">
        <span className="truncate">{STATION_NAMES[step.station]}</span>
        <span>{step.volts?.toFixed(2) ?? '\u00a0'}</span>
      </div>
      <div className={`flex items-center gap-1 text-[0.87rem] ${tone}`}>
        <Mark aria-hidden className="size-3.5" />{' '}
        {step.volts !== undefined && step.standing === 'unknown' ? 'read' : word}
      </div>
    </button>
  );
}

function PumpStation({ item }: { item: CaseDetail }) {
  const verdict = item.stage === 'open' ? undefined : verdictsOf(item).at(-1)?.value.kind;
  const [Mark, word, tone] =
    verdict === 'replace-pump'
      ? ([TriangleAlert, 'condemned', 'text-rust'] as const)
      : verdict === 'no-fault-found'
        ? ([Check, 'cleared', 'text-mineral'] as const)
        : item.gate.allowed
          ? ([TriangleAlert, 'proven bad', 'text-rust'] as const)
          : ([Pause, 'held back', 'text-ochre'] as const);
  return (
    <div className="rounded-xl border border-line px-2 py-1.5">
      <div className="text-[0.93rem] font-semibold">Pump</div>
      <div className={`flex items-center gap-1 text-[0.87rem] ${tone}`}>
        <Mark aria-hidden className="size-3.5" /> {word}
      </div>
    </div>
  );
}

/** Solid where both ends were read, dashed where a station between was skipped. */
function Staircase({
  steps,
  currentA,
  limitV,
}: {
  steps: readonly LadderStep[];
  currentA: number | undefined;
  limitV: number;
}) {
  const [ref, width] = useWidth();
  const read = steps.map((step, i) => ({ ...step, i })).filter((step) => step.volts !== undefined);
  const first = read[0]?.volts;
  if (first === undefined) {
    return (
      <p ref={ref} className="grid place-items-center text-soft" style={{ height: HEIGHT }}>
        Choose a station below and read it with the pump running: battery first.
      </p>
    );
  }
  const lowest = Math.min(...read.map((step) => step.volts ?? first), first - 1);
  const y = (v: number) => TOP + ((first - v) / (first - lowest)) * (FLOOR - TOP);
  const cell = width / steps.length;
  const limitY = y(first - limitV);
  return (
    <svg ref={ref} height={HEIGHT} className="w-full" aria-hidden>
      <line x1={0} x2={width} y1={limitY} y2={limitY} stroke="var(--soft)" strokeDasharray="2 4" />
      <text x={4} y={limitY - 5} fontSize="12" fill="var(--soft)">
        house limit {limitV.toFixed(2)} V
      </text>
      {read.map((step, k) => {
        const next = read[k + 1];
        const here = y(step.volts ?? first);
        const endX = next ? next.i * cell : (step.i + 1) * cell;
        const solidTo = Math.min(endX, (step.i + 1) * cell);
        return (
          <g key={step.station} stroke="var(--ink)" strokeWidth="3.5" fill="none">
            <line x1={step.i * cell} x2={solidTo} y1={here} y2={here} />
            {endX > solidTo && (
              <line x1={solidTo} x2={endX} y1={here} y2={here} strokeDasharray="5 5" strokeWidth="2" />
            )}
            {next && (
              <DropStep
                x={endX}
                from={here}
                to={y(next.volts ?? first)}
                step={next}
                currentA={currentA}
                room={width - endX}
              />
            )}
          </g>
        );
      })}
    </svg>
  );
}

function DropStep({
  x,
  from,
  to,
  step,
  currentA,
  room,
}: {
  x: number;
  from: number;
  to: number;
  step: LadderStep;
  currentA: number | undefined;
  room: number;
}) {
  const dropV = step.dropV ?? 0;
  const bad = step.standing === 'suspect';
  // Beside a tall step, below a small one.
  const labelY = to - from > 40 ? (from + to) / 2 : to + 22;
  const side = room > 170 ? { x: x + 20, anchor: 'start' as const } : { x: x - 20, anchor: 'end' as const };
  return (
    <>
      {bad && (
        <rect
          x={x - 13}
          y={from}
          width={26}
          height={Math.max(2, to - from)}
          fill="var(--rust)"
          opacity="0.28"
          stroke="none"
        />
      )}
      <line x1={x} x2={x} y1={from} y2={to} />
      {bad && dropV >= LABEL_FROM_V && (
        <g stroke="none" fill="var(--rust)" textAnchor={side.anchor}>
          <text x={side.x} y={labelY} fontSize="20" fontWeight="700">
            {dropV.toFixed(2)} V
          </text>
          {currentA !== undefined && currentA > 0.2 && room + x > 400 && (
            <text x={side.x} y={labelY + 16} fontSize="13">
              {(dropV / currentA).toFixed(2)} Ω · {(dropV * currentA).toFixed(1)} W in between
            </text>
          )}
        </g>
      )}
    </>
  );
}

function GroundSteps({ step, limitV }: { step: LadderStep | undefined; limitV: number }) {
  const [ref, width] = useWidth();
  const volts = step?.volts;
  if (volts === undefined) {
    return (
      <p ref={ref} className="grid place-items-center text-center text-soft" style={{ height: HEIGHT }}>
        Ground not read
      </p>
    );
  }
  const y = (v: number) => FLOOR - (v / Math.max(limitV * 2, volts)) * (FLOOR - TOP - 14);
  const bad = step?.standing === 'suspect';
  return (
    <svg ref={ref} height={HEIGHT} className="w-full" aria-hidden>
      <line x1={0} x2={width} y1={y(limitV)} y2={y(limitV)} stroke="var(--soft)" strokeDasharray="2 4" />
      <path d={`M0 ${y(volts)}H${width / 2}V${y(0)}H${width}`} fill="none" stroke="var(--ink)" strokeWidth="3.5" />
      <text
        x={width / 2 + 8}
        y={(y(volts) + y(0)) / 2}
        fontSize={bad ? 20 : 15}
        fontWeight={bad ? 700 : 400}
        fill={bad ? 'var(--rust)' : 'var(--mineral)'}
      >
        {volts.toFixed(2)} V
      </text>
    </svg>
  );
}

/** The drawn width in px, kept up to date. */
function useWidth() {
  const [width, setWidth] = useState(300);
  const element = useRef<Element | null>(null);
  const ref = (node: Element | null) => {
    element.current = node;
  };
  useEffect(() => {
    const observer = new ResizeObserver(([entry]) => setWidth(entry.contentRect.width));
    if (element.current) observer.observe(element.current);
    return () => observer.disconnect();
  });
  return [ref, width] as const;
}
