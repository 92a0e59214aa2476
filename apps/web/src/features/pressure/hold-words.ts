import { BLOCK_NAMES, HOLD_BLOCKS } from '@jarro/core';

export const BLOCKS = HOLD_BLOCKS.map((value) => ({ value, label: BLOCK_NAMES[value] }));

export function timeText(seconds: number): string {
  return seconds < 90 ? `${seconds.toFixed(0)} s` : `${(seconds / 60).toFixed(seconds < 600 ? 1 : 0)} min`;
}

/** As a clock shows it: 4:07. */
export function clockText(seconds: number): string {
  return `${Math.floor(seconds / 60)}:${String(Math.floor(seconds % 60)).padStart(2, '0')}`;
}
