import { median } from '../../signal/levels.js';
import type { Views } from './views.js';

/** Volts at the pump's feed over the current through the pump, and the line that the source's resistance draws through it. */
export interface LoadCloud {
  /** A and V, a moment each, from all along the current's range: a start isn't lost among all the running. */
  readonly points: readonly (readonly [amperes: number, volts: number])[];
  /** What the line comes to without current, V. */
  readonly openV: number;
}

/** Enough to show a cloud, few enough to be kept with every capture. */
const BINS = 48;
const MOST_A_BIN = 12;
/** Enough blocks to know a level by. */
const LOOKED_AT = 4096;
const DECIMALS = 3;

/** @returns undefined where no resistance is known: there is no line to draw */
export function loadCloud({ lines: { source }, channels, powered: { from, to } }: Views): LoadCloud | undefined {
  const valuesOf = (wanted: string) => channels.find(({ role }) => role === wanted)?.values;
  const volts = valuesOf('pump_feed_voltage');
  const amperes = valuesOf('pump_current');
  if (!source || !volts || !amperes || to <= from) return undefined;
  let [least, most] = [Infinity, -Infinity];
  for (let i = from; i < to; i++) {
    least = Math.min(least, amperes[i]);
    most = Math.max(most, amperes[i]);
  }
  const binOf = (i: number) => Math.min(BINS - 1, Math.floor((BINS * (amperes[i] - least)) / (most - least || 1)));
  const counts = new Uint32Array(BINS);
  for (let i = from; i < to; i++) counts[binOf(i)]++;
  const passed = new Uint32Array(BINS);
  const points: (readonly [number, number])[] = [];
  for (let i = from; i < to; i++) {
    const bin = binOf(i);
    if (passed[bin]++ % Math.ceil(counts[bin] / MOST_A_BIN) === 0)
      points.push([rounded(amperes[i]), rounded(volts[i])]);
  }
  const stride = Math.ceil((to - from) / LOOKED_AT);
  const open = Float64Array.from({ length: Math.floor((to - from) / stride) }, (_, k) => {
    const i = from + k * stride;
    return volts[i] + source.ohm * amperes[i];
  });
  return { points, openV: rounded(median(open)) };
}

function rounded(value: number): number {
  return Number(value.toFixed(DECIMALS));
}
