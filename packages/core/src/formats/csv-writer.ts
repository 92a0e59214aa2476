import type { Capture } from '../capture/capture.js';
import { encodeText } from './text.js';

const ROWS_A_BLOCK = 4096;

/**
 * Writes a capture as RFC 4180 CSV: a header row, time in seconds, then one column a channel in its SI unit.
 * Yields blocks of bytes so that a long capture needn't stand in memory as text.
 */
export function* csvBlocks(capture: Capture): Generator<Uint8Array> {
  const names = capture.channels.map(({ name, unit }) => quote(unit === '1' ? name : `${name} (${unit})`));
  yield encodeText(['Time (s)', ...names].join(',') + '\r\n');
  const frames = capture.channels[0]?.samples.length ?? 0;
  const decimals = Math.min(12, Math.max(3, Math.ceil(Math.log10(capture.sampleRateHz)) + 3));
  for (let from = 0; from < frames; from += ROWS_A_BLOCK) {
    let text = '';
    for (let i = from; i < Math.min(frames, from + ROWS_A_BLOCK); i++) {
      text += (capture.startS + i / capture.sampleRateHz).toFixed(decimals);
      for (const { samples } of capture.channels) text += ',' + String(+samples[i].toPrecision(9));
      text += '\r\n';
    }
    yield encodeText(text);
  }
}

function quote(text: string): string {
  return /[",\r\n]/.test(text) ? `"${text.replace(/"/g, '""')}"` : text;
}
