import type { Capture, Channel } from '../capture/capture.js';
import { InputError } from '../errors.js';

/**
 * RIFF WAVE reading and writing (Multimedia Programming Interface and Data Specifications 1.0, IBM and Microsoft 1991; from memory).
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
  readonly bits: number;
}

type SampleDecoder = (view: DataView, offset: number) => number;

const DECODERS: Readonly<Record<string, SampleDecoder>> = {
  [`${PCM}/8`]: (view, at) => (view.getUint8(at) - 128) / 128,
  [`${PCM}/16`]: (view, at) => view.getInt16(at, true) / 32768,
  [`${PCM}/24`]: (view, at) => (view.getUint16(at, true) + view.getInt8(at + 2) * 65536) / 8388608,
  [`${PCM}/32`]: (view, at) => view.getInt32(at, true) / 2147483648,
  [`${FLOAT}/32`]: (view, at) => view.getFloat32(at, true),
  [`${FLOAT}/64`]: (view, at) => view.getFloat64(at, true),
};

/** @throws InputError when the file is no WAV, is cut off or uses an unknown sample coding */
export function readWav(bytes: Uint8Array): Capture {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  if (bytes.length < 12 || tag(view, 0) !== 'RIFF' || tag(view, 8) !== 'WAVE') {
    throw new InputError('This is not a WAV file. Export the capture from the scope as WAV or CSV.');
  }
  let format: WavFormat | undefined;
  for (let at = 12; at + 8 <= bytes.length;) {
    const name = tag(view, at);
    const size = view.getUint32(at + 4, true);
    const body = at + 8;
    if (name === 'fmt ') format = readFormat(view, body, size);
    if (name === 'data') {
      if (!format) throw new InputError('This WAV has no format block before its samples. Export it again.');
      return decode(view, body, size, format);
    }
    at = body + size + (size & 1);
  }
  throw new InputError('This WAV is cut off before its samples begin. Export or copy it again.');
}

function tag(view: DataView, at: number): string {
  return String.fromCharCode(view.getUint8(at), view.getUint8(at + 1), view.getUint8(at + 2), view.getUint8(at + 3));
}

function readFormat(view: DataView, at: number, size: number): WavFormat {
  if (size < 16 || at + size > view.byteLength) {
    throw new InputError('This WAV is cut off inside its format block. Export or copy it again.');
  }
  let codec = view.getUint16(at, true);
  if (codec === EXTENSIBLE && size >= 26) codec = view.getUint16(at + 24, true);
  return {
    codec,
    channels: view.getUint16(at + 2, true),
    sampleRateHz: view.getUint32(at + 4, true),
    bits: view.getUint16(at + 14, true),
  };
}

function decode(view: DataView, body: number, size: number, format: WavFormat): Capture {
  const { codec, channels: width, sampleRateHz, bits } = format;
  const read = DECODERS[`${codec}/${bits}`];
  if (!read) {
    throw new InputError(
      `This WAV stores its samples in a coding Jarro doesn't read (format ${codec}, ${bits} bits). Export it as 16-, 24- or 32-bit PCM or as float.`,
    );
  }
  if (width === 0 || sampleRateHz === 0)
    throw new InputError('This WAV states no channels or no sample rate. Export it again.');
  const available = view.byteLength - body;
  const promised = size === LENGTH_UNKNOWN ? available : size;
  const frameBytes = (width * bits) / 8;
  if (promised > available) {
    throw new InputError(
      `This WAV is cut off: its header promises ${Math.floor(promised / frameBytes)} samples and ${Math.floor(available / frameBytes)} are there. Copy it again.`,
    );
  }
  const frames = Math.floor(promised / frameBytes);
  if (frames < 16)
    throw new InputError(`Only ${frames} samples: too few to measure anything. Export the whole record.`);
  const channels = Array.from({ length: width }, (_, c): Channel => {
    const samples = new Float32Array(frames);
    let at = body + (c * bits) / 8;
    for (let i = 0; i < frames; i++, at += frameBytes) {
      const value = read(view, at);
      if (!Number.isFinite(value)) {
        throw new InputError(`Sample ${i + 1} of ch${c + 1} is not a number. Export the capture again.`);
      }
      samples[i] = value;
    }
    return { name: `ch${c + 1}`, unit: '1', fileFactor: 1, samples };
  });
  return { sampleRateHz, startS: 0, channels, notes: [] };
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
