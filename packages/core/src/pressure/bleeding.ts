import { newestEntry, type Entry } from '../evidence/entry.js';

/** Somebody said that the gauge was bled: air in it reads soft and slow. */
export function isGaugeBled(entries: readonly Entry[]): boolean {
  return newestEntry(entries, 'check', 'gauge_bled')?.value === 'yes';
}

/** What counts: until the gauge is bled, nothing that was read on it does. */
export function countedEntries(entries: readonly Entry[]): readonly Entry[] {
  return isGaugeBled(entries) ? entries : entries.filter((entry) => !isOnGauge(entry));
}

function isOnGauge({ kind, at }: Entry): boolean {
  return (kind === 'pressure' && at !== 'manifold_vacuum') || kind === 'hold' || at === 'rise_time';
}
