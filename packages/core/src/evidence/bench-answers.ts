/** Tests at a station that are answered by one of a few words. */
export const BENCH_ANSWERS = {
  'test-light': ['off', 'dim', 'bright', 'flash'],
  heard: ['silent', 'steady', 'rough'],
  disturb: ['changed', 'unchanged'],
  swap: ['changed', 'unchanged'],
  bridge: ['runs', 'dead'],
  'direct-feed': ['runs', 'dead'],
  'module-bypass': ['runs', 'dead'],
  'new-fuse': ['holds', 'blows'],
  visual: ['clean', 'burnt', 'corroded', 'broken', 'cracked', 'loose', 'rubbed', 'damaged', 'wrong-part'],
} as const satisfies Readonly<Record<string, readonly string[]>>;

export type BenchKind = keyof typeof BENCH_ANSWERS;

export function isBenchKind(kind: string): kind is BenchKind {
  return Object.hasOwn(BENCH_ANSWERS, kind);
}
