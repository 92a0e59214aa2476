import type { Capture, Channel } from '../capture/capture.js';
import { InputError } from '../errors.js';
import { record } from './instrument.js';
import { motorFromRating } from '../physics/motor.js';
import { seededRandom } from '../signal/random.js';
import { simulateTransient } from '../physics/transient.js';

/** Everything that a simulated capture can be told. Every field has a default: a healthy eight-bar pump, primed for 2 s. */
export interface CaptureSpec {
  readonly seed: number;
  readonly sampleRateHz: number;
  readonly durationS: number;
  readonly onS: number;
  readonly offS: number;
  readonly batteryV: number;
  readonly feedOhm: number;
  readonly groundOhm: number;
  /** What the healthy pump draws and turns at 13.5 V on its own terminals. */
  readonly ratedA: number;
  readonly ratedRpm: number;
  readonly windingOhm: number;
  readonly bars: number;
  readonly humpDepth: number;
  readonly barSpread: number;
  readonly burnt: readonly { readonly bar: number; readonly extraOhm: number }[];
  readonly bouncesPerS: number;
  readonly bounceOhm: number;
  readonly dead: readonly { readonly startS: number; readonly durationS: number }[];
  readonly feedOpen: readonly { readonly startS: number; readonly durationS: number }[];
  readonly locked: boolean;
  readonly clampBandwidthHz: number;
  readonly clampOffsetA: number;
  readonly clampGain: number;
  readonly noiseA: number;
  readonly bits: number;
  readonly fullScaleA: number;
  /** Voltage channels recorded beside the current. */
  readonly voltages: boolean;
}

const RATED_VOLTAGE_V = 13.5;

const DEFAULTS: CaptureSpec = {
  seed: 1,
  sampleRateHz: 100_000,
  durationS: 2,
  onS: 0.1,
  offS: Infinity,
  batteryV: 12.6,
  feedOhm: 0.06,
  groundOhm: 0.02,
  ratedA: 5,
  ratedRpm: 6200,
  windingOhm: 0.7,
  bars: 8,
  humpDepth: 0.25,
  barSpread: 0.012,
  burnt: [],
  bouncesPerS: 0,
  bounceOhm: 6,
  dead: [],
  feedOpen: [],
  locked: false,
  clampBandwidthHz: 15_000,
  clampOffsetA: 0,
  clampGain: 1,
  noiseA: 0.02,
  bits: 12,
  fullScaleA: 20,
  voltages: false,
};

/** The truth a simulated capture was made from, for whoever wants to check a measurement against it. */
export interface CaptureTruth {
  readonly humpsPerRevolution: number;
  readonly currentA: Float64Array;
  readonly speedRadS: Float64Array;
}

/** A made capture, with what is true of it. */
export interface SimulatedCapture {
  readonly capture: Capture;
  readonly truth: CaptureTruth;
}

/** @throws InputError naming a field that is out of range */
export function simulateCapture(partial: Partial<CaptureSpec>): SimulatedCapture {
  const spec = { ...DEFAULTS, ...partial };
  check(spec);
  const random = seededRandom(spec.seed);
  const result = simulateTransient(
    {
      motor: motorFromRating({
        voltageV: RATED_VOLTAGE_V,
        currentA: spec.ratedA,
        rpm: spec.ratedRpm,
        windingOhm: spec.windingOhm,
      }),
      commutator: spec,
      batteryV: spec.batteryV,
      feedOhm: spec.feedOhm,
      groundOhm: spec.groundOhm,
      durationS: spec.durationS,
      onS: spec.onS,
      offS: spec.offS,
      dead: spec.dead,
      feedOpen: spec.feedOpen,
      locked: spec.locked,
    },
    spec.sampleRateHz,
    random,
  );
  const clamp = {
    bandwidthHz: spec.clampBandwidthHz,
    offset: spec.clampOffsetA,
    gain: spec.clampGain,
    noiseRms: spec.noiseA,
    bits: spec.bits,
    fullScale: spec.fullScaleA,
  };
  const probe = { bandwidthHz: 1e6, offset: 0, gain: 1, noiseRms: 0.01, bits: spec.bits, fullScale: 20 };
  const channel = (name: string, unit: 'A' | 'V', samples: Float32Array): Channel => ({
    name,
    unit,
    fileFactor: 1,
    samples,
  });
  const channels = [channel('Pump current', 'A', record(result.currentA, spec.sampleRateHz, clamp, random))];
  if (spec.voltages) {
    channels.push(
      channel('Pump feed', 'V', record(result.feedV, spec.sampleRateHz, probe, random)),
      channel('Pump ground', 'V', record(result.groundV, spec.sampleRateHz, probe, random)),
    );
  }
  return {
    capture: { sampleRateHz: spec.sampleRateHz, startS: 0, channels, notes: [] },
    truth: {
      humpsPerRevolution: spec.bars % 2 ? 2 * spec.bars : spec.bars,
      currentA: result.currentA,
      speedRadS: result.speedRadS,
    },
  };
}

const LARGEST_SAMPLES = 50_000_000;

/** Ranges outside which the sums would not mean anything. */
const LIMITS: Partial<Record<keyof CaptureSpec, readonly [number, number]>> = {
  sampleRateHz: [100, 2e6],
  durationS: [0.01, 3600],
  batteryV: [0, 30],
  feedOhm: [0, 1e6],
  groundOhm: [0, 1e6],
  ratedA: [0.5, 40],
  ratedRpm: [500, 20_000],
  windingOhm: [0.05, 10],
  bars: [3, 40],
  humpDepth: [0, 0.9],
  barSpread: [0, 0.5],
  clampBandwidthHz: [10, 1e7],
  noiseA: [0, 100],
  bits: [0, 24],
  fullScaleA: [0.01, 10_000],
};

function check(spec: CaptureSpec): void {
  for (const [field, range] of Object.entries(LIMITS)) {
    const value = spec[field as keyof CaptureSpec] as number;
    if (!(typeof value === 'number' && value >= range[0] && value <= range[1])) {
      throw new InputError(`"${field}" must be a number from ${range[0]} to ${range[1]}.`);
    }
  }
  const known = new Set(Object.keys(DEFAULTS));
  const unknown = Object.keys(spec).find((field) => !known.has(field));
  if (unknown) throw new InputError(`"${unknown}" is no field of a simulation; known are ${[...known].join(', ')}.`);
  if (spec.ratedA * spec.windingOhm >= RATED_VOLTAGE_V) {
    throw new InputError(`"ratedA" times "windingOhm" must stay below ${RATED_VOLTAGE_V} V, or the motor cannot turn.`);
  }
  if (spec.sampleRateHz * spec.durationS > LARGEST_SAMPLES) {
    throw new InputError(`"durationS" times "sampleRateHz" must not exceed ${LARGEST_SAMPLES} samples.`);
  }
}
