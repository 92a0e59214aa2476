import { median, robustDeviation } from '../../signal/levels.js';

/** Of a turn: enough for twelve bars with a dozen places each. */
const PLACES = 144;
/** Beyond so many robust deviations of what most turns have at the same angle lies an ignition's spike or a brush's gap. */
const STRAYS = 5;
/** Fewer turns show no usual level at an angle. */
const FEWEST = 8;

/** Spikes go either way, as often but for so many deviations of their counts (Poisson); each takes a few samples. */
const BY_CHANCE = 3;
const SAMPLES_A_SPIKE = 3;
/** Some hundred spikes a second, of a tenth of a millisecond each, take no more of a record. */
const RARE = 0.03;

/**
 * Marks ignition's spikes as no number, in place: what strays from what most turns have at its angle. Nothing in a motor throws
 * its current up for a moment; what strays downwards is a spike where
 * about as much strays upwards, and else of brushes that bounce.
 * @param angles of the samples, turns; without a known turn all are looked at as one
 * @param leastA noise and rounding make as much of a stray at any angle
 */
export function withoutSpikes(values: Float32Array, angles: Float64Array | undefined, leastA: number): void {
  const up: number[] = [];
  const down: number[] = [];
  const placeOf = (i: number) => (angles ? Math.floor((angles[i] - Math.floor(angles[i])) * PLACES) : 0);
  // Sorted by place: where each place's samples begin, and then the samples.
  const begins = new Uint32Array(PLACES + 1);
  for (let i = 0; i < values.length; i++) begins[placeOf(i) + 1]++;
  for (let place = 0; place < PLACES; place++) begins[place + 1] += begins[place];
  const next = begins.slice();
  const sorted = new Uint32Array(values.length);
  for (let i = 0; i < values.length; i++) sorted[next[placeOf(i)]++] = i;
  for (let place = 0; place < PLACES; place++) {
    const own = sorted.subarray(begins[place], begins[place + 1]);
    if (own.length < FEWEST) continue;
    const here = new Float32Array(own.length);
    for (let i = 0; i < here.length; i++) here[i] = values[own[i]];
    const usual = median(here);
    const most = STRAYS * Math.max(robustDeviation(here, usual), leastA);
    for (const i of own) {
      if (values[i] > usual + most) up.push(i);
      else if (values[i] < usual - most) down.push(i);
    }
  }
  // What flows in bursts is thrown up for longer.
  if (up.length > RARE * values.length) return;
  for (const i of up) values[i] = NaN;
  const unlike = BY_CHANCE * Math.sqrt(SAMPLES_A_SPIKE * (up.length + down.length));
  if (down.length - up.length <= unlike) for (const i of down) values[i] = NaN;
}
