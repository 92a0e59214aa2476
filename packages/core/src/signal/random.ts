/** A seeded source of randomness: the same seed gives the same capture on every machine. */
export interface Random {
  /** Uniform in [0, 1). */
  uniform(): number;
  /** Standard normal. */
  normal(): number;
}

/** mulberry32 (T. Ettinger, public domain; from memory) with Box-Muller normals. */
export function seededRandom(seed: number): Random {
  let state = seed >>> 0;
  let spare: number | undefined;
  const uniform = () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = state;
    t = Math.imul(t ^ (t >>> 15), t | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
  const normal = () => {
    if (spare !== undefined) {
      const value = spare;
      spare = undefined;
      return value;
    }
    const radius = Math.sqrt(-2 * Math.log(1 - uniform()));
    const angle = 2 * Math.PI * uniform();
    spare = radius * Math.sin(angle);
    return radius * Math.cos(angle);
  };
  return { uniform, normal };
}
