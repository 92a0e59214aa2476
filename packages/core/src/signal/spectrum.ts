import FFT from 'fft.js';

/** Averaged power over overlapping Hann-windowed segments (P. D. Welch, 1967; from memory). */
export interface Spectrum {
  readonly binHz: number;
  readonly power: Float64Array;
  /** What a steady tone of amplitude 1 has at its bin. */
  readonly tonePower: number;
}

/**
 * @param segment samples a segment; padded with zeros to at least twice that and a power of two
 * @param most at most this many segments are taken, spread evenly
 */
export function welchSpectrum(
  samples: ArrayLike<number>,
  sampleRateHz: number,
  segment: number,
  most: number,
): Spectrum {
  const size = 2 ** Math.ceil(Math.log2(segment * 2));
  const fft = new FFT(size);
  const input = new Float64Array(size);
  const output = new Float64Array(size * 2);
  const power = new Float64Array(size / 2);
  const window = hann(segment);
  const room = samples.length - segment;
  const pieces = Math.max(1, Math.min(most, 1 + Math.floor((2 * room) / segment)));
  for (let p = 0; p < pieces; p++) {
    const start = pieces === 1 ? 0 : Math.round((room * p) / (pieces - 1));
    for (let i = 0; i < segment; i++) input[i] = samples[start + i] * window[i];
    fft.realTransform(output, input);
    for (let k = 0; k < power.length; k++) power[k] += output[2 * k] ** 2 + output[2 * k + 1] ** 2;
  }
  // Half of a tone's amplitude turns either way, and a Hann window's mean is a half.
  return { binHz: sampleRateHz / size, power, tonePower: pieces * (segment / 4) ** 2 };
}

export function hann(length: number): Float64Array {
  const window = new Float64Array(length);
  // Either half is the other's mirror image.
  for (let i = 0, j = length - 1; i <= j; i++, j--) {
    window[i] = window[j] = 0.5 - 0.5 * Math.cos((2 * Math.PI * (i + 0.5)) / length);
  }
  return window;
}

/** A spectral line: its frequency, interpolated, and its power over the median power around it. */
export interface Line {
  readonly hz: number;
  readonly power: number;
  readonly prominence: number;
}

/** Local maxima within a band, strongest first. The floor is the median over +-`aroundHz`. */
export function findLines(spectrum: Spectrum, fromHz: number, toHz: number, aroundHz: number): Line[] {
  const { power, binHz } = spectrum;
  const first = Math.max(2, Math.floor(fromHz / binHz));
  const last = Math.min(power.length - 3, Math.ceil(toHz / binHz));
  const around = Math.max(8, Math.round(aroundHz / binHz));
  const lines: Line[] = [];
  for (let k = first; k <= last; k++) {
    if (!(power[k] > power[k - 1] && power[k] >= power[k + 1])) continue;
    if (power[k] < power[k - 2] || power[k] < power[k + 2]) continue;
    const [a, b, c] = [Math.log(power[k - 1] + 1e-300), Math.log(power[k] + 1e-300), Math.log(power[k + 1] + 1e-300)];
    const shift = a - 2 * b + c === 0 ? 0 : (0.5 * (a - c)) / (a - 2 * b + c);
    lines.push({ hz: (k + shift) * binHz, power: power[k], prominence: k });
  }
  lines.sort((a, b) => b.power - a.power);
  return lines.slice(0, 24).map((line) => ({
    ...line,
    prominence: line.power / (floorAround(power, line.prominence, around) + 1e-300),
  }));
}

function floorAround(power: Float64Array, bin: number, around: number): number {
  const part = power.slice(Math.max(1, bin - around), Math.min(power.length, bin + around + 1)).sort();
  return part[Math.floor(part.length / 2)];
}
