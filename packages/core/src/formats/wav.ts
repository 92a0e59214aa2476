import type { Capture, Channel } from '../capture/capture.js';
import { InputError } from '../errors.js';
import { MOST_VALUE, refuseRate, refuseSize } from './bounds.js';
import { inMemory, type ByteSource } from './byte-source.js';

/**
 * RIFF WAVE reading and writing (Multimedia Programming Interface and Data Specifications 1.0, IBM and Microsoft 1991; RF64: EBU
 * Tech 3306, 2009; both from memory). RIFX is the same with its bytes the other way round. PCM of fewer bits than its container
 * stands at the container's upper end, so the container is what is read.
 * Integer samples become full scale +-1, unit '1'; floats are taken as they are. Channels are named ch1, ch2 ...
 */

const PCM = 1;
const FLOAT = 3;
const EXTENSIBLE = 0xfffe;
/** Writers that don't know the length yet put this in the size field. */
const LENGTH_UNKNOWN = 0xffffffff;

interface WavFormat {
  readonly codec: number;
  readonly channels: number;
  readonly sampleRateHz: number;
  /** Of one sample as it is stored. */
  readonly bytes: number;
  readonly bits: number;
}

type SampleDecoder = (view: DataView, offset: number, little: boolean) => number;

const DECODERS: Readonly<Record<string, SampleDecoder>> = {
  [`${PCM}/1`]: (view, at) => (view.getUint8(at) - 128) / 128,
  [`${PCM}/2`]: (view, at, little) => view.getInt16(at, little) / 32768,
  [`${PCM}/3`]: (view, at, little) =>
    (view.getUint16(little ? at : at + 1, little) + view.getInt8(little ? at + 2 : at) * 65536) / 8388608,
  [`${PCM}/4`]: (view, at, little) => view.getInt32(at, little) / 2147483648,
  [`${FLOAT}/4`]: (view, at, little) => view.getFloat32(at, little),
  [`${FLOAT}/8`]: (view, at, little) => view.getFloat64(at, little),
};

const HEADER_BYTES = 12;
const CHUNK_HEAD_BYTES = 8;
const FORMAT_BYTES = 40;
/** Recorders write a handful of chunks before the samples. */
const MOST_CHUNKS = 1000;
const BLOCK_BYTES = 1 << 20;
const LONG_SIZES_BYTES = 16;
const FEWEST_FRAMES = 16;

const FAMILY = ['RIFF', 'RIFX', 'RF64'];

/** Whether a file's first four bytes are those of this family. */
export function isRiff(head: Uint8Array): boolean {
  return head.length >= 4 && FAMILY.includes(String.fromCharCode(...head.subarray(0, 4)));
}

/**
 * A file that ends before its header says so is read as far as it goes, with a note.
 * @throws InputError when the file is no WAV, ends before its samples, is too large or uses an unknown sample coding
 */
export function readWav(file: Uint8Array | ByteSource): Capture {
  const source = file instanceof Uint8Array ? inMemory(file) : file;
  const head = viewOf(source, 0, HEADER_BYTES);
  if (head.byteLength < HEADER_BYTES || !FAMILY.includes(tag(head, 0)) || tag(head, 8) !== 'WAVE') {
    throw new InputError('This is not a WAV file. Export the capture from the scope as WAV or CSV.');
  }
  const little = tag(head, 0) !== 'RIFX';
  let format: WavFormat | undefined;
  let longSize: number | undefined;
  let at = HEADER_BYTES;
  for (let chunks = 0; at + CHUNK_HEAD_BYTES <= source.size && chunks < MOST_CHUNKS; chunks++) {
    const chunk = viewOf(source, at, CHUNK_HEAD_BYTES);
    const name = tag(chunk, 0);
    const size = chunk.getUint32(4, little);
    const body = at + CHUNK_HEAD_BYTES;
    if (name === 'fmt ') format = readFormat(viewOf(source, body, Math.min(size, FORMAT_BYTES)), size, little);
    if (name === 'ds64' && size >= LONG_SIZES_BYTES) {
      // The file's own size comes first, then that of the samples.
      const sizes = viewOf(source, body, LONG_SIZES_BYTES);
      if (sizes.byteLength === LONG_SIZES_BYTES) longSize = Number(sizes.getBigUint64(8, little));
    }
    if (name === 'data') {
      if (!format) throw new InputError('This WAV has no format block before its samples. Export it again.');
      const promised = size === LENGTH_UNKNOWN ? (longSize ?? source.size - body) : size;
      return decode(source, { body, promised, little }, format);
    }
    at = body + size + (size & 1);
  }
  throw new InputError('This WAV is cut off before its samples begin. Export or copy it again.');
}

function viewOf(source: ByteSource, at: number, length: number): DataView {
  const bytes = source.read(at, length);
  return new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
}

function tag(view: DataView, at: number): string {
  return String.fromCharCode(view.getUint8(at), view.getUint8(at + 1), view.getUint8(at + 2), view.getUint8(at + 3));
}

function readFormat(view: DataView, size: number, little: boolean): WavFormat {
  if (size < 16 || view.byteLength < Math.min(size, FORMAT_BYTES)) {
    throw new InputError('This WAV is cut off inside its format block. Export or copy it again.');
  }
  let codec = view.getUint16(0, little);
  if (codec === EXTENSIBLE && size >= 26) codec = view.getUint16(24, little);
  const channels = view.getUint16(2, little);
  const bits = view.getUint16(14, little);
  const frameBytes = view.getUint16(12, little);
  const whole = channels > 0 && frameBytes > 0 && frameBytes % channels === 0 && frameBytes / channels >= bits / 8;
  const bytes = whole ? frameBytes / channels : Math.ceil(bits / 8);
  return { codec, channels, sampleRateHz: view.getUint32(4, little), bytes, bits };
}

/** Where a file's samples stand. */
interface SampleBlock {
  readonly body: number;
  /** Bytes by the header. */
  readonly promised: number;
  readonly little: boolean;
}

function decode(source: ByteSource, { body, promised, little }: SampleBlock, format: WavFormat): Capture {
  const { codec, channels: width, sampleRateHz, bytes: sampleBytes, bits } = format;
  const read = DECODERS[`${codec}/${sampleBytes}`];
  if (!read || bits === 0) {
    throw new InputError(
      `This WAV stores its samples in a coding Jarro doesn't read (format ${codec}, ${bits} bits). Export it as 16-, 24- or 32-bit PCM or as float.`,
    );
  }
  if (width === 0 || sampleRateHz === 0)
    throw new InputError('This WAV states no channels or no sample rate. Export it again.');
  refuseRate(sampleRateHz);
  const frameBytes = width * sampleBytes;
  const available = source.size - body;
  const frames = Math.floor(Math.min(promised, available) / frameBytes);
  refuseSize(width, frames);
  if (frames < FEWEST_FRAMES)
    throw new InputError(`Only ${frames} samples: too few to measure anything. Export the whole record.`);
  const notes =
    promised > available
      ? [
          `This WAV is cut off: its header promises ${Math.floor(promised / frameBytes)} samples and ${frames} are there. Those were read; copy it again for the rest.`,
        ]
      : [];
  const channels = Array.from({ length: width }, () => new Float32Array(frames));
  const framesABlock = Math.max(1, Math.floor(BLOCK_BYTES / frameBytes));
  for (let from = 0; from < frames; from += framesABlock) {
    const count = Math.min(framesABlock, frames - from);
    const view = viewOf(source, body + from * frameBytes, count * frameBytes);
    for (let c = 0; c < width; c++) {
      for (let i = 0, at = c * sampleBytes; i < count; i++, at += frameBytes) {
        const value = read(view, at, little);
        if (!(Math.abs(value) <= MOST_VALUE)) {
          throw new InputError(
            `Sample ${from + i + 1} of ch${c + 1} is not a number that can be used. Export the capture again.`,
          );
        }
        channels[c][from + i] = value;
      }
    }
  }
  return {
    sampleRateHz,
    startS: 0,
    channels: channels.map((samples, c): Channel => ({ name: `ch${c + 1}`, unit: '1', fileFactor: 1, samples })),
    notes,
  };
}

/**
 * Writes 32-bit float WAV, which keeps amps and volts as they are.
 * @throws InputError when the rate is no whole number that the format can hold
 */
export function writeWav(capture: Capture): Uint8Array {
  const rateHz = Math.round(capture.sampleRateHz);
  if (rateHz < 1 || Math.abs(rateHz / capture.sampleRateHz - 1) > 1e-5) {
    throw new InputError(
      `WAV holds whole sample rates only, and this capture has ${capture.sampleRateHz} a second. Convert it to CSV instead.`,
    );
  }
  const width = capture.channels.length;
  const frames = capture.channels[0]?.samples.length ?? 0;
  const dataBytes = frames * width * 4;
  const bytes = new Uint8Array(44 + dataBytes);
  const view = new DataView(bytes.buffer);
  const put = (at: number, text: string) => [...text].forEach((c, i) => view.setUint8(at + i, c.charCodeAt(0)));
  put(0, 'RIFF');
  view.setUint32(4, 36 + dataBytes, true);
  put(8, 'WAVEfmt ');
  view.setUint32(16, 16, true);
  view.setUint16(20, FLOAT, true);
  view.setUint16(22, width, true);
  view.setUint32(24, rateHz, true);
  view.setUint32(28, rateHz * width * 4, true);
  view.setUint16(32, width * 4, true);
  view.setUint16(34, 32, true);
  put(36, 'data');
  view.setUint32(40, dataBytes, true);
  let at = 44;
  for (let i = 0; i < frames; i++) {
    for (const channel of capture.channels) {
      view.setFloat32(at, channel.samples[i], true);
      at += 4;
    }
  }
  return bytes;
}
