/** What somebody sees who watches a meter and a gauge, by one key each. */
export const WATCH_MARKS = ['voltage', 'pressure', 'engine', 'back', 'disturbed'] as const;
export type WatchMark = (typeof WATCH_MARKS)[number];

/** One press of a key. */
export interface Seen {
  readonly mark: WatchMark;
  /** Since the watch began. */
  readonly atS: number;
  /** What was disturbed: a plug wiggled, heat on the relay. */
  readonly what?: string;
}

/** What was looked at: of what nobody watched nothing is known. */
export interface Watched {
  readonly voltage: boolean;
  readonly pressure: boolean;
}

/** What a stall that was watched by eye says. */
export interface WatchJudgement {
  /** As the evidence has it; absent where the order says nothing. */
  readonly fell?: 'voltage' | 'pressure' | 'together' | 'engine';
  readonly says: string;
}

/** Two presses by hand closer than this are at once: a person's reaction takes a fifth of a second and differs by as much, s. */
const AT_ONCE_S = 0.4;

/** What the order of a stall means, seen by eye. The first stall counts; what came back begins another. */
export function judgeWatch(marks: readonly Seen[], watched: Watched, lastedS: number): WatchJudgement {
  const back = marks.findIndex(({ mark }) => mark === 'back');
  const stall = marks.slice(0, back < 0 ? undefined : back);
  const at = (mark: WatchMark) => stall.find((one) => one.mark === mark)?.atS;
  const [volts, pressure, engine] = [at('voltage'), at('pressure'), at('engine')];
  const after = afterWhat(stall);
  if (volts === undefined && pressure === undefined && engine === undefined) {
    return { says: `${minutes(lastedS)} without a drop${after}.` };
  }
  if (volts !== undefined && pressure !== undefined && Math.abs(volts - pressure) < AT_ONCE_S) {
    return {
      fell: 'together',
      says: `Volts and pressure went at once${after}: a recorder tells them apart, an eye doesn’t.`,
    };
  }
  if (volts !== undefined && volts <= (pressure ?? Infinity)) {
    return {
      fell: 'voltage',
      says: `The volts went first${after}: relay, wiring, switch or command, before the pump.`,
    };
  }
  if (pressure !== undefined) {
    if (!watched.voltage)
      return { says: `The pressure fell${after}; the volts weren’t watched, so the side isn’t known.` };
    return { fell: 'pressure', says: `The pressure fell with the volts there${after}: the pump, or the fuel side.` };
  }
  const missing = [!watched.voltage && 'the volts', !watched.pressure && 'the pressure'].filter(Boolean);
  if (missing.length > 0) return { says: `The engine died${after}; ${missing.join(' and ')} weren’t watched.` };
  return { fell: 'engine', says: `The engine died with volts and pressure there${after}: not the fuel supply.` };
}

function afterWhat(stall: readonly Seen[]): string {
  const first = stall.findIndex(({ mark }) => mark !== 'disturbed');
  const disturbed = stall.slice(0, first < 0 ? undefined : first).at(-1);
  return disturbed ? `, after ${disturbed.what ?? 'something was moved'}` : '';
}

function minutes(seconds: number): string {
  return seconds < 90 ? `${seconds.toFixed(0)} seconds` : `${(seconds / 60).toFixed(0)} minutes`;
}

const MARK_NAMES: Readonly<Record<WatchMark, string>> = {
  voltage: 'volts gone',
  pressure: 'pressure falling',
  engine: 'engine died',
  back: 'came back',
  disturbed: 'disturbed',
};

/** The presses in a line, for the record: "12.3 s volts gone, 12.9 s pressure falling". */
export function watchLine(marks: readonly Seen[]): string {
  return marks
    .map(({ mark, atS, what }) => `${atS.toFixed(1)} s ${MARK_NAMES[mark]}${what ? ` (${what})` : ''}`)
    .join(', ');
}
