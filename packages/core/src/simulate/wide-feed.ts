import { seededRandom } from '../signal/random.js';
import { drawsOf } from './draws.js';
import { record } from './instrument.js';
import { wideCapture, type WideCapture } from './wide-capture.js';

/**
 * Volts at the pump's feed beside a drawn capture of its current: starts, stops, stalls and chopping seen by two channels.
 * The analysis knows nothing of it. One seed is one record.
 */
export interface WideFeed {
  readonly capture: WideCapture;
  /** Against battery −. */
  readonly feedV: Float32Array;
  readonly truth: {
    /** From the battery to the pump's feed, ohm. */
    readonly sourceOhm: number;
    /** A driver switches the feed itself and not the ground. */
    readonly feedSwitches: boolean;
    /** Volts that the whole draw costs, over what the recorder's noise and step hide. */
    readonly sagOverNoise: number;
    readonly instrument: string;
  };
}

/** A diode takes the coil's current over once a driver has switched off, V. */
const FREEWHEELS_V = -0.7;
/** A feed that loses a third of its volts runs no pump. */
const MOST_LOST = 0.3;

/** @param seed a whole number; the same one always draws the same record */
export function wideFeed(seed: number): WideFeed {
  const capture = wideCapture(seed);
  const { truth, sampleRateHz } = capture;
  const random = seededRandom(seed * 32_771 + 17);
  const { between } = drawsOf(random);
  const restV = between(12.2, 14.4);
  const meanA = Math.max(1, truth.meanA);
  const sourceOhm = Math.min(between(0.06, 0.7), (MOST_LOST * restV) / meanA);
  const alternator = { hz: between(600, 1600), volts: between(0, 0.05) };
  const slow = { hz: between(0.05, 0.5), volts: between(0, 0.1) };
  const floats = random.uniform() < 0.3 ? between(0.05, 0.4) : 0;
  /** A driver that chops on the ground side leaves the feed as it is. */
  const isFeedChopped = truth.fault === 'chopped' && random.uniform() < 0.5;
  // Without its feed a rotor that coasts makes volts of its own, less than what it ran on.
  const drawn = { volts: between(0.4, 0.75) * (restV - sourceOhm * meanA), fadesS: between(0.05, 0.4) };
  const generated = { ...drawn, ...(truth.coasting && { fadesS: truth.coasting.fadesS }) };
  const coasts = truth.fault !== 'locked' && truth.fault !== 'open' && truth.fault !== 'chopped';
  let offS = Infinity;
  const volts = truth.currentA.map((amperes, i) => {
    const t = i / sampleRateHz;
    if (truth.runs.some(([from, to]) => t >= from && t < to)) {
      offS = 0;
      if (isFeedChopped && amperes === 0) return FREEWHEELS_V;
      const emf =
        restV +
        alternator.volts * Math.sin(2 * Math.PI * alternator.hz * t) +
        slow.volts * Math.sin(2 * Math.PI * slow.hz * t);
      return emf - sourceOhm * amperes;
    }
    offS += 1 / sampleRateHz;
    return coasts && offS < Infinity ? Math.max(floats, generated.volts * Math.exp(-offS / generated.fadesS)) : floats;
  });
  const instrument = {
    ...{ bandwidthHz: between(5e3, 50e3), offset: 0, gain: 1, fullScale: 20 },
    noiseRms: between(0.003, 0.04),
    bits: random.uniform() < 0.5 ? 8 : 12,
  };
  const hides = Math.max(instrument.noiseRms, (2 * instrument.fullScale) / 2 ** instrument.bits);
  return {
    capture,
    feedV: record(volts, sampleRateHz, instrument, random),
    truth: {
      sourceOhm,
      feedSwitches: isFeedChopped,
      sagOverNoise: (sourceOhm * truth.meanA) / hides,
      instrument: `${truth.instrument}; volts ${instrument.bits} bits, noise ${instrument.noiseRms.toFixed(3)}`,
    },
  };
}
