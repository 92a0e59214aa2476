import type { StoredAnalysis, StoredChannel } from '@jarro/api-types';
import {
  analyzeCapture,
  buildPyramid,
  readCapture,
  asRecord,
  signalOf,
  wholeOf,
  InputError,
  type ChannelSetup,
  type Capture,
} from '@jarro/core';
import { openFile } from './file-source.js';

export interface MeasureTask {
  readonly path: string;
  readonly fileName: string;
  readonly setups: Readonly<Record<string, Partial<ChannelSetup>>>;
  readonly bars?: number;
  readonly rateHz?: number;
}

/** A file read, scaled, measured and cut into levels, ready to store. */
export interface Measured {
  readonly sampleRateHz: number;
  readonly startS: number;
  readonly samples: number;
  readonly channels: readonly StoredChannel[];
  /** By channel, then level: level 0 holds the scaled samples. */
  readonly levels: readonly (readonly Float32Array[])[];
  readonly analysis: StoredAnalysis;
}

/** Input errors cross the worker boundary as data: an exception would lose its type. */
export type MeasureOutcome = { readonly ok: Measured } | { readonly refused: string };

/** The worker's whole job. */
export function measure(task: MeasureTask): MeasureOutcome {
  const file = openFile(task.path);
  try {
    const options = task.rateHz === undefined ? {} : { rateHz: task.rateHz };
    return { ok: measureCapture(task.fileName, readCapture(task.fileName, file, options), task) };
  } catch (error) {
    if (error instanceof InputError) return { refused: error.message };
    throw error;
  } finally {
    file.close();
  }
}

export function measureCapture(
  fileName: string,
  capture: Capture,
  { setups, bars }: Pick<MeasureTask, 'setups' | 'bars'>,
): Measured {
  const { turnA, ...analysis } = analyzeCapture(fileName, capture, { setups, ...(bars !== undefined && { bars }) });
  const roles = new Map(analysis.capture.channels.map(({ name, role }) => [name, role]));
  const signals = asRecord(capture).channels.map((channel) =>
    signalOf(channel, { role: roles.get(channel.name) ?? 'other', ...setups[channel.name] }),
  );
  return {
    sampleRateHz: capture.sampleRateHz,
    startS: capture.startS,
    samples: analysis.capture.samples,
    channels: signals.map(({ name, role, unit }) => ({ name, role, unit })),
    levels: signals.map(({ source }) => {
      const samples = wholeOf(source);
      return [samples, ...buildPyramid(samples).levels];
    }),
    analysis: { ...analysis, ...(turnA && { turnA: [...turnA] }) },
  };
}
