import type { Capture } from '../capture/capture.js';
import { InputError } from '../errors.js';
import { inMemory, type ByteSource } from './byte-source.js';
import { CsvReader, type CsvOptions } from './csv-reader.js';
import { isJsonCapture, readJsonCapture } from './json-capture.js';
import { isMat } from './mat-elements.js';
import { readMat } from './mat.js';
import { isRiff, readWav } from './wav.js';

const CSV_BLOCK_BYTES = 1 << 20;
/** The longest header that tells a format. */
const HEAD_BYTES = 128;

/**
 * Reads a capture of any known format. What the bytes say wins over what the name says.
 * @throws InputError with what is wrong and what to do
 */
export function readCapture(fileName: string, file: Uint8Array | ByteSource, options: CsvOptions = {}): Capture {
  const source = file instanceof Uint8Array ? inMemory(file) : file;
  if (source.size === 0) throw new InputError('This file is empty. Export the capture again.');
  const head = source.read(0, HEAD_BYTES).slice();
  return refuseSilence(read(fileName, head, source, options));
}

/** Whether a file is of a format whose bytes are needed all at once; any other is text, which may be read as it comes. */
export function isWholeFormat(fileName: string, head: Uint8Array): boolean {
  return isRiff(head) || isMat(head) || isJsonCapture(fileName, head) || /\.(wav|mat)$/i.test(fileName);
}

function read(fileName: string, head: Uint8Array, source: ByteSource, options: CsvOptions): Capture {
  if (isRiff(head) || /\.wav$/i.test(fileName)) return readWav(source);
  if (isJsonCapture(fileName, head)) return readJsonCapture(source.read(0, source.size));
  return isMat(head) || /\.mat$/i.test(fileName) ? readMat(source, options) : readCsv(source, options);
}

/** Reads a whole CSV file, block by block. */
export function readCsv(file: Uint8Array | ByteSource, options: CsvOptions = {}): Capture {
  const source = file instanceof Uint8Array ? inMemory(file) : file;
  const reader = new CsvReader(options);
  for (let at = 0; at < source.size; at += CSV_BLOCK_BYTES) reader.push(source.read(at, CSV_BLOCK_BYTES));
  return reader.finish();
}

/** @throws InputError when not one sample of any channel differs from 0: a recorder with its clamp on shows some noise */
export function refuseSilence(capture: Capture): Capture {
  if (capture.channels.some(({ samples }) => samples.some((value) => value !== 0))) return capture;
  throw new InputError(
    'Every sample in this file is exactly 0: nothing was recorded. Check that the clamp is on and its channel is the one exported, then capture again.',
  );
}
