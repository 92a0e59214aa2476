/** What stands where words were taken out. */
export const TAKEN_AWAY = '[taken out]';

/** What a link of kind 'removal' holds: what of the case was taken out because somebody asked for it. */
export interface RemovalValue {
  readonly reason: string;
  readonly plate: boolean;
  readonly complaint: boolean;
  /** Photos whose pictures are gone. */
  readonly photos: readonly string[];
  /** Links whose words were taken out, by id: the hash of what is left, with which they are checked from now on. */
  readonly entries: Readonly<Record<string, string>>;
}

/** Where people write what they like. Everything else is numbers and the trade's own terms. */
const FREE_TEXT: ReadonlySet<string> = new Set([
  ...['plate', 'since', 'priorRepairs', 'condemnedBy', 'notes', 'caption', 'fileName', 'label', 'statement'],
  ...['overrideReason', 'reason', 'what', 'how', 'said', 'refused', 'name'],
]);

/**
 * A link's value without certain words, whatever their case and spacing; the very same value where it has none of them.
 * @param words each of two characters at least; whole words only, so that "Ann" leaves "annulled" alone
 */
export function withoutWords(value: unknown, words: readonly string[]): unknown {
  const pattern = patternOf(words);
  return pattern === undefined ? value : cleaned(value, pattern, typeof value === 'string');
}

function cleaned(value: unknown, pattern: RegExp, isFree: boolean): unknown {
  if (typeof value === 'string') return isFree ? value.replace(pattern, TAKEN_AWAY) : value;
  if (typeof value !== 'object' || value === null) return value;
  if (Array.isArray(value)) {
    const items = value.map((item) => cleaned(item, pattern, isFree));
    return items.some((item, i) => item !== value[i]) ? items : value;
  }
  const entries = Object.entries(value as Record<string, unknown>).map(
    ([key, item]) => [key, cleaned(item, pattern, FREE_TEXT.has(key)), item] as const,
  );
  return entries.some(([, item, before]) => item !== before)
    ? Object.fromEntries(entries.map(([key, item]) => [key, item]))
    : value;
}

/** Spaces count for nothing, so that a plate is found as it is written here and there. */
function patternOf(words: readonly string[]): RegExp | undefined {
  const escaped = words
    .map((word) => word.replace(/\s+/g, ''))
    .filter((word) => word.length >= 2)
    .map((word) => [...word].map((letter) => letter.replace(/[.*+?^${}()|[\]\\/-]/g, '\\$&')).join('[\\s-]*'));
  return escaped.length === 0
    ? undefined
    : new RegExp(`(?<![\\p{L}\\p{N}])(?:${escaped.join('|')})(?![\\p{L}\\p{N}])`, 'giu');
}

/** What was taken out by a removal, in a sentence. */
export function removalText({ plate, complaint, photos, entries, reason }: RemovalValue): string {
  const count = Object.keys(entries).length;
  const parts = [
    plate && 'the plate',
    complaint && 'words of the complaint',
    photos.length > 0 && (photos.length === 1 ? 'one photo' : `${photos.length} photos`),
    count > 0 && `words in ${count === 1 ? 'one entry' : `${count} entries`}`,
  ].filter((part) => part !== false);
  return `${parts.join(', ')}. Reason: ${reason}`;
}
