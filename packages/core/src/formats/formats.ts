import type { Capture } from '../capture/capture.js';
import { InputError } from '../errors.js';
import { readCsv, type CsvOptions } from './csv-reader.js';
import { readWav } from './wav.js';

/**
 * Reads a capture of any known format. What the bytes say wins over what the name says.
 * @throws InputError with what is wrong and what to do
 */
export function readCapture(fileName: string, bytes: Uint8Array, options: CsvOptions = {}): Capture {
  if (bytes.length === 0) throw new InputError('This file is empty. Export the capture again.');
  const looksWav = bytes[0] === 0x52 && bytes[1] === 0x49 && bytes[2] === 0x46 && bytes[3] === 0x46;
  return refuseSilence(looksWav || /\.wav$/i.test(fileName) ? readWav(bytes) : readCsv(bytes, options));
}

/** @throws InputError when not one sample of any channel differs from 0: a recorder with its clamp on shows some noise */
export function refuseSilence(capture: Capture): Capture {
  if (capture.channels.some(({ samples }) => samples.some((value) => value !== 0))) return capture;
  throw new InputError(
    'Every sample in this file is exactly 0: nothing was recorded. Check that the clamp is on and its channel is the one exported, then capture again.',
  );
}
