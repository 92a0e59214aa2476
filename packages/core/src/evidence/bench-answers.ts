/** Tests at a station that are answered by one of a few words. */
export const BENCH_ANSWERS = {
  'test-light': ['off', 'dim', 'bright', 'flash'],
  heard: ['silent', 'steady', 'rough'],
  disturb: ['changed', 'unchanged'],
  swap: ['changed', 'unchanged'],
  bridge: ['runs', 'dead'],
  'direct-feed': ['runs', 'dead'],
  'module-bypass': ['runs', 'dead'],
  visual: ['clean', 'burnt', 'corroded', 'broken', 'cracked', 'damaged', 'wrong-part'],
} as const satisfies Readonly<Record<string, readonly string[]>>;

/** Damage by its looks; all of it weighs alike. */
export const DAMAGES: readonly unknown[] = ['burnt', 'corroded', 'broken', 'cracked'];

export type BenchKind = keyof typeof BENCH_ANSWERS;

export function isBenchKind(kind: string): kind is BenchKind {
  return Object.hasOwn(BENCH_ANSWERS, kind);
}
