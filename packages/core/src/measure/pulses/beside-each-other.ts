import { missingFrom, missingUntil, switchedStretches, type Clock, type Gap, type Span } from './clock.js';
import { switchedSpan, type MeasuredLine } from './pulse-train.js';

/** A module is supplied, wakes and reads its command for so long before it switches (common practice, no published source), s. */
const WAKES_S = 0.3;
/** A command that ceases is known to a period of its own, and a module's output to what it holds on for, s. */
const CEASES_S = 0.05;

type Regular = MeasuredLine & Required<Pick<MeasuredLine, 'line' | 'clock'>>;
interface Pair {
  readonly command: MeasuredLine;
  readonly output: MeasuredLine;
}
/** What a line lacks at the record's begin and end, and beside its rests. */
type Lacks = Pick<Clock, 'rests' | 'lacksBefore' | 'lacksAfter'> & { readonly besideRests: readonly Gap[] };

/**
 * What either of two lines misses where it rests, by the other. Where both rest nothing is asked: a key comes on, a prime is over,
 * and no pulse is missing, however few a slow line had room for. An output that rests while its command goes on misses pulses.
 */
export function besideEachOther({ command, output }: Pair, sampleRateHz: number, startS: number): Pair {
  if (!isRegular(command) || !isRegular(output)) return { command, output };
  const asked = withLacks(command, restingAlike(command, output, sampleRateHz), sampleRateHz, startS);
  const lacks = lackingWhileAsked(asked, output, sampleRateHz);
  return { command: asked, output: withLacks(output, lacks, sampleRateHz, startS) };
}

function isRegular(one: MeasuredLine): one is Regular {
  return one.line !== undefined && one.clock !== undefined && one.clock.isRegular;
}

/** The command's rests, with the few pulses that it lacks at the record's ends where those are none that should have come. */
function restingAlike({ clock: asked, line }: Regular, { clock: given }: Regular, rate: number): Lacks {
  const { rests, lacksBefore: before, lacksAfter: after, period } = asked;
  const near = (apart: number, most: number) => apart > -period - CEASES_S * rate && apart < period + most * rate;
  const begins = before && before.start + before.missing * period;
  const [first, last] = [given.rests.at(0), given.rests.at(-1)];
  const startsAlike = begins !== undefined && first?.from === 0 && near(first.to - begins, WAKES_S);
  const stopsAlike = after && last?.to === line.length && near(last.from - after.start, CEASES_S);
  return {
    rests: [
      ...(startsAlike ? [{ from: 0, to: begins }] : []),
      ...rests,
      ...(stopsAlike ? [{ from: after.start, to: line.length }] : []),
    ],
    lacksBefore: startsAlike ? undefined : before,
    lacksAfter: stopsAlike ? undefined : after,
    besideRests: [],
  };
}

/** The output's rests, without the pulses of them that its command went on asking for. */
function lackingWhileAsked({ clock: asked }: Regular, { clock, line }: Regular, rate: number): Lacks {
  const stretches = switchedStretches(asked, line.length);
  const { rests, lacksBefore, lacksAfter, period } = clock;
  const besideRests = rests.flatMap((rest) =>
    stretches.flatMap((stretch) => askedDuring(rest, stretch, period, rate) ?? []),
  );
  const others = besideRests.reduce<Span[]>(
    (left, gap) => left.flatMap((rest) => without(rest, gap, period)),
    [...rests],
  );
  return { rests: others, lacksBefore, lacksAfter, besideRests };
}

/** Pulses that a rest of an output lacks in a stretch in which they were asked for; a module that has to wake first is given its time. */
function askedDuring(rest: Span, asked: Span, period: number, rate: number): Gap | undefined {
  const wakes = asked.from > 0 ? asked.from + WAKES_S * rate : 0;
  const ceased = rest.from > asked.from;
  if (ceased)
    return asked.to - rest.from > CEASES_S * rate
      ? missingUntil(Math.min(asked.to, rest.to), rest.from, period)
      : undefined;
  return missingFrom(wakes, Math.min(asked.to, rest.to), period);
}

/** What is left of a rest beside pulses that are missing in it; less than a period is none. */
function without({ from, to }: Span, { start, missing }: Gap, period: number): Span[] {
  if (start >= to || start + missing * period <= from) return [{ from, to }];
  const parts = [
    { from, to: start },
    { from: start + missing * period, to },
  ];
  return parts.filter((part) => part.to - part.from > period);
}

/** Whether an output switches well before its command begins, or after it has ceased. */
export function isGivenUnasked(
  { clock: asked }: MeasuredLine,
  { clock: given, line }: MeasuredLine,
  rate: number,
): boolean {
  if (!asked || !given?.isRegular || !line) return false;
  const stretches = switchedStretches(given, line.length);
  return asked.rests.some((rest) =>
    stretches.some(({ from, to }) => {
      const goesOn = rest.from > 0 && from <= rest.from;
      return Math.min(to, rest.to) - Math.max(from, rest.from) > (goesOn ? CEASES_S : WAKES_S) * rate;
    }),
  );
}

/** A line with other rests and ends, and what follows from them. */
function withLacks(one: Regular, { besideRests, ...lacks }: Lacks, rate: number, startS: number): Regular {
  const { lacksBefore, lacksAfter, gaps, rests, span, period } = one.clock;
  const within = gaps.filter((gap) => gap !== lacksBefore && gap !== lacksAfter);
  const all = [lacks.lacksBefore, ...within, ...besideRests, lacks.lacksAfter].filter((gap) => gap !== undefined);
  // Whole periods: from as far before the first beat as pulses are missing before the first edge, and on likewise after the last.
  const lead = one.line.nextEdge(0);
  const lastBeat = span[1] - (lacksAfter?.missing ?? 0) * period;
  const due = lacksAfter?.start ?? rests.find(({ to }) => to === one.line.length)?.from ?? lastBeat;
  const earliest = Math.min(lead, ...all.map(({ start }) => start));
  const latest = Math.max(due, ...all.map(({ start, missing }) => start + missing * period));
  const clock: Clock = {
    ...one.clock,
    ...lacks,
    gaps: all.sort((a, b) => a.start - b.start),
    span: [span[0] + (lacksBefore?.missing ?? 0) * period - (lead - earliest), lastBeat + latest - due],
  };
  const { fromS: _from, untilS: _until, rests: _rests, ...train } = one.train;
  return { ...one, clock, train: { ...train, ...switchedSpan(one.line, clock, rate, startS) } };
}
