/** What two neighbours have beyond both before and after them, and no more than that. */
export function withoutPairs(values: Float64Array): Float64Array {
  const out = values.slice();
  for (let i = 1; i < values.length - 2; i++) {
    const least = Math.min(values[i - 1], values[i + 2]);
    const most = Math.max(values[i - 1], values[i + 2]);
    const above = values[i] > most && values[i + 1] > most;
    const below = values[i] < least && values[i + 1] < least;
    if (above || below) out[i] = out[i + 1] = above ? most : least;
  }
  return out;
}

/** The middle of each three neighbours: what starts or stops stays so for longer, ignition's pick-up doesn't. */
export function withoutSpikes(values: Float64Array): Float64Array {
  const out = values.slice();
  for (let i = 1; i < values.length - 1; i++) {
    const before = values[i - 1];
    const here = values[i];
    const after = values[i + 1];
    if (here > before && here > after) out[i] = before > after ? before : after;
    else if (here < before && here < after) out[i] = before < after ? before : after;
  }
  return out;
}
