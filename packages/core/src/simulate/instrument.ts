import type { Random } from '../signal/random.js';
import type { Draws } from './draws.js';

/** A clamp or probe and the recorder behind it. */
export interface InstrumentSpec {
  /** First-order bandwidth, Hz. */
  readonly bandwidthHz: number;
  /** Added to the reading, in the quantity's own unit (a clamp that was not zeroed). */
  readonly offset: number;
  /** -1 for a clamp fitted backwards; also a wrong scale. */
  readonly gain: number;
  readonly noiseRms: number;
  /** Recorder resolution over `fullScale` either side of zero; 0 for none. */
  readonly bits: number;
  readonly fullScale: number;
}

/** What the recorder would have stored of a true signal. */
export function record(
  truth: Float64Array,
  sampleRateHz: number,
  instrument: InstrumentSpec,
  random: Random,
): Float32Array {
  const follow = 1 - Math.exp((-2 * Math.PI * instrument.bandwidthHz) / sampleRateHz);
  const step = instrument.bits > 0 ? (2 * instrument.fullScale) / 2 ** instrument.bits : 0;
  const out = new Float32Array(truth.length);
  let passed = truth[0] ?? 0;
  for (let i = 0; i < truth.length; i++) {
    passed += follow * (truth[i] - passed);
    let value = passed * instrument.gain + instrument.offset + instrument.noiseRms * random.normal();
    if (step > 0) {
      value = Math.min(instrument.fullScale, Math.max(-instrument.fullScale, Math.round(value / step) * step));
    }
    out[i] = value;
  }
  return out;
}

/** What is in a clamp's lead: it picks up the mains and, now and then, an ignition's spike. */
export function withPickUp(
  current: Float64Array,
  sampleRateHz: number,
  humA: number,
  { random, pick }: Draws,
): Float64Array {
  const hz = pick([50, 60]);
  const spikes = pick([0, 0, 0, 30]) / sampleRateHz;
  return current.map((value, i) => {
    const spike = random.uniform() < spikes ? 4 * random.normal() : 0;
    return value + humA * Math.sin((2 * Math.PI * hz * i) / sampleRateHz) + spike;
  });
}
