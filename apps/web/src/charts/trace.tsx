import { Flag } from 'lucide-react';
import { useCallback, useState, type KeyboardEvent, type ReactNode } from 'react';
import { Button } from '../ui/button';
import { ErrorNotice } from '../ui/notice';
import { Jumps } from './jumps';
import { Lane } from './lane';
import { LaneNames } from './lane-names';
import { isNamed, type TraceLane, type TraceMark, type TraceSignal } from './signals';
import { Strip } from './strip';
import { clampWindow, neighbour, timeText, type Recorded, type TraceEvent, type TraceWindow } from './trace-window';

export interface TraceProps {
  readonly label: string;
  readonly recorded: Recorded;
  /** Up to eight lanes on one time, the most important first; a stable value, since each new one is drawn anew. */
  readonly lanes: readonly TraceLane[];
  /** Stretches worth a look, each one press away. */
  readonly views?: readonly { readonly name: string; readonly fromS: number; readonly toS: number }[];
  /** What happened, in order of time: the strip goes from one to the next. */
  readonly events?: readonly TraceEvent[];
  /** Moments that somebody marked. */
  readonly marks?: readonly TraceMark[];
  /** A cursor's moment is to be marked; absent where nobody may. */
  readonly onMark?: (atS: number) => void;
  /** What else there is to do with it, beside its views. */
  readonly tools?: ReactNode;
  readonly initial?: { readonly fromS: number; readonly toS: number };
  /** Whether the whole record stands above in a strip. */
  readonly strip?: boolean;
  /** Of the first lane, px; the others are half as high. */
  readonly height?: number;
}

const MOST_LANES = 8;
/** The lowest lane carries the time as well, px. */
const TIME_HEIGHT = 24;
const NO_MARKS: readonly TraceMark[] = [];

/** Signals over any number of samples: wheel, pinch, drag and keys move the window of all; a press sets a cursor in all. */
export function Trace({
  label,
  recorded,
  lanes,
  views = [],
  events = [],
  marks = NO_MARKS,
  onMark,
  tools,
  initial,
  strip = true,
  height = 300,
}: TraceProps) {
  const { samples, sampleRateHz, startS } = recorded;
  const shown = lanes.slice(0, MOST_LANES);
  const hasRight = shown.some((lane) => lane.some(({ unit }) => unit !== lane[0].unit));
  const isNamed = shown.length > 1 || shown.some((lane) => lane.length > 1);
  const sampleOf = useCallback((timeS: number) => (timeS - startS) * sampleRateHz, [startS, sampleRateHz]);
  const timeOf = (sample: number) => startS + sample / sampleRateHz;
  const windowOf = useCallback(
    (fromS: number, toS: number) => clampWindow({ from: sampleOf(fromS), to: sampleOf(toS) }, samples),
    [sampleOf, samples],
  );
  const [view, setView] = useState<TraceWindow>(() =>
    initial ? windowOf(initial.fromS, initial.toS) : { from: 0, to: samples },
  );
  const [cursorsS, setCursorsS] = useState<readonly number[]>([]);
  const [values, setValues] = useState<Readonly<Record<string, readonly number[]>>>({});
  const [missing, setMissing] = useState(false);

  // What the window is about: a jump shows its event in the middle, and whoever moves on has left it.
  const middleS = timeOf((view.from + view.to) / 2);
  const [event, setEvent] = useState<TraceEvent>();
  const isShown = event !== undefined && event.fromS <= middleS && middleS <= event.toS;
  const jump = (way: 1 | -1) => {
    // From no event in particular: the first that the window holds, or the last.
    const edge = way > 0 ? view.from : view.to;
    const next = neighbour(events, isShown ? event.atS : timeOf(edge), way);
    if (!next) return;
    setEvent(next);
    setView(windowOf(next.fromS, next.toS));
  };

  const keys = (pressed: KeyboardEvent) => {
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
      n: () => jump(1),
      p: () => jump(-1),
      Escape: () => setCursorsS([]),
    };
    const action = actions[pressed.key];
    if (!action) return;
    pressed.preventDefault();
    action();
  };

  return (
    <figure className="m-0">
      <div className="no-print mb-1 flex flex-wrap items-center gap-1">
        {[{ name: 'Whole record', fromS: startS, toS: timeOf(samples) }, ...views].map(({ name, fromS, toS }) => (
          <button
            key={name}
            type="button"
            onClick={() => setView(windowOf(fromS, toS))}
            className="min-h-11 rounded-xl px-3 text-steel hover:bg-paper"
          >
            {name}
          </button>
        ))}
        <Jumps events={events} shown={isShown ? event : undefined} onJump={jump} />
        {tools}
      </div>
      {strip && shown.length > 0 && (
        <Strip
          signal={shown[0][0]}
          recorded={recorded}
          view={view}
          events={events}
          hasRight={hasRight}
          onGo={(sample) => setView(around(sample, view, samples))}
        />
      )}
      <div
        tabIndex={0}
        role="application"
        aria-label={`${label}. Arrow keys move and zoom, Home shows all,${events.length > 0 ? ' N and P go to the next event and the one before,' : ''} a press sets a cursor, Escape clears them.`}
        onKeyDown={keys}
        className="touch-none rounded-lg"
      >
        {shown.map((lane, i) => (
          <div key={lane[0].id}>
            {isNamed && <LaneNames lane={lane} />}
            <Lane
              lane={lane}
              recorded={recorded}
              view={view}
              height={(i === 0 ? height : height / 2) + (shown.length > 1 && i === shown.length - 1 ? TIME_HEIGHT : 0)}
              showsTime={i === shown.length - 1}
              hasRight={hasRight}
              cursorsS={cursorsS}
              marks={marks}
              onMove={(fromS, toS) => setView(windowOf(fromS, toS))}
              onPress={(timeS) => setCursorsS((before) => (before.length >= 2 ? [timeS] : [...before, timeS]))}
              onRead={(id, read) => setValues((before) => ({ ...before, [id]: read }))}
              onMissing={setMissing}
            />
          </div>
        ))}
      </div>
      <ErrorNotice
        text={missing ? 'This part of the trace can’t be loaded just now. Move or zoom to try it again.' : undefined}
      />
      {lanes.length > shown.length && (
        <p className="label">{lanes.length - shown.length} more have no lane: eight are shown at most.</p>
      )}
      <CursorReadout cursorsS={cursorsS} signals={shown.flat()} values={values} {...(onMark && { onMark })} />
    </figure>
  );
}

/** Of a whole record a press shows this much; else the window keeps its width. */
const FIRST_SHARE = 0.05;

function around(sample: number, { from, to }: TraceWindow, samples: number): TraceWindow {
  const half = (to - from >= samples ? FIRST_SHARE * samples : to - from) / 2;
  return clampWindow({ from: sample - half, to: sample + half }, samples);
}

function CursorReadout({
  cursorsS,
  signals,
  values,
  onMark,
}: {
  readonly cursorsS: readonly number[];
  readonly signals: readonly TraceSignal[];
  readonly values: Readonly<Record<string, readonly number[]>>;
  readonly onMark?: (atS: number) => void;
}) {
  const [a, b] = cursorsS;
  if (a === undefined) {
    return <figcaption className="label mt-1">Press on a lane to set a cursor, again for a second.</figcaption>;
  }
  const spanS = b === undefined ? 0 : Math.abs(b - a);
  const told = ({ name, unit }: TraceSignal, value: number | undefined) =>
    // Beyond its own record, or where nothing can be worked out, a signal has no value.
    value === undefined || Number.isNaN(value)
      ? ''
      : ` · ${signals.length > 1 ? `${name} ` : ''}${value.toFixed(2)}${isNamed(unit) ? ` ${unit}` : ''}`;
  const read = (signal: TraceSignal, cursor: number) => told(signal, values[signal.id]?.[cursor]);
  const change = (signal: TraceSignal) => {
    const [first, second] = values[signal.id] ?? [];
    return told(signal, second === undefined ? undefined : second - first);
  };
  return (
    <figcaption className="mt-1 flex flex-wrap items-center gap-x-6 text-[0.93rem]" aria-live="polite">
      {cursorsS.map((timeS, i) => (
        <span key={i}>
          <b className="text-plum">{'AB'[i]}</b> {timeText(timeS, 0.5)}
          {signals.map((signal) => read(signal, i))}
          {onMark && (
            <Button className="ml-2" onClick={() => onMark(timeS)}>
              <Flag aria-hidden className="size-4" /> Mark {'AB'[i]}
            </Button>
          )}
        </span>
      ))}
      {spanS > 0 && (
        <span className="font-semibold">
          A to B {(spanS * 1000).toFixed(2)} ms · {Math.round(60 / spanS)} rpm if one turn
          {signals.map(change)}
        </span>
      )}
    </figcaption>
  );
}
