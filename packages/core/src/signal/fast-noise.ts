import { median, robustDeviation } from './levels.js';
import { thin } from './thin.js';

/** Noise where nothing is quiet: third differences suppress the humps and keep white noise (gain sqrt 20). */
export function fastNoise(current: Float32Array): number {
  const part = current.subarray(0, 32_768);
  const third = Float32Array.from(
    { length: Math.max(0, part.length - 3) },
    (_, i) => part[i + 3] - 3 * part[i + 2] + 3 * part[i + 1] - part[i],
  );
  return third.length ? robustDeviation(thin(third, 16_384), median(third)) / Math.sqrt(20) : 0;
}
