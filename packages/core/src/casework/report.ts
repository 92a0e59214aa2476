import { describeEvidence } from '../evidence/describe.js';
import type { Finding } from '../limits/limits.js';
import type { Bar } from '../measure/current/rotor-map.js';
import type { RampResult } from '../measure/current/types.js';
import { FAMILY_NAMES } from '../terms/families.js';
import { pressureText, type PressureUnitName } from '../units/display.js';
import type { SweepStep } from '../measure/pulses/sweep-record.js';
import { comparedHolds, comparedSweeps, type ComparedLadders, type TimedHold } from './compared.js';
import { captureText } from './capture-text.js';
import type { CaseLadder } from './case-ladder.js';
import { entriesOf, phasesOf, profileOf, standing, voidsOf, type CaseStageName, type ChainLink } from './chain.js';
import { linkSentence, VERDICT_NAMES } from './describe-link.js';
import { handOver, testName, type Need } from './hand-over.js';
import { looseEnds } from './loose-ends.js';
import type { Recheck, RepeatResult } from './recheck.js';
import type { FittedPart } from './repair-record.js';
import { repairState } from './repair-state.js';
import type { RuledOut, VerdictGrounds } from './verdict-record.js';
import type { Verdict } from '../terms/verdicts.js';

/** A link with who made it and its seal, as a report prints it. */
export interface SealedLink extends ChainLink {
  readonly takenBy: string | null;
  readonly hash: string;
}

/** What was measured of a capture, as far as a report shows it. */
export interface ReportedAnalysis {
  readonly ramp?: RampResult;
  readonly turnA?: readonly number[];
  readonly findings: readonly Finding[];
}

/** All that a report is written from; times in ISO 8601. */
export interface ReportGround {
  readonly shop: { readonly name: string; readonly town: string };
  readonly number: number;
  readonly complaint: string;
  readonly stage: CaseStageName;
  /** "2014 Brindle Lark, 1.4 petrol". */
  readonly vehicle: string;
  readonly plate: string;
  readonly openedAt: string;
  readonly links: readonly SealedLink[];
  readonly captures: readonly {
    readonly id: string;
    readonly label: string;
    readonly fileName: string;
    readonly analysis: ReportedAnalysis | null;
  }[];
  readonly recheck: Recheck | undefined;
  /** The path before and after the repair; absent where it wasn't read again. */
  readonly path?: ComparedLadders;
  readonly unit: PressureUnitName;
  /** In a sentence each; empty where the chain and its end hold. */
  readonly sealProblems: readonly string[];
}

/** A capture as a report shows it: one turn of the current in A, each bar, and the speed’s 95 % interval in rpm. */
export interface ReportedCapture {
  readonly label: string;
  /** Before the verdict, or in the recheck. */
  readonly phase: 'before' | 'after';
  readonly text: string;
  readonly turnA?: readonly number[];
  readonly bars?: readonly Bar[];
  readonly interval?: readonly [number, number];
  readonly findings: readonly Finding[];
}

export interface ReportedRepeat {
  readonly name: string;
  readonly before: string;
  readonly after?: string;
  readonly result: RepeatResult;
}

/** A case as it is told on paper; all words in it are final. */
export interface Report {
  readonly shop: string;
  readonly number: number;
  readonly vehicle: string;
  readonly plate: string;
  readonly complaint: string;
  readonly openedAt: string;
  readonly stage: CaseStageName;
  /** Absent while none stands. */
  readonly verdict?: {
    readonly title: string;
    readonly statement: string;
    readonly by: string;
    readonly at: string;
    readonly override?: string;
    readonly proven: readonly string[];
    readonly notProven: readonly string[];
    readonly ruledOut: readonly { readonly what: readonly string[]; readonly by?: string }[];
    readonly notKnown: readonly string[];
    readonly ladder?: CaseLadder;
    readonly capture?: ReportedCapture;
  };
  readonly repair?: {
    readonly what: string;
    readonly parts: readonly FittedPart[];
    readonly leftOut: readonly { readonly text: string; readonly why: string }[];
    readonly minutes?: number;
  };
  readonly repeats: readonly ReportedRepeat[];
  /** The path before and after the repair. */
  readonly path?: ComparedLadders;
  /** The duty sweep, command by command: what of each step was read. */
  readonly sweep: readonly {
    readonly commandPercent: number;
    readonly before?: string;
    readonly after?: string;
  }[];
  /** How the pressure held after shut-down. */
  readonly hold?: { readonly before: string; readonly after: string };
  readonly needs: readonly Need[];
  readonly stillIn: readonly string[];
  readonly captures: readonly ReportedCapture[];
  readonly evidence: readonly {
    readonly sequence: number;
    readonly text: string;
    readonly by: string;
    readonly at: string;
    readonly seal: string;
    /** Why it was voided; absent where it stands. */
    readonly voided?: string;
  }[];
  readonly seal: { readonly entries: number; readonly head: string; readonly problems: readonly string[] };
}

/** What a link of kind 'verdict' holds, as far as a report reads it. */
interface VerdictLink {
  readonly kind: Verdict | 'repair-supply';
  readonly statement: string;
  readonly overrideReason: string | null;
  readonly gate: { readonly proven?: readonly string[]; readonly missing?: readonly string[] };
  readonly grounds?: VerdictGrounds;
}

/** Gathers all that is said of a case in a report. */
export function caseReport(ground: ReportGround): Report {
  const hold = comparedHolds(ground.links, ground.stage);
  const { shop, number, vehicle, plate, complaint, openedAt, stage, links, recheck, sealProblems } = ground;
  const voids = voidsOf(links);
  const told = { ...ground, profile: profileOf(links) };
  const captures = reportedCaptures(ground);
  const verdict = verdictOf(ground, captures);
  const repair = repairOf(ground);
  return {
    shop: [shop.name, shop.town].filter(Boolean).join(', '),
    ...{ number, vehicle, plate, complaint, openedAt, stage },
    ...(verdict && { verdict }),
    ...(repair && { repair }),
    repeats: (recheck?.repeats ?? []).map(({ before, after, result }) => ({
      name: testName(before, links),
      before: foundText(before, ground),
      ...(after !== undefined && { after: foundText(after, ground) }),
      result,
    })),
    ...(ground.path && { path: ground.path }),
    sweep: comparedSweeps(links, stage).map(({ commandPercent, before, after }) => ({
      commandPercent,
      ...(before && { before: stepText(before, ground.unit) }),
      ...(after && { after: stepText(after, ground.unit) }),
    })),
    ...(hold && { hold: { before: holdText(hold.before, ground.unit), after: holdText(hold.after, ground.unit) } }),
    needs: stage === 'open' ? [] : handOver(links, stage, recheck).needs,
    stillIn: looseEnds(links)
      .filter(({ closed }) => !closed)
      .map(({ text }) => text),
    captures,
    evidence: links.map((link) => {
      const voided = voids.get(link.id)?.value as { readonly reason?: string } | undefined;
      return {
        sequence: link.sequence,
        text: linkSentence(link, told),
        by: link.takenBy ?? 'someone who left',
        at: isoOf(link.takenAt),
        seal: link.hash,
        ...(voided && { voided: voided.reason ?? '' }),
      };
    }),
    seal: { entries: links.length, head: links.at(-1)?.hash ?? '', problems: sealProblems },
  };
}

function verdictOf(ground: ReportGround, captures: readonly ReportedCapture[]): Report['verdict'] {
  const link = phasesOf(ground.links, ground.stage).verdict;
  if (!link) return undefined;
  const { kind, statement, overrideReason, gate, grounds } = link.value as VerdictLink;
  const decisive = ground.captures.findIndex(({ id }) => id === grounds?.captureId);
  const label = ground.captures[decisive]?.label;
  const capture = captures.find((one) => one.label === label && one.phase === 'before');
  return {
    title: VERDICT_NAMES[kind],
    statement,
    by: link.takenBy ?? 'someone who left',
    at: isoOf(link.takenAt),
    ...(overrideReason !== null && { override: overrideReason }),
    proven: gate.proven ?? [],
    notProven: gate.missing ?? [],
    ruledOut: byReading(grounds?.ruledOut ?? []),
    notKnown: grounds?.notKnown ?? [],
    ...(grounds?.ladder && { ladder: grounds.ladder }),
    ...(capture && { capture }),
  };
}

/** What was ruled out, gathered by the reading that did most against it. */
export function byReading(ruledOut: readonly RuledOut[]): { readonly what: readonly string[]; readonly by?: string }[] {
  const groups = new Map<string, string[]>();
  for (const { family, by = '' } of ruledOut) groups.set(by, [...(groups.get(by) ?? []), FAMILY_NAMES[family]]);
  return [...groups].map(([by, what]) => ({ what, ...(by !== '' && { by }) }));
}

function repairOf({ links, stage }: ReportGround): Report['repair'] {
  const state = repairState(links, stage);
  if (!state?.done) return undefined;
  const { plan, said, parts, done } = state;
  const leftOut = plan.steps.flatMap(({ id, text }) => {
    const particular = said.get(id);
    return particular && 'refused' in particular ? [{ text, why: particular.refused }] : [];
  });
  return { what: done.what, parts, leftOut, ...(done.minutes !== undefined && { minutes: done.minutes }) };
}

function reportedCaptures({ links, stage, captures }: ReportGround): ReportedCapture[] {
  const { after } = phasesOf(links, stage);
  return standing(links).flatMap((link): ReportedCapture[] => {
    const capture = link.kind === 'capture' ? captures.find(({ id }) => id === link.id) : undefined;
    const analysis = capture?.analysis;
    if (!capture || !analysis?.ramp) return [];
    const { ramp, turnA, findings } = analysis;
    return [
      {
        label: capture.label,
        phase: after.includes(link) ? 'after' : 'before',
        text: captureText(ramp),
        ...(turnA && { turnA }),
        ...(ramp.bars && { bars: ramp.bars }),
        ...(ramp.rpmInterval && { interval: ramp.rpmInterval }),
        findings,
      },
    ];
  });
}

function foundText(id: string, { links, captures, unit }: ReportGround): string {
  const link = links.find((one) => one.id === id);
  if (!link) return '';
  if (link.kind === 'capture') {
    const ramp = captures.find((one) => one.id === id)?.analysis?.ramp;
    return ramp ? captureText(ramp) : 'not measured';
  }
  const [entry] = entriesOf([link]);
  return entry ? describeEvidence(entry, profileOf(links), unit).text : '';
}

/** What was read at one step of a sweep. */
function stepText({ outputPercent, currentA, pressurePa, supplyV, rpm }: SweepStep, unit: PressureUnitName): string {
  return [
    outputPercent !== undefined && `output ${outputPercent} %`,
    currentA !== undefined && `${currentA.toFixed(2)} A`,
    pressurePa !== undefined && `${pressureText(pressurePa, unit)} ${unit}`,
    supplyV !== undefined && `supply ${supplyV.toFixed(2)} V`,
    rpm !== undefined && `${rpm.toFixed(0)} rpm`,
  ]
    .filter((part) => part !== false)
    .join(', ');
}

/** From where to where a timed hold fell, and how fast. */
export function holdText({ record: { points }, fit }: TimedHold, unit: PressureUnitName): string {
  const [firstS, startPa] = points[0];
  const [lastS, endPa] = points[points.length - 1];
  const minutes = Number(((lastS - firstS) / 60).toFixed(1));
  const fell = `${pressureText(startPa, unit)} to ${pressureText(endPa, unit)} ${unit} in ${minutes} min`;
  return fit ? `${fell}, ${pressureText(fit.ratePaPerMin, unit)} ${unit} a minute` : fell;
}

function isoOf(time: string | Date): string {
  return typeof time === 'string' ? time : time.toISOString();
}
