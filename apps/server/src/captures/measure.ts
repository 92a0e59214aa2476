import type { StoredAnalysis, StoredChannel } from '@jarro/api-types';
import {
  analyzeCapture,
  chunksOf,
  pyramidOf,
  readCapture,
  asRecord,
  signalOf,
  InputError,
  type ChannelSetup,
  type Capture,
  type DriveTables,
} from '@jarro/core';
import { openFile } from './file-source.js';
import { writeLevels, type ChannelLevels } from './levels.js';

export interface MeasureTask {
  readonly path: string;
  /** Where the samples and their levels go. */
  readonly levelsPath: string;
  readonly fileName: string;
  readonly setups: Readonly<Record<string, Partial<ChannelSetup>>>;
  readonly bars?: number;
  readonly rateHz?: number;
  /** How the vehicle's module reads its command and words its feedback. */
  readonly system?: DriveTables;
}

/** A file read and measured. */
export interface Measured {
  readonly sampleRateHz: number;
  readonly startS: number;
  readonly samples: number;
  readonly channels: readonly StoredChannel[];
  readonly analysis: StoredAnalysis;
}

/** The same with the samples themselves, a channel an item. */
export interface MeasuredWhole extends Measured {
  readonly levels: readonly ChannelLevels[];
}

/** Input errors cross the worker boundary as data: an exception would lose its type. */
export type MeasureOutcome =
  | {
      readonly ok: Measured;
      /** Floats in the levels' file, by channel, then level. */
      readonly lengths: readonly (readonly number[])[];
    }
  | { readonly refused: string };

/** The worker's whole job. */
export function measure(task: MeasureTask): MeasureOutcome {
  const file = openFile(task.path);
  try {
    const options = task.rateHz === undefined ? {} : { rateHz: task.rateHz };
    const { levels, ...ok } = measureCapture(task.fileName, readCapture(task.fileName, file, options), task);
    return { ok, lengths: writeLevels(task.levelsPath, levels) };
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
  { setups, bars, system }: Pick<MeasureTask, 'setups' | 'bars' | 'system'>,
): MeasuredWhole {
  const { turnA, ...analysis } = analyzeCapture(fileName, capture, {
    setups,
    ...(bars !== undefined && { bars }),
    ...(system && { system }),
  });
  const roles = new Map(analysis.capture.channels.map(({ name, role }) => [name, role]));
  const signals = asRecord(capture).channels.map((channel) =>
    signalOf(channel, { role: roles.get(channel.name) ?? 'other', ...setups[channel.name] }),
  );
  return {
    sampleRateHz: capture.sampleRateHz,
    startS: capture.startS,
    samples: analysis.capture.samples,
    channels: signals.map(({ name, role, unit }) => ({ name, role, unit })),
    levels: signals.map(({ source }) => ({ source, above: pyramidOf(source.length, chunksOf(source)).levels })),
    analysis: { ...analysis, ...(turnA && { turnA: [...turnA] }) },
  };
}
