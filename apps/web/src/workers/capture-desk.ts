import {
  analyzeRecord,
  CsvReader,
  guessRoles,
  InputError,
  isWholeFormat,
  readCapture,
  asRecord,
  refuseSilence,
  type Analysis,
  type DriveTables,
  type Capture,
  type Channel,
  type ChannelSetup,
  type InputCode,
  type Role,
  type SignalRecord,
} from '@jarro/core';

/** A file opened for preview: what it holds and what its channels probably are. */
export interface OpenedFile {
  readonly sampleRateHz: number;
  readonly samples: number;
  readonly notes: readonly string[];
  readonly channels: readonly (Omit<Channel, 'samples'> & { readonly role: Role })[];
}

/** Refusals cross the thread as data, so that their words survive. */
export type Answer<T> = { readonly ok: T } | { readonly refused: string; readonly code?: InputCode };

/** Reads and measures a dropped file away from the page's own thread. Holds one capture at a time. */
export class CaptureDesk {
  private record?: SignalRecord;

  async open(file: File, rateHz: number | undefined): Promise<Answer<OpenedFile>> {
    return answer(async () => {
      const capture = await read(file, rateHz);
      this.record = asRecord(capture);
      const roles = guessRoles(capture.channels);
      return {
        sampleRateHz: capture.sampleRateHz,
        samples: capture.channels[0].samples.length,
        notes: capture.notes,
        channels: capture.channels.map(({ samples: _, ...channel }, i) => ({ ...channel, role: roles[i] })),
      };
    });
  }

  /** @param system tables of the driver module on the case's path */
  measure(
    setups: Record<string, ChannelSetup>,
    bars: number | undefined,
    system: DriveTables = {},
  ): Promise<Answer<Omit<Analysis, 'turnA'>>> {
    return answer(() => {
      if (!this.record) throw new Error('No file is open.');
      const options = { setups, system, ...(bars !== undefined && { bars }) };
      const { turnA: _, ...rest } = analyzeRecord('', this.record, options);
      return rest;
    });
  }

  /** Min-max pairs of a channel's own numbers, for the preview. */
  window(channel: number, from: number, to: number, columns: number): Float32Array {
    const source = this.record?.channels[channel].source;
    if (!source) throw new Error('No file is open.');
    return source.minMax(from, to, columns);
  }
}

async function answer<T>(work: () => T | Promise<T>): Promise<Answer<T>> {
  try {
    return { ok: await work() };
  } catch (error) {
    if (error instanceof InputError) {
      const { message, code } = error;
      return { refused: message, ...(code && { code }) };
    }
    throw error;
  }
}

/** CSV streams through the reader chunk by chunk; WAV and MAT need their bytes whole. */
async function read(file: File, rateHz: number | undefined): Promise<Capture> {
  if (file.size === 0) throw new InputError('This file is empty. Export the capture again.');
  const head = new Uint8Array(await file.slice(0, 128).arrayBuffer());
  const options = rateHz === undefined ? {} : { rateHz };
  if (isWholeFormat(file.name, head)) return readCapture(file.name, new Uint8Array(await file.arrayBuffer()), options);
  const reader = new CsvReader(options);
  const stream = file.stream().getReader();
  for (;;) {
    const { done, value } = await stream.read();
    if (done) return refuseSilence(reader.finish());
    reader.push(value);
  }
}
