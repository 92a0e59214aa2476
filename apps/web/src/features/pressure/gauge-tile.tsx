import {
  type Entry,
  type EntryKind,
  findNumber,
  KEY_STATE_NAMES,
  type KeyState,
  pressureText,
  type SheetLine,
  SPEC_BASIS_NAMES,
  shownAs,
  type Spec,
  type Standing,
} from '@jarro/core';
import { Check, Minus, Plus, TriangleAlert } from 'lucide-react';
import type { ReactNode } from 'react';
import type { PressureUnitName } from '@jarro/api-types';
import { usePressureUnit } from '../../app/units';

const MARKS: Record<Standing, { mark: typeof Check; word: string; tone: string }> = {
  within: { mark: Check, word: 'within', tone: 'text-mineral' },
  low: { mark: TriangleAlert, word: 'low', tone: 'text-rust' },
  high: { mark: TriangleAlert, word: 'high', tone: 'text-rust' },
  unjudged: { mark: Minus, word: 'not judged', tone: 'text-soft' },
};

/** One state's gauge reading, large enough to be read from under the vehicle, against its window. */
export function GaugeTile({
  state,
  spec,
  line,
  unit,
  onMeasure,
}: {
  state: KeyState;
  spec: Spec | undefined;
  line: SheetLine | undefined;
  unit: PressureUnitName;
  onMeasure: (() => void) | undefined;
}) {
  const standing = line && MARKS[line.counts ? line.standing : 'unjudged'];
  const Mark = standing?.mark ?? Plus;
  const bad = line?.counts && (line.standing === 'low' || line.standing === 'high');
  return (
    <button
      type="button"
      onClick={onMeasure}
      disabled={!onMeasure}
      aria-label={`${KEY_STATE_NAMES[state]}: ${line ? `${pressureText(line.pascal, unit)} ${unit}, ${standing?.word}` : 'not read'}`}
      className={`rounded-2xl border p-3 text-left enabled:hover:border-ink ${bad ? 'border-2 border-rust' : 'border-line'}`}
    >
      <span className="flex items-center justify-between font-semibold">
        {KEY_STATE_NAMES[state]}
        <span className={`flex items-center gap-1 text-[0.93rem] ${standing?.tone ?? 'text-soft'}`}>
          <Mark aria-hidden className="size-4" /> {standing?.word ?? 'enter'}
        </span>
      </span>
      <span className="mt-1 block text-6xl leading-none font-bold tracking-tight whitespace-nowrap">
        {line ? pressureText(line.pascal, unit) : <span className="text-line">–</span>}
        <span className="ml-1 text-lg font-normal text-soft">{unit}</span>
      </span>
      <WindowBar pascal={line?.pascal} spec={spec} />
      <span className="label block">
        {spec
          ? `${pressureText(spec.minPa, unit)} to ${pressureText(spec.maxPa, unit)} · ${SPEC_BASIS_NAMES[spec.basis]}`
          : 'no window'}
      </span>
      {line && !line.counts && <span className="block font-semibold text-ochre">before bleeding</span>}
      {line && !line.faultPresent && <span className="block font-semibold text-ochre">fault away</span>}
    </button>
  );
}

/** The window as a trough in a rule, the reading as a pin in it. */
function WindowBar({ pascal, spec }: { pascal: number | undefined; spec: Spec | undefined }) {
  if (!spec) return <span className="my-2 block h-3" />;
  const span = spec.maxPa - spec.minPa;
  const from = Math.min(Math.max(0, spec.minPa - span), pascal ?? Infinity);
  const to = Math.max(spec.maxPa + span, pascal ?? 0);
  const x = (value: number) => `${((100 * (value - from)) / (to - from)).toFixed(1)}%`;
  return (
    <span aria-hidden className="relative my-2 block h-3 rounded-full bg-line/50">
      <span
        className="absolute inset-y-0 rounded-full bg-mineral/35"
        style={{ left: x(spec.minPa), width: `calc(${x(spec.maxPa)} - ${x(spec.minPa)})` }}
      />
      {pascal !== undefined && (
        <span className="absolute -top-1 h-5 w-1.5 -translate-x-1/2 rounded-full bg-ink" style={{ left: x(pascal) }} />
      )}
    </span>
  );
}

/** A lesser reading: its name, its number, a press to take it again. */
export function ReadingTile({
  kind,
  at,
  entry,
  onMeasure,
  children,
}: {
  kind: EntryKind;
  at: string;
  entry: Entry | undefined;
  onMeasure: (() => void) | undefined;
  /** What stands below the number. */
  children?: ReactNode;
}) {
  const pressure = usePressureUnit();
  const measure = findNumber(kind, at);
  if (!measure) return null;
  const { unit, text } = shownAs(measure.value.unit, at, pressure);
  return (
    <button
      type="button"
      onClick={onMeasure}
      disabled={!onMeasure}
      className="flex flex-col rounded-xl border border-line p-2 text-left enabled:hover:border-ink"
    >
      <span className="label line-clamp-2 block min-h-9 leading-tight">{measure.title}</span>
      {typeof entry?.value === 'number' ? (
        <span className="text-4xl leading-tight font-bold whitespace-nowrap">
          {text(entry.value)} <span className="text-base font-normal text-soft">{unit}</span>
        </span>
      ) : (
        <span className="flex min-h-9 items-center gap-1 text-soft">
          <Plus aria-hidden className="size-4" /> {unit}
        </span>
      )}
      {children}
    </button>
  );
}
