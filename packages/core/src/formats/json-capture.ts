import type { Capture, Channel } from '../capture/capture.js';
import { InputError } from '../errors.js';
import { refuseRate, refuseSize } from './bounds.js';
import { encodeText } from './text.js';

/** A capture as one JSON object: what stands in it is what was measured, in SI, nothing scaled again. */
export const CAPTURE_FORMAT = 'jarro.capture/1';

const SI_UNITS = ['A', 'V', 'Pa', '1'] as const satisfies readonly Channel['unit'][];
const NUMBERS_A_BLOCK = 8192;
const FIRST_BRACE = 0x7b;

/** Whether a file begins as a capture in JSON does. */
export function isJsonCapture(fileName: string, head: Uint8Array): boolean {
  return /\.json$/i.test(fileName) && head.find((byte) => byte > 0x20) === FIRST_BRACE;
}

/** Writes a capture as `jarro.capture/1`, in blocks, so that a long one needn't stand in memory as text. */
export function* jsonBlocks({ sampleRateHz, startS, channels }: Capture): Generator<Uint8Array> {
  const head = { format: CAPTURE_FORMAT, sampleRateHz, startS };
  yield encodeText(`${JSON.stringify(head).slice(0, -1)},"channels":[`);
  for (const [i, { name, unit, samples }] of channels.entries()) {
    yield encodeText(`${i > 0 ? ',' : ''}{"name":${JSON.stringify(name)},"unit":${JSON.stringify(unit)},"samples":[`);
    for (let from = 0; from < samples.length; from += NUMBERS_A_BLOCK) {
      // Nine digits hold a 32-bit float whole (IEEE 754).
      const numbers = [...samples.subarray(from, from + NUMBERS_A_BLOCK)].map((value) => String(+value.toPrecision(9)));
      yield encodeText((from > 0 ? ',' : '') + numbers.join(','));
    }
    yield encodeText(']}');
  }
  yield encodeText(']}\n');
}

/** @throws InputError naming what is wrong */
export function readJsonCapture(bytes: Uint8Array): Capture {
  const content = parsed(bytes);
  if (content.format !== CAPTURE_FORMAT) {
    throw new InputError(
      `This JSON is no capture: "format" must be "${CAPTURE_FORMAT}". A case is opened by "diagnose".`,
    );
  }
  const { sampleRateHz, startS = 0, channels } = content;
  if (!(typeof sampleRateHz === 'number' && sampleRateHz > 0))
    throw new InputError('"sampleRateHz" must be a number above 0.');
  if (typeof startS !== 'number') throw new InputError('"startS" must be a number of seconds.');
  if (!Array.isArray(channels) || channels.length === 0)
    throw new InputError('"channels" must list one channel or more.');
  const read = channels.map(readChannel);
  if (read.some(({ samples }) => samples.length !== read[0].samples.length)) {
    throw new InputError('All channels must have the same number of samples.');
  }
  refuseRate(sampleRateHz);
  refuseSize(read.length, read[0].samples.length);
  return { sampleRateHz, startS, channels: read, notes: [] };
}

function parsed(bytes: Uint8Array): Readonly<Record<string, unknown>> {
  try {
    const content: unknown = JSON.parse(new TextDecoder().decode(bytes));
    return typeof content === 'object' && content !== null ? (content as Record<string, unknown>) : {};
  } catch (error) {
    throw new InputError(
      `This file is not valid JSON (${error instanceof Error ? error.message : ''}). Export it again.`,
    );
  }
}

function readChannel(value: unknown, i: number): Channel {
  const { name, unit = '1', samples } = (value ?? {}) as Readonly<Record<string, unknown>>;
  if (typeof name !== 'string' || typeof unit !== 'string')
    throw new InputError(`Channel ${i + 1} must have a name, and a unit as text.`);
  if (!Array.isArray(samples) || !samples.every((sample) => typeof sample === 'number')) {
    throw new InputError(`"${name}" must have its samples as a list of numbers.`);
  }
  const kept = SI_UNITS.find((one) => one === unit);
  if (!kept) throw new InputError(`"${name}" must be in one of ${SI_UNITS.join(', ')}.`);
  return { name, unit: kept, fileFactor: 1, samples: Float32Array.from(samples) };
}
