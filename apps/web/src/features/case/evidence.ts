import type { LadderStation } from '@jarro/core';
import type { Reading } from '../../app/types';

const LOADED = new Set(['prime', 'cranking', 'idle']);

/** The newest standing loaded voltage of each station, with the fault present. */
export function newestLoaded(readings: readonly Reading[]): Partial<Record<LadderStation, number>> {
  const volts: Partial<Record<LadderStation, number>> = {};
  for (const { kind, value, keyState, faultPresent, voidedAt } of readings) {
    if (kind === 'current' || voidedAt || !faultPresent || !LOADED.has(keyState)) continue;
    volts[kind] = value;
  }
  return volts;
}
