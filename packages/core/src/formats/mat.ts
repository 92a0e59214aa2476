import type { Capture, Channel } from '../capture/capture.js';
import { InputError } from '../errors.js';
import { refuseRate, refuseSize } from './bounds.js';
import { inMemory, type ByteSource } from './byte-source.js';
import { splitUnit, TIME_NAME } from './header.js';
import { readElements, type MatVariable } from './mat-elements.js';
import { judgeTimebase, resampleEvenly, type Timebase } from './timebase.js';

export interface MatOptions {
  /** Samples a second, where the file doesn't say. */
  readonly rateHz?: number;
}

/** Names under which programs keep the clock of a record beside its signals. */
const RATE_NAME = /^(fs|f_?s_?hz|sample_?rate(_?hz)?|sampling_?rate|rate|rate_?hz)$/i;
const STEP_NAME =
  /^(dt|delta_?t|ts|t_?interval|interval|sample_?(time|interval|period)|x_?increment|increment)(_?s)?$/i;
const START_NAME = /^(t_?0|t_?start|start|start_?(s|time))$/i;
const FEWEST_SAMPLES = 16;

/**
 * A MAT-file of level 5 as a capture: every vector of numbers, or column of a matrix, is a channel; a vector named as time, or
 * scalars named as a rate or an interval, are the clock.
 * @throws InputError when it holds no signals, no clock where none is stated, or more than can be read
 */
export function readMat(file: Uint8Array | ByteSource, { rateHz }: MatOptions = {}): Capture {
  const source = file instanceof Uint8Array ? inMemory(file) : file;
  const { variables, passedOver } = readElements(source.read(0, source.size).slice());
  const columns = variables.flatMap(columnsOf);
  const length = usualLength(columns);
  if (length === undefined) {
    const others = passedOver.length > 0 ? ` It holds ${passedOver.join(', ')}.` : '';
    throw new InputError(
      `This MAT-file holds no vectors of numbers. Save each channel as a plain variable, with a time vector or a sample rate beside.${others}`,
    );
  }
  const alike = columns.filter((column) => column.length === length);
  const time = alike.find(({ name }) => TIME_NAME.test(splitUnit(name).name));
  const signals = alike.filter((column) => column !== time);
  if (signals.length === 0)
    throw new InputError('This MAT-file holds a time and no signal. Save the channels with it.');
  refuseSize(signals.length, length);
  const left = columns.filter((column) => column.length !== length).map(({ name }) => name);
  const stamps = time && stampsOf(time);
  const clock: Timebase = stamps ? judgeTimebase(stamps) : clockOf(variables, rateHz);
  return {
    sampleRateHz: clock.sampleRateHz,
    startS: clock.startS,
    channels: signals.map((signal) => channelOf(signal, stamps, clock)),
    notes: [
      ...clock.notes,
      ...(left.length > 0
        ? [`${left.join(', ')}: another number of samples than the others, so another rate; left out. Save them apart.`]
        : []),
      ...(passedOver.length > 0 ? [`Not read: ${passedOver.join(', ')}.`] : []),
    ],
  };
}

/** One column of numbers. */
interface Column {
  readonly name: string;
  readonly length: number;
  readonly variable: MatVariable;
  /** Where it begins among the variable's values. */
  readonly from: number;
}

function columnsOf(variable: MatVariable): Column[] {
  const { name, rows, columns } = variable;
  const length = Math.min(rows, columns) === 1 ? Math.max(rows, columns) : rows;
  const count = Math.min(rows, columns) === 1 ? 1 : columns;
  if (length < FEWEST_SAMPLES) return [];
  refuseSize(count, length);
  return Array.from({ length: count }, (_, i) => ({
    name: count === 1 ? name : `${name} ${i + 1}`,
    length,
    variable,
    from: i * length,
  }));
}

/** The length that most columns have, the longer one of two as common. */
function usualLength(columns: readonly Column[]): number | undefined {
  const counts = new Map<number, number>();
  for (const { length } of columns) counts.set(length, (counts.get(length) ?? 0) + 1);
  const [usual] = [...counts].sort(([a, one], [b, other]) => other - one || b - a);
  return usual?.[0];
}

function stampsOf({ name, variable, from, length }: Column): Float64Array {
  const { unit } = splitUnit(name);
  const factor = unit?.si === 's' ? unit.factor : 1;
  return variable.read(new Float64Array(length), from).map((value) => value * factor);
}

function clockOf(variables: readonly MatVariable[], stated: number | undefined): Timebase {
  const scalar = (pattern: RegExp) => {
    const found = variables.find(({ name, rows, columns }) => rows * columns === 1 && pattern.test(name));
    return found?.read(new Float64Array(1), 0)[0];
  };
  const step = scalar(STEP_NAME);
  const rate = stated ?? scalar(RATE_NAME) ?? (step === undefined ? undefined : 1 / step);
  if (rate === undefined) {
    throw new InputError('This MAT-file has no time vector and no sample rate. Give the rate the scope was set to.', {
      code: 'rate-unknown',
    });
  }
  return { sampleRateHz: refuseRate(rate), startS: scalar(START_NAME) ?? 0, notes: [] };
}

function channelOf(
  { name: header, variable, from, length }: Column,
  stamps: Float64Array | undefined,
  clock: Timebase,
): Channel {
  const { name, unit } = splitUnit(header);
  const factor = unit?.factor ?? 1;
  const samples = variable.read(new Float32Array(length), from);
  for (let i = 0; i < length; i++) {
    samples[i] *= factor;
    if (!Number.isFinite(samples[i])) {
      throw new InputError(
        `"${header}" holds a value that is no number, at sample ${i + 1}. Cut the record there and save it again.`,
      );
    }
  }
  const even = stamps && clock.resampleTo !== undefined ? resampleEvenly(stamps, samples, clock) : samples;
  const plain = name.replaceAll('_', ' ').trim() || header;
  return {
    name: plain,
    ...(plain !== header && { header }),
    unit: unit?.si ?? '1',
    fileFactor: factor,
    samples: even,
  };
}
