import { ROLE_UNIT, type Capture, type Channel, type ChannelSetup, type Role } from './capture/capture.js';
import { guessRoles } from './capture/roles.js';
import { usualScales, type ScaleOffer } from './capture/scales.js';
import { asRecord, fitsRole, signalOf, statedFor, type Signal, type SignalRecord } from './capture/signal-record.js';
import { chunksOf, type SampleSource } from './capture/source.js';
import type { CannotTell } from './errors.js';
import { COMMON_PRACTICE, finding, type Finding } from './limits/limits.js';
import type { DriveTables, Material, Measured, MeasuredValue, RecordEvent, TimeSpan } from './measure/analyser.js';
import { cutOff } from './measure/cut-off.js';
import { eventsWithout, rampWithout } from './measure/sequence/told-once.js';
import { ANALYSERS, type MeasuredParts } from './measure/registry.js';
import { withSpeeds } from './measure/sweep-speeds.js';
import { UNITS } from './units/units.js';

/** What a person states of a capture beside its file. */
export interface AnalyzeOptions {
  /** Setups by channel name; channels not named get a guessed role. */
  readonly setups?: Readonly<Record<string, Partial<ChannelSetup>>>;
  readonly bars?: number;
  /** The vehicle's system, where it is known. */
  readonly system?: DriveTables;
}

/** A channel at a glance; its numbers in `unit`. */
export interface ChannelSummary {
  readonly name: string;
  readonly role: Role;
  readonly unit: string;
  readonly min: number;
  readonly max: number;
  readonly mean: number;
}

/** What was read from a file. */
export interface CaptureSummary {
  readonly file: string;
  readonly sampleRateHz: number;
  readonly samples: number;
  readonly durationS: number;
  readonly channels: readonly ChannelSummary[];
}

/** A channel whose unit contradicts its role: nothing of it is measured until its scale is stated. */
export interface ScaleQuestion {
  readonly channel: string;
  readonly role: Role;
  /** What the file says the numbers are. */
  readonly unit: string;
  readonly usual: readonly ScaleOffer[];
}

/** One record's whole analysis. Parts that the record doesn't hold are absent. */
export interface Analysis extends MeasuredParts {
  readonly capture: CaptureSummary;
  /** Every value that was measured, with its interval, window and basis. */
  readonly values: readonly MeasuredValue[];
  readonly events: readonly RecordEvent[];
  readonly findings: readonly Finding[];
  readonly cannotTell: readonly CannotTell[];
  readonly scaleQuestions: readonly ScaleQuestion[];
}

/** Scales every channel of a capture by its setup and measures whatever the roles allow. */
export function analyzeCapture(file: string, capture: Capture, options: AnalyzeOptions = {}): Analysis {
  return analyzeRecord(file, asRecord(capture), options);
}

/** The same of a record of any source, complete or still growing. */
export function analyzeRecord(file: string, record: SignalRecord, options: AnalyzeOptions = {}): Analysis {
  const { channels, sampleRateHz, startS } = record;
  const guessed = guessRoles(channels);
  const signals = channels.map((channel, i) =>
    signalOf(channel, { role: guessed[i], ...(options.setups && statedFor(channel, options.setups)) }),
  );
  const samples = channels[0]?.source.length ?? 0;
  const capture: CaptureSummary = {
    file,
    sampleRateHz,
    samples,
    durationS: samples / sampleRateHz,
    channels: signals.map(({ name, role, unit, source }) => ({ name, role, unit, ...levelsOf(source) })),
  };
  const scaleQuestions = signals.flatMap((signal, i): ScaleQuestion[] =>
    fitsRole(signal)
      ? []
      : [
          {
            channel: signal.name,
            role: signal.role,
            unit: fileUnit(channels[i]),
            usual: usualScales(signal.role, channels[i]),
          },
        ],
  );
  const material: Material = {
    signals: Object.fromEntries(
      signals
        .filter(fitsRole)
        .reverse()
        .map((signal) => [signal.role, signal]),
    ),
    sampleRateHz,
    startS,
    ...(options.bars !== undefined && { bars: options.bars }),
    ...(options.system && { system: options.system }),
    disturbed: [],
    cranks: [],
  };
  const asked = new Set(scaleQuestions.map(({ role }) => role));
  const disturbed: TimeSpan[] = [];
  const cranks: TimeSpan[] = [];
  let drivenHz: number | undefined;
  const outcomes = ANALYSERS.map((analyser): Measured<object> => {
    const missing = analyser.needs.find((role) => !material.signals[role]);
    if (missing !== undefined) {
      const says = !asked.has(missing) && analyser.without !== undefined;
      return nothing(says ? [{ what: analyser.name, because: analyser.without }] : []);
    }
    if (analyser.anyOf && !analyser.anyOf.some((role) => material.signals[role])) return nothing([]);
    if (analyser.wholeSignal && !analyser.needs.every((role) => material.signals[role]?.source.isComplete)) {
      return nothing([{ what: analyser.name, because: 'it takes the whole record, which is still being taken' }]);
    }
    const measured = analyser.measure({ ...material, disturbed, cranks, ...(drivenHz && { drivenHz }) });
    disturbed.push(...(measured.disturbed ?? []));
    cranks.push(...(measured.cranks ?? []));
    drivenHz ??= measured.drivenHz;
    return measured;
  });
  const parts = Object.assign({}, ...outcomes.map(({ part }) => part)) as MeasuredParts;
  const incidents = parts.sequence?.incidents ?? [];
  return {
    capture,
    ...parts,
    ...(parts.ramp && { ramp: rampWithout(parts.ramp, incidents) }),
    ...(parts.sweep && { sweep: withSpeeds(parts.sweep, parts.ramp?.runs) }),
    values: outcomes.flatMap(({ values }) => values),
    events: eventsWithout(
      outcomes.flatMap(({ events }) => events),
      incidents,
    ),
    findings: [
      ...signals.flatMap(unitAssumed),
      ...signals.flatMap((signal, i) => cutOff(signal, capture.channels[i])),
      ...outcomes.flatMap(({ findings }) => findings),
    ],
    cannotTell: [
      ...record.notes.map((because) => ({ what: 'time stamps', because })),
      ...scaleQuestions.map(scaleWanted),
      ...outcomes.flatMap(({ cannotTell }) => cannotTell),
    ],
    scaleQuestions,
  };
}

function nothing(cannotTell: readonly CannotTell[]) {
  return { part: {}, values: [], events: [], findings: [], cannotTell };
}

/** The unit as the file writes it. */
function fileUnit({ unit, fileFactor }: Pick<Channel, 'unit' | 'fileFactor'>): string {
  return UNITS.find(({ si, factor }) => si === unit && factor === fileFactor)?.symbol ?? unit;
}

/** Lowest, highest and mean, a chunk at a time. */
function levelsOf(source: SampleSource): Pick<ChannelSummary, 'min' | 'max' | 'mean'> {
  let [min, max, sum] = [Infinity, -Infinity, 0];
  for (const chunk of chunksOf(source)) {
    const part = extremesOf(chunk);
    if (part.min < min) min = part.min;
    if (part.max > max) max = part.max;
    sum += part.sum;
  }
  return { min, max, mean: sum / source.length };
}

/** By index and in locals: an iterator takes four times as long. */
function extremesOf(samples: Float32Array): { readonly min: number; readonly max: number; readonly sum: number } {
  let [min, max, sum] = [Infinity, -Infinity, 0];
  for (let i = 0; i < samples.length; i++) {
    const value = samples[i];
    if (value < min) min = value;
    if (value > max) max = value;
    sum += value;
  }
  return { min, max, sum };
}

const ROLE_WORDS: Partial<Record<Role, string>> = {
  pump_current: 'a pump current is measured in amperes: state the clamp’s scale',
  rail_pressure: 'a rail pressure is measured in pascals: state the transducer’s scale',
};

function scaleWanted({ channel, role, unit, usual }: ScaleQuestion): CannotTell {
  const wanted = ROLE_WORDS[role] ?? `its role is measured in ${ROLE_UNIT[role]}: state its scale, or another role`;
  const offers = usual.map(
    ({ label, factor, zero }) => `${label}: ${factor}${zero === undefined ? '' : `, zero ${zero}`}`,
  );
  return {
    what: `scale of "${channel}"`,
    because: `the file gives ${unit}, and ${wanted}${offers.length > 0 ? ` (${offers.join('; ')})` : ''}`,
  };
}

function unitAssumed({ name, unit, unitAssumed: assumed }: Signal): Finding[] {
  if (!assumed) return [];
  const note = { rule: 'A column without a unit is taken in the unit of its role', source: COMMON_PRACTICE };
  const text = `The file gives "${name}" no unit; its numbers are taken as ${unit}. State the scale if they aren’t.`;
  return [finding('unit-assumed', 'keep-in-mind', text, note)];
}
