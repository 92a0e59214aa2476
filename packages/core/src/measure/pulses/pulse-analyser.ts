import type { Role } from '../../capture/capture.js';
import type { Signal } from '../../capture/signal-record.js';
import { wholeOf } from '../../capture/source.js';
import { COMMON_PRACTICE, finding, type Finding } from '../../limits/limits.js';
import type { FeedbackMeaning } from '../../vehicle/profile.js';
import type { Analyser, Material, MeasuredValue, RecordEvent } from '../analyser.js';
import { findSteppedRunning } from '../current/stepped.js';
import { switchedStretches } from './clock.js';
import { judgeDrive, type DriveResult } from './drive.js';
import { measurePulses, type MeasuredLine } from './pulse-train.js';
import { cutSweep, meansOver, type CutStep } from './sweep-steps.js';
import { besideEachOther } from './beside-each-other.js';
import type { PulseTrain } from './types.js';

export interface PulsePart {
  /** By channel name. */
  readonly pulses: Readonly<Record<string, PulseTrain>>;
  readonly drive: DriveResult;
  /** Steps of the command, where it was stepped in the record. */
  readonly sweep?: readonly CutStep[];
}

/** Lines that are switched, and nothing else. */
const SWITCHED = ['command_signal', 'feedback_signal', 'module_output_voltage'] as const satisfies readonly Role[];
type Switched = (typeof SWITCHED)[number];

const BY_TABLE = { rule: 'A feedback duty means what the system’s table says', source: COMMON_PRACTICE };

/** Duty, frequency and missing pulses of a driven pump's lines, and where the chain from command to output breaks. */
export const pulseAnalyser: Analyser<'pulses', PulsePart> = {
  name: 'pulses',
  needs: [],
  anyOf: SWITCHED,
  wholeSignal: false,
  measure(material) {
    const lines = linesOf(material);
    const { drive, findings } = judgeDrive({
      ...(lines.command_signal && { command: lines.command_signal.measured }),
      ...(lines.module_output_voltage && { output: lines.module_output_voltage.measured }),
      ...supplyOf(material, lines),
      sampleRateHz: material.sampleRateHz,
      table: material.system?.commandTable,
    });
    const all = Object.values(lines);
    const sweep = sweepOf(lines, material);
    return {
      part: {
        pulses: Object.fromEntries(all.map(({ signal, measured }) => [signal.name, measured.train])),
        drive,
        ...(sweep.length > 0 && { sweep }),
      },
      values: [...all.flatMap(({ signal, measured }) => valuesOf(signal, measured)), ...sweep.flatMap(stepValues)],
      events: all.flatMap(({ measured }) => eventsOf(measured)).sort((a, b) => a.atS - b.atS),
      findings: [...findings, ...answered(lines.feedback_signal?.measured, material.system?.feedbackTable)],
      cannotTell: all.flatMap(({ measured }) => measured.cannotTell),
      ...drivenBy(lines.module_output_voltage),
    };
  },
};

interface Line {
  readonly signal: Signal;
  readonly measured: MeasuredLine;
}

type Lines = Partial<Record<Switched, Line>>;

function linesOf({ signals, sampleRateHz, startS }: Material): Lines {
  const lines: Lines = Object.fromEntries(
    SWITCHED.flatMap((role) => {
      const signal = signals[role];
      if (!signal) return [];
      return [[role, { signal, measured: measurePulses(signal.source, sampleRateHz, startS, `"${signal.name}"`) }]];
    }),
  );
  const { command_signal: command, module_output_voltage: output } = lines;
  if (!command || !output) return lines;
  const pair = besideEachOther({ command: command.measured, output: output.measured }, sampleRateHz, startS);
  return {
    ...lines,
    command_signal: { ...command, measured: pair.command },
    module_output_voltage: { ...output, measured: pair.output },
  };
}

function drivenBy(output: Line | undefined): { drivenHz?: number } {
  if (!output) return {};
  const { clock, train } = output.measured;
  return clock?.isRegular && train.frequencyHz > 0 ? { drivenHz: train.frequencyHz } : {};
}

/** The steps of the command with what was recorded beside it; none where it keeps no clock. */
function sweepOf(lines: Lines, { signals, sampleRateHz, startS }: Material): CutStep[] {
  const { line, clock } = lines.command_signal?.measured ?? {};
  if (!line || !clock?.isRegular) return [];
  const output = lines.module_output_voltage?.measured.line;
  const steps = cutSweep({
    command: { line, clock },
    ...(output && { output }),
    ...(signals.pump_current && { current: signals.pump_current.source }),
    ...(signals.rail_pressure && { pressure: signals.rail_pressure.source }),
    ...(signals.module_supply_voltage && { supply: signals.module_supply_voltage.source }),
    ...{ sampleRateHz, startS },
  });
  const zeroA = steps.length > 0 ? clampZero(signals.pump_current, sampleRateHz) : 0;
  return steps.map(({ currentA, ...step }) => ({
    ...step,
    ...(currentA !== undefined && { currentA: currentA - zeroA }),
  }));
}

/** What the clamp shows with the pump off, where the record has that; else, and while it is still taken, its own zero has to do. */
function clampZero(clamp: Signal | undefined, sampleRateHz: number): number {
  if (!clamp || clamp.zeroStated || !clamp.source.isComplete) return 0;
  return findSteppedRunning(wholeOf(clamp.source), sampleRateHz)?.offLevel ?? 0;
}

const STEP_UNITS = { commandPercent: '%', outputPercent: '%', currentA: 'A', pressurePa: 'Pa', supplyV: 'V' } as const;

function stepValues(step: CutStep, i: number): MeasuredValue[] {
  return (Object.keys(STEP_UNITS) as (keyof typeof STEP_UNITS)[]).flatMap((name): MeasuredValue[] => {
    const value = step[name];
    const window = [step.fromS, step.toS] as const;
    return value === undefined
      ? []
      : [{ what: `sweep.${i}.${name}`, value, unit: STEP_UNITS[name], window, basis: 'measured' }];
  });
}

/** Mean of the module's supply while it is asked for something, or gives something; before and after the key may be off. */
function supplyOf({ signals }: Material, { command_signal: command, module_output_voltage: output }: Lines) {
  const source = signals.module_supply_voltage?.source;
  if (!source) return {};
  const { clock } = (output?.measured.clock ? output : command)?.measured ?? {};
  const stretches = switchedStretches(clock ?? { rests: [] }, source.length);
  const means = meansOver(
    source,
    stretches.map(({ from, to }) => [from, to] as const),
  );
  const lengths = stretches.map(({ from, to }) => to - from);
  const all = lengths.reduce((sum, length) => sum + length, 0);
  return { supplyV: means.reduce((sum, mean, i) => sum + mean * lengths[i], 0) / all };
}

function valuesOf({ name }: Signal, { train }: MeasuredLine): MeasuredValue[] {
  const { frequencyHz, frequencyInterval, dutyPercent, usualDutyPercent, usualDutyInterval } = train;
  const at = (what: string) => `pulses.${name}.${what}`;
  return [
    {
      what: at('frequencyHz'),
      value: frequencyHz,
      unit: 'Hz',
      basis: 'measured',
      ...(frequencyInterval && { interval: frequencyInterval }),
    },
    { what: at('dutyPercent'), value: dutyPercent, unit: '%', basis: 'measured' },
    ...(usualDutyPercent === undefined
      ? []
      : [
          {
            what: at('usualDutyPercent'),
            value: usualDutyPercent,
            unit: '%' as const,
            basis: 'measured' as const,
            ...(usualDutyInterval && { interval: usualDutyInterval }),
          },
        ]),
  ];
}

function eventsOf({ train: { gaps, extra = [], frequencyHz } }: MeasuredLine): RecordEvent[] {
  return [
    ...gaps.map(({ startS, missing }) => ({
      kind: 'pulse-missing',
      atS: startS,
      untilS: startS + missing / frequencyHz,
    })),
    ...extra.map((atS) => ({ kind: 'pulse-extra', atS })),
  ];
}

/** What a module says on its feedback line. */
function answered(line: MeasuredLine | undefined, table: readonly FeedbackMeaning[] | undefined): Finding[] {
  const percent = line?.train.usualDutyPercent ?? line?.train.dutyPercent;
  if (percent === undefined || !table) return [];
  const row = table.find(({ fromPercent, toPercent }) => percent >= fromPercent && percent <= toPercent);
  const text = row
    ? `The module answers ${percent.toFixed(0)} %: ${row.meaning}.`
    : `The module answers ${percent.toFixed(0)} %, which its table has no row for.`;
  return [finding('module-answers', row ? 'info' : 'keep-in-mind', text, BY_TABLE)];
}
