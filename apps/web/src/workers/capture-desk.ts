import {
  analyzeCapture,
  buildPyramid,
  CsvReader,
  guessRoles,
  InputError,
  isRiff,
  minMaxWindow,
  readWav,
  refuseSilence,
  type Analysis,
  type Capture,
  type ChannelSetup,
  type Pyramid,
  type Role,
} from '@jarro/core';

/** A file opened for preview: what it holds and what its channels probably are. */
export interface OpenedFile {
  readonly sampleRateHz: number;
  readonly samples: number;
  readonly notes: readonly string[];
  readonly channels: readonly { readonly name: string; readonly unit: string; readonly role: Role }[];
}

/** Refusals cross the thread as data, so that their words survive. */
export type Answer<T> = { readonly ok: T } | { readonly refused: string };

/** Reads and measures a dropped file away from the page's own thread. Holds one capture at a time. */
export class CaptureDesk {
  private capture?: Capture;
  private pyramids: Pyramid[] = [];

  async open(file: File, rateHz: number | undefined): Promise<Answer<OpenedFile>> {
    return answer(async () => {
      const capture = await read(file, rateHz);
      this.capture = capture;
      this.pyramids = capture.channels.map(({ samples }) => buildPyramid(samples));
      const roles = guessRoles(capture.channels);
      return {
        sampleRateHz: capture.sampleRateHz,
        samples: capture.channels[0].samples.length,
        notes: capture.notes,
        channels: capture.channels.map(({ name, unit }, i) => ({ name, unit, role: roles[i] })),
      };
    });
  }

  measure(setups: Record<string, ChannelSetup>, bars: number | undefined): Promise<Answer<Omit<Analysis, 'turnA'>>> {
    return answer(() => {
      if (!this.capture) throw new Error('No file is open.');
      const { turnA: _, ...rest } = analyzeCapture('', this.capture, { setups, ...(bars !== undefined && { bars }) });
      return rest;
    });
  }

  /** Min-max pairs of a channel's own numbers, for the preview. */
  window(channel: number, from: number, to: number, columns: number): Float32Array {
    const samples = this.capture?.channels[channel].samples;
    if (!samples) throw new Error('No file is open.');
    const { levels } = this.pyramids[channel];
    const unitsOf = (level: number, at: number, count: number) =>
      level === 0 ? samples.subarray(at, at + count) : levels[level - 1].subarray(2 * at, 2 * (at + count));
    return minMaxWindow(unitsOf, levels.length, samples.length, from, to, columns);
  }
}

async function answer<T>(work: () => T | Promise<T>): Promise<Answer<T>> {
  try {
    return { ok: await work() };
  } catch (error) {
    if (error instanceof InputError) return { refused: error.message };
    throw error;
  }
}

/** CSV streams through the reader chunk by chunk; WAV needs its bytes whole. */
async function read(file: File, rateHz: number | undefined): Promise<Capture> {
  if (file.size === 0) throw new InputError('This file is empty. Export the capture again.');
  const head = new Uint8Array(await file.slice(0, 4).arrayBuffer());
  if (isRiff(head) || /\.wav$/i.test(file.name))
    return refuseSilence(readWav(new Uint8Array(await file.arrayBuffer())));
  const reader = new CsvReader(rateHz === undefined ? {} : { rateHz });
  const stream = file.stream().getReader();
  for (;;) {
    const { done, value } = await stream.read();
    if (done) return refuseSilence(reader.finish());
    reader.push(value);
  }
}
