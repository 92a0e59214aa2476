import { useCallback, useState, type KeyboardEvent } from 'react';
import { ErrorNotice } from '../ui/notice';
import { Jumps } from './jumps';
import { Lane, type LaneSignal } from './lane';
import { clampWindow, neighbour, timeText, type Recorded, type TraceEvent, type TraceWindow } from './trace-window';

export interface TraceProps {
  readonly label: string;
  readonly recorded: Recorded;
  /** Up to eight signals, a lane each on one time, the most important first. */
  readonly lanes: readonly LaneSignal[];
  /** Stretches worth a look, each one press away. */
  readonly views?: readonly { readonly name: string; readonly fromS: number; readonly toS: number }[];
  /** What happened, in order of time: the strip goes from one to the next. */
  readonly events?: readonly TraceEvent[];
  readonly initial?: { readonly fromS: number; readonly toS: number };
  /** Of the first lane, px; the others are half as high. */
  readonly height?: number;
}

const MOST_LANES = 8;
/** The lowest lane carries the time as well, px. */
const TIME_HEIGHT = 24;

/** Signals over any number of samples: wheel, pinch, drag and keys move the window of all; a press sets a cursor in all. */
export function Trace({ label, recorded, lanes, views = [], events = [], initial, height = 300 }: TraceProps) {
  const { samples, sampleRateHz, startS } = recorded;
  const shown = lanes.slice(0, MOST_LANES);
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
        <span className="label ml-auto">Press to set a cursor, again for a second.</span>
      </div>
      <div
        tabIndex={0}
        role="application"
        aria-label={`${label}. Arrow keys move and zoom, Home shows all,${events.length > 0 ? ' N and P go to the next event and the one before,' : ''} a press sets a cursor, Escape clears them.`}
        onKeyDown={keys}
        className="touch-none rounded-lg"
      >
        {shown.map((signal, i) => (
          <div key={signal.name}>
            {shown.length > 1 && (
              <p className="label pl-14 leading-none">
                <span className="font-semibold text-ink">{signal.name}</span>, {signal.unit}
              </p>
            )}
            <Lane
              signal={signal}
              recorded={recorded}
              view={view}
              height={(i === 0 ? height : height / 2) + (shown.length > 1 && i === shown.length - 1 ? TIME_HEIGHT : 0)}
              showsTime={i === shown.length - 1}
              cursorsS={cursorsS}
              onMove={(fromS, toS) => setView(windowOf(fromS, toS))}
              onPress={(timeS) => setCursorsS((before) => (before.length >= 2 ? [timeS] : [...before, timeS]))}
              onRead={(read) => setValues((before) => ({ ...before, [signal.name]: read }))}
              onMissing={setMissing}
            />
          </div>
        ))}
      </div>
      <ErrorNotice
        text={missing ? 'This part of the trace can’t be loaded just now. Move or zoom to try it again.' : undefined}
      />
      <CursorReadout cursorsS={cursorsS} signals={shown} values={values} />
    </figure>
  );
}

function CursorReadout({
  cursorsS,
  signals,
  values,
}: {
  readonly cursorsS: readonly number[];
  readonly signals: readonly LaneSignal[];
  readonly values: Readonly<Record<string, readonly number[]>>;
}) {
  const [a, b] = cursorsS;
  if (a === undefined) return null;
  const spanS = b === undefined ? 0 : Math.abs(b - a);
  const read = ({ name, unit }: LaneSignal, cursor: number) => {
    const value = values[name]?.[cursor];
    return value === undefined ? '' : ` · ${signals.length > 1 ? `${name} ` : ''}${value.toFixed(2)} ${unit}`;
  };
  const change = ({ name, unit }: LaneSignal) => {
    const [first, second] = values[name] ?? [];
    if (first === undefined || second === undefined) return '';
    return ` · ${signals.length > 1 ? `${name} ` : ''}${(second - first).toFixed(2)} ${unit}`;
  };
  return (
    <figcaption className="mt-1 flex flex-wrap gap-x-6 text-[0.93rem]" aria-live="polite">
      {cursorsS.map((timeS, i) => (
        <span key={i}>
          <b className="text-plum">{'AB'[i]}</b> {timeText(timeS, 0.5)}
          {signals.map((signal) => read(signal, i))}
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
