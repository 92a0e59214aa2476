import type { Capture, Channel } from '../capture/capture.js';

const HEADER_BYTES = 128;
const TEXT_BYTES = 116;
const INT8 = 1;
const INT32 = 5;
const UINT32 = 6;
const SINGLE = 7;
const DOUBLE = 9;
const MATRIX = 14;
const SINGLE_CLASS = 7;
const DOUBLE_CLASS = 6;
const LONGEST_NAME = 63;

/**
 * Writes a capture as a MAT-file of level 5, uncompressed: a column a channel, named with its unit at the end, and scalars
 * `sample_rate_hz` and `start_s`.
 */
export function writeMat({ channels, sampleRateHz, startS }: Capture): Uint8Array {
  const names = namesOf(channels);
  return joined([
    header(),
    ...channels.map(({ samples }, i) => matrix(names[i], SINGLE_CLASS, samples.length, SINGLE, bytesOf(samples))),
    matrix('sample_rate_hz', DOUBLE_CLASS, 1, DOUBLE, bytesOf(Float64Array.of(sampleRateHz))),
    matrix('start_s', DOUBLE_CLASS, 1, DOUBLE, bytesOf(Float64Array.of(startS))),
  ]);
}

function header(): Uint8Array {
  const bytes = new Uint8Array(HEADER_BYTES).fill(0x20, 0, TEXT_BYTES);
  bytes.set(ascii('MATLAB 5.0 MAT-file, written by Jarro'));
  // Version 1.0, least significant byte first.
  bytes.set([0x00, 0x01, ...ascii('IM')], 124);
  return bytes;
}

function matrix(name: string, kind: number, rows: number, type: number, data: Uint8Array): Uint8Array {
  const body = joined([
    element(UINT32, bytesOf(Uint32Array.of(kind, 0))),
    element(INT32, bytesOf(Int32Array.of(rows, 1))),
    element(INT8, ascii(name)),
    element(type, data),
  ]);
  return element(MATRIX, body);
}

function element(type: number, data: Uint8Array): Uint8Array {
  const out = new Uint8Array(8 + Math.ceil(data.length / 8) * 8);
  const view = new DataView(out.buffer);
  view.setUint32(0, type, true);
  view.setUint32(4, data.length, true);
  out.set(data, 8);
  return out;
}

/** Names as variables may have them: letters, digits and underscores, no two alike. */
function namesOf(channels: readonly Channel[]): string[] {
  const names: string[] = [];
  for (const { name, unit } of channels) {
    const suffix = unit === '1' ? '' : `_${unit}`;
    const plain = name
      .normalize('NFKD')
      .replace(/[^A-Za-z0-9]+/g, '_')
      .replace(/^_+|_+$/g, '');
    const base = (/^[A-Za-z]/.test(plain) ? plain : `ch_${plain}`).slice(0, LONGEST_NAME - 8);
    let wanted = `${base}${suffix}`;
    for (let i = 2; names.includes(wanted); i++) wanted = `${base}_${i}${suffix}`;
    names.push(wanted);
  }
  return names;
}

const ascii = (text: string) => Uint8Array.from(text, (letter) => letter.charCodeAt(0));

/** The bytes of numbers, least significant first whatever this machine does. */
function bytesOf(values: Float32Array | Float64Array | Uint32Array | Int32Array): Uint8Array {
  const out = new Uint8Array(values.byteLength);
  const view = new DataView(out.buffer);
  const size = values.BYTES_PER_ELEMENT;
  for (let i = 0; i < values.length; i++) {
    if (values instanceof Float32Array) view.setFloat32(i * size, values[i], true);
    else if (values instanceof Float64Array) view.setFloat64(i * size, values[i], true);
    else view.setInt32(i * size, values[i], true);
  }
  return out;
}

function joined(parts: readonly Uint8Array[]): Uint8Array {
  const out = new Uint8Array(parts.reduce((sum, part) => sum + part.length, 0));
  let at = 0;
  for (const part of parts) {
    out.set(part, at);
    at += part.length;
  }
  return out;
}
