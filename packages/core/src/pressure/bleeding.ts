import type { Entry } from '../evidence/entry.js';

/**
 * Place in the entries, oldest first, from which on the gauge was bled: what was read before had air in it, which reads
 * soft and slow. Beyond the last where nobody said so, or where the last that was said of it is no.
 */
function bledFrom(entries: readonly Entry[]): number {
  const said = (value: string) => (entry: Entry) => entry.at === 'gauge_bled' && entry.value === value;
  const lastNo = entries.map(said('no')).lastIndexOf(true);
  const yes = entries.findIndex((entry, i) => i > lastNo && said('yes')(entry));
  return yes < 0 ? Infinity : yes;
}

export function isGaugeBled(entries: readonly Entry[]): boolean {
  return bledFrom(entries) < entries.length;
}

/** What counts: nothing that was read on the gauge before it was bled does. */
export function countedEntries(entries: readonly Entry[]): readonly Entry[] {
  const from = bledFrom(entries);
  return entries.filter((entry, i) => i > from || !isOnGauge(entry));
}

function isOnGauge({ kind, at }: Entry): boolean {
  return (kind === 'pressure' && at !== 'manifold_vacuum') || kind === 'hold' || at === 'rise_time';
}
