import { missingFrom, missingUntil, type Clock, type Gap } from './clock.js';
import { switchedSpan, type MeasuredLine } from './pulse-train.js';

/** A module is supplied, wakes and reads its command for so long before it switches (common practice, no published source), s. */
const WAKES_S = 0.3;
/** A command that ceases is known to a period of its own, and a module's output to what it holds on for, s. */
const CEASES_S = 0.05;

type Regular = MeasuredLine & Required<Pick<MeasuredLine, 'line' | 'clock'>>;
type Ends = Pick<Clock, 'startsAt' | 'stopsAt' | 'lacksBefore' | 'lacksAfter'>;
interface Pair {
  readonly command: MeasuredLine;
  readonly output: MeasuredLine;
}

/**
 * What either of two lines misses at the record's edges, by the other. Where both rest nothing is asked: a key comes on, a prime is
 * over, and no pulse is missing, however few a slow line had room for. An output that rests while its command goes on misses pulses.
 */
export function besideEachOther({ command, output }: Pair, sampleRateHz: number, startS: number): Pair {
  if (!isRegular(command) || !isRegular(output)) return { command, output };
  const asked = withEnds(command, restingAlike(command.clock, output.clock, sampleRateHz), sampleRateHz, startS);
  const lacking = lackingWhileAsked(asked.clock, output, sampleRateHz);
  return { command: asked, output: withEnds(output, lacking, sampleRateHz, startS) };
}

function isRegular(one: MeasuredLine): one is Regular {
  return one.line !== undefined && one.clock !== undefined && one.clock.isRegular;
}

/** The command's ends, where the few pulses that it lacks there are none that should have come. */
function restingAlike(asked: Clock, given: Clock, rate: number): Ends {
  const { startsAt, stopsAt, lacksBefore: before, lacksAfter: after, period } = asked;
  const near = (apart: number, most: number) => apart > -period - CEASES_S * rate && apart < period + most * rate;
  const begins = before && before.start + before.missing * period;
  const startsAlike = begins !== undefined && given.startsAt !== undefined && near(given.startsAt - begins, WAKES_S);
  const stopsAlike = after && given.stopsAt !== undefined && near(given.stopsAt - after.start, CEASES_S);
  return {
    ...(startsAlike ? { startsAt: begins } : { startsAt, lacksBefore: before }),
    ...(stopsAlike ? { stopsAt: after.start } : { stopsAt, lacksAfter: after }),
  };
}

/** Whether an output switches well before its command begins, or after it has ceased. */
export function isGivenUnasked({ train: asked }: MeasuredLine, { train: given, clock }: MeasuredLine): boolean {
  if (!clock?.isRegular) return false;
  const { fromS = -Infinity, untilS = Infinity } = given;
  const goesBefore = asked.fromS !== undefined && asked.fromS - fromS > WAKES_S;
  return goesBefore || (asked.untilS !== undefined && untilS - asked.untilS > CEASES_S);
}

/** The output's ends, where it lacks the pulses that its command went on asking for. */
function lackingWhileAsked(asked: Clock, { clock, line }: Regular, rate: number): Ends {
  const { startsAt, stopsAt, lacksBefore, lacksAfter, period } = clock;
  const from = asked.startsAt === undefined ? 0 : asked.startsAt + WAKES_S * rate;
  const before = startsAt === undefined ? lacksBefore : missingFrom(from, startsAt, period);
  const goesOn = stopsAt !== undefined && (asked.stopsAt === undefined || asked.stopsAt - stopsAt > CEASES_S * rate);
  const after = goesOn ? missingUntil(asked.stopsAt ?? line.length, stopsAt, period) : lacksAfter;
  return {
    ...(before ? { lacksBefore: before } : { startsAt }),
    ...(after ? { lacksAfter: after } : { stopsAt }),
  };
}

/** A line with other ends, and what follows from them. */
function withEnds(one: Regular, ends: Ends, rate: number, startS: number): Regular {
  const { startsAt: _s, stopsAt: _e, lacksBefore, lacksAfter, ...others } = one.clock;
  const within = others.gaps.filter((gap) => gap !== lacksBefore && gap !== lacksAfter);
  const [first, last] = [
    others.span[0] + (lacksBefore?.missing ?? 0) * others.period,
    others.span[1] - (lacksAfter?.missing ?? 0) * others.period,
  ];
  const { lacksBefore: before, lacksAfter: after } = ends;
  const clock: Clock = {
    ...others,
    ...ends,
    gaps: [before, ...within, after].filter((gap): gap is Gap => gap !== undefined),
    span: [first - (before?.missing ?? 0) * others.period, last + (after?.missing ?? 0) * others.period],
  };
  const { fromS: _from, untilS: _until, ...train } = one.train;
  return { ...one, clock, train: { ...train, ...switchedSpan(one.line, clock, rate, startS) } };
}
