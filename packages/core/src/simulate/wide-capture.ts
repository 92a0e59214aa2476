import { seededRandom, type Random } from '../signal/random.js';
import { drawsOf, type Draws } from './draws.js';

/**
 * Captures of pumps, clamps and recorders of every kind, drawn as shapes over the rotor's angle and not from any motor
 * equation. The analysis knows nothing of it. One seed is one capture.
 */
export interface WideCapture {
  /** As the clamp and recorder give it, A. */
  readonly samples: Float32Array;
  readonly sampleRateHz: number;
  readonly zeroStated: boolean;
  readonly truth: WideTruth;
}

export type WideFault =
  | 'healthy'
  | 'burnt-bar'
  | 'dead-segment'
  | 'brush-bounce'
  | 'locked'
  | 'contact-dropout'
  | 'chopped'
  | 'open'
  | 'stall';

export interface WideTruth {
  readonly fault: WideFault;
  readonly bars: number;
  /** Mean over the longest run without its start; 0 where the rotor stands. */
  readonly rpm: number;
  /** The rotor's angle, turns since the record's start. */
  readonly turns: Float64Array;
  readonly meanA: number;
  /** The current itself, A. */
  readonly currentA: Float64Array;
  /** Whether bars differ enough, beside noise and record length, for a turn to be told. */
  readonly turnTold: boolean;
  readonly inverted: boolean;
  /** The record shows the pump off, or the clamp was zeroed. */
  readonly zeroTold: boolean;
  /** By how much the clamp's zero drifts through the record, A. */
  readonly driftA: number;
  /** Recorder's noise of one sample, and its step, A. */
  readonly noiseA: number;
  readonly stepA: number;
  /** Of clamp and recorder: what is faster is rounded off. */
  readonly bandwidthHz: number;
  /** The clamp or the recorder passes no steady current. */
  readonly acCoupled: boolean;
  /** Of a driver that switches the pump. */
  readonly chopHz?: number;
  /** Another consumer behind the same contact takes current from a pump that coasts. */
  readonly coasting?: Coasting;
  /** Begin and end of each powered stretch, s. */
  readonly runs: readonly (readonly [number, number])[];
  readonly instrument: string;
}

export interface Coasting {
  /** Flows backwards as the feed is cut, as a share of the draw. */
  readonly share: number;
  /** In which the rotor's speed, and the current with it, falls to 1/e, s. */
  readonly fadesS: number;
}

type Shape = (u: number) => number;

/** One hump over its width, about zero mean, height one. */
const SHAPES: readonly Shape[] = [
  (u) => Math.sin(Math.PI * u) - 2 / Math.PI,
  (u) => 2 / Math.PI - Math.sin(Math.PI * u),
  (u) => -0.5 * Math.cos(2 * Math.PI * u),
  (u) => -0.5 * Math.cos(2 * Math.PI * u) - 0.2 * Math.cos(4 * Math.PI * u + 1),
  (u) => (u < 0.75 ? u / 0.75 : (1 - u) / 0.25) - 0.5,
  (u) => 1.5 * (u - 0.5) ** 2 * 4 - 0.5,
];

const FAULTS: readonly WideFault[] = [
  ...(['healthy', 'healthy', 'healthy', 'healthy', 'healthy', 'burnt-bar', 'burnt-bar', 'burnt-bar'] as const),
  ...([
    'dead-segment',
    'dead-segment',
    'brush-bounce',
    'locked',
    'contact-dropout',
    'chopped',
    'open',
    'stall',
  ] as const),
];
const BARS = [5, 6, 6, 7, 7, 8, 8, 8, 8, 8, 9, 10, 10, 11, 12, 12, 14];
/** Long enough to be told from a part of a turn. */
const LEAST_OFF_S = 0.03;
/** What a recorder that samples faster than it keeps does with the rest. */
const KEEPS = ['sample', 'sample', 'sample', 'average', 'peaks'] as const;
const RATES = [5e3, 10e3, 20e3, 25e3, 50e3, 50e3, 100e3, 200e3];

/**
 * Draws one capture of a pump current: motor, fault, feed, clamp and recorder, each from wide ranges.
 *
 * @param seed a whole number; the same one always draws the same capture
 * @returns the samples in A, and all that is true of them
 */
export function wideCapture(seed: number): WideCapture {
  const random = seededRandom(seed * 104_729 + 71);
  const { between, pick } = drawsOf(random);
  const fault = pick(FAULTS);
  const bars = pick(BARS);
  const sampleRateHz = pick(RATES);
  const rpm = between(2600, Math.min(10_500, (60 * sampleRateHz) / (7 * humpsOf(bars))));
  const runS = between(0.25, 2);
  const drawA = between(2, 11);
  const runs = layout(fault, runS, between, random);
  const durationS = runs[runs.length - 1][1] + pick([0, 0, 0.05, 0.2]);
  const count = Math.round(durationS * sampleRateHz);
  const rotor = makeRotor(bars, fault, random, between, pick);
  const pure = new Float64Array(count);
  const drift = between(-0.03, 0.03);
  const chopHz = pick([25, 60, 110, 150, 400, 2000]);
  const bounces = fault === 'brush-bounce' ? bounceTimes(between(20, 250), durationS, random) : [];
  const stall = fault === 'stall' ? stallTimes(runs, between) : [Infinity, Infinity];
  const wander = wanderOf(random, between, pick);
  const coasting = drawCoasting(seed, fault);
  const turns = new Float64Array(count);
  let bounce = 0;
  let angle = random.uniform();
  for (let i = 0; i < count; i++) {
    const t = i / sampleRateHz;
    const run = runs.find(([from, to]) => t >= from && t < to);
    turns[i] = angle;
    if (!run) {
      const endedS = runs.findLast(([, to]) => to <= t)?.[1];
      if (!coasting || endedS === undefined) continue;
      const speed = Math.exp((endedS - t) / coasting.fadesS);
      angle += (rpm * speed) / 60 / sampleRateHz;
      pure[i] = -drawA * coasting.share * speed * rotor(angle - Math.floor(angle));
      continue;
    }
    if (fault === 'open') continue;
    const since = t - run[0];
    const starts = run[0] > 0;
    const spin = starts ? 1 - Math.exp(-since / 0.02) : 1;
    const drag = 1 - smoothStep((t - stall[0]) / 0.05) + smoothStep((t - stall[1]) / 0.05);
    const turning = fault === 'locked' ? 0 : rpm * spin * drag * (1 + (drift * since) / runS + wander(t));
    angle += turning / 60 / sampleRateHz;
    const surge = starts ? 1 + 2.2 * Math.exp(-since / 0.025) : 1;
    let current =
      fault === 'locked' ? 2.8 * drawA : drawA * (surge + 1.8 * (1 - drag)) * rotor(angle - Math.floor(angle));
    if (starts) current *= 1 - Math.exp(-since / 0.0005);
    while (bounce < bounces.length && bounces[bounce][1] < t) bounce++;
    if (bounce < bounces.length && t >= bounces[bounce][0]) current *= bounces[bounce][2];
    if (fault === 'chopped' && (t * chopHz) % 1 > 0.55) current = 0;
    pure[i] = current;
  }
  const main = runs.reduce((a, b) => (b[1] - b[0] > a[1] - a[0] ? b : a));
  const from = Math.round((main[0] > 0 ? main[0] + 0.15 : 0) * sampleRateHz);
  const to = Math.round((main[1] - 0.005) * sampleRateHz);
  const instrument = record(pure, sampleRateHz, drawA, random, between, pick);
  const meanOf = (values: Float64Array) =>
    values.subarray(from, to).reduce((sum, value) => sum + value, 0) / Math.max(1, to - from);
  const turning = !['locked', 'open', 'chopped'].includes(fault);
  return {
    samples: instrument.samples,
    sampleRateHz,
    zeroStated: instrument.zeroStated,
    truth: {
      fault,
      bars,
      rpm: turning ? (60 * sampleRateHz * (turns[to] - turns[from])) / (to - from) : 0,
      turns,
      meanA: fault === 'open' ? 0 : meanOf(pure),
      currentA: pure,
      turnTold:
        turning &&
        fault !== 'stall' &&
        rotor.difference * drawA * Math.sqrt((to - from) / 8) > 25 * instrument.noiseA &&
        to - from > 0.15 * sampleRateHz,
      inverted: instrument.inverted,
      zeroTold: !instrument.acCoupled && (instrument.zeroStated || runs[0][0] > LEAST_OFF_S),
      acCoupled: instrument.acCoupled,
      ...(fault === 'chopped' && { chopHz }),
      ...(coasting && { coasting }),
      driftA: instrument.driftA,
      noiseA: instrument.ownNoiseA,
      stepA: instrument.stepA,
      bandwidthHz: instrument.bandwidthHz,
      runs,
      instrument: instrument.name,
    },
  };
}

/** A rotor's angle and the current it drew, whoever drew them. */
interface Turned {
  readonly sampleRateHz: number;
  readonly truth: { readonly turns: Float64Array; readonly currentA: Float64Array };
}

/** Fewer turns have no usual height. */
const FEWEST_TURNS = 6;

/** True highest to lowest point of the usual turn between two times, by the rotor's own angle, A; NaN of too few turns. */
export function trueRippleA({ sampleRateHz, truth: { turns, currentA } }: Turned, fromS: number, toS: number): number {
  const [from, to] = [fromS, toS].map((t) => Math.round(t * sampleRateHz));
  const heights: number[] = [];
  for (let first = from, i = from; i < to; first = i) {
    let [most, least] = [-Infinity, Infinity];
    for (; i < to && turns[i] < turns[first] + 1; i++) {
      most = Math.max(most, currentA[i]);
      least = Math.min(least, currentA[i]);
    }
    if (i < to) heights.push(most - least);
  }
  if (heights.length < FEWEST_TURNS) return NaN;
  const cut = Math.floor(heights.length / 5);
  const middle = heights.sort((a, b) => a - b).slice(cut, heights.length - cut);
  return middle.reduce((sum, height) => sum + height, 0) / middle.length;
}

/** The rotor's own mean speed between two times of a capture, rpm. */
export function trueRpm({ sampleRateHz, truth }: Turned, fromS: number, toS: number): number {
  const { turns } = truth;
  const from = Math.max(0, Math.round(fromS * sampleRateHz));
  const to = Math.min(turns.length - 1, Math.round(toS * sampleRateHz));
  return (60 * sampleRateHz * (turns[to] - turns[from])) / (to - from);
}

function humpsOf(bars: number): number {
  return bars % 2 === 0 ? bars : 2 * bars;
}

type Between = Draws['between'];
type Pick = Draws['pick'];

/** Where a rotor that drags comes to stand and turns again, s. */
function stallTimes(runs: readonly (readonly [number, number])[], between: Between): [number, number] {
  const [from, to] = runs[0];
  const at = from + (to - from) * between(0.35, 0.6);
  return [at, at + (to - from) * between(0.1, 0.3)];
}

const smoothStep = (u: number) => (u <= 0 ? 0 : u >= 1 ? 1 : u * u * (3 - 2 * u));

/** Fuel and commutation push a rotor about: slow sines of its speed, a few thousandths. */
function wanderOf(random: Random, between: Between, pick: Pick): (t: number) => number {
  const depth = pick([0, 0.0005, 0.002]);
  const sines = [between(0.5, 2), between(2, 6), between(6, 15)].map((hz) => [2 * Math.PI * hz, random.normal()]);
  return (t) => depth * sines.reduce((sum, [w, of], k) => sum + of * Math.sin(w * t + k), 0);
}

/** Of every third pump that turns, by a stream of its own: what a seed draws otherwise doesn't hang on it. */
function drawCoasting(seed: number, fault: WideFault): Coasting | undefined {
  const { between, random } = drawsOf(seededRandom(seed * 51_577 + 23));
  const turns = fault !== 'locked' && fault !== 'open' && fault !== 'chopped';
  return turns && random.uniform() < 0.35 ? { share: between(0.02, 0.6), fadesS: between(0.03, 0.3) } : undefined;
}

/** Powered stretches, s. */
function layout(fault: WideFault, runS: number, between: Between, random: Random): [number, number][] {
  const begin = random.uniform() < 0.4 && fault !== 'locked' ? 0 : between(0.02, 0.3);
  if (fault !== 'contact-dropout') return [[begin, begin + runS]];
  const gap = begin + runS * between(0.3, 0.5);
  const gapS = between(0.06, 0.3);
  return [
    [begin, gap],
    [gap + gapS, gap + gapS + runS],
  ];
}

/** Current over one turn as a share of the draw, and how much its parts differ (root mean square of the draw). */
function makeRotor(bars: number, fault: WideFault, random: Random, between: Between, pick: Pick) {
  const humps = humpsOf(bars);
  const shape = pick(SHAPES);
  const depth = between(0.02, 0.12);
  const spread = pick([0, 0.05, 0.15, 0.3]);
  const levelSpread = pick([0, 0.002, 0.006, 0.012]);
  const brushes = random.uniform();
  // Each bar passes both brushes: what one of them shows the other shows half a turn later, more or less.
  const bar = Array.from({ length: bars }, () => [random.normal(), random.normal()]);
  const own = Array.from({ length: humps }, () => [random.normal(), random.normal()]);
  const cells = Array.from({ length: humps }, (_, h) => {
    const at = bars === humps ? h % Math.max(1, bars / 2) : h % bars;
    const mix = (k: number) => brushes * own[h][k] + Math.sqrt(1 - brushes ** 2) * bar[at][k];
    return { height: Math.max(0.1, 1 + spread * mix(0)), level: levelSpread * mix(1), cut: 0 };
  });
  if (fault === 'burnt-bar') {
    const burnt = 1 + Math.floor(3 * random.uniform());
    for (let b = 0; b < burnt; b++) {
      const cell = Math.floor(random.uniform() * humps);
      cells[cell].cut = between(0.25, 0.95);
      if (humps !== bars) cells[(cell + bars) % humps].cut = cells[cell].cut * between(0.5, 1);
    }
  }
  const deadFrom = random.uniform();
  const deadShare = fault === 'dead-segment' ? between(0.12, 0.45) : 0;
  const at = (turn: number) => {
    if (deadShare > 0 && (turn - deadFrom + 1) % 1 < deadShare) return 0;
    const position = turn * humps;
    const h = Math.min(humps - 1, Math.floor(position));
    const u = position - h;
    const { height, level, cut } = cells[h];
    return (1 + level + depth * height * shape(u)) * (1 - cut * Math.sin(Math.PI * u) ** 0.7);
  };
  let squares = 0;
  for (let i = 0; i < 720; i++) squares += (at(i / 720) - at(((i + 360) % 720) / 720)) ** 2 / 720;
  return Object.assign(at, { difference: Math.sqrt(squares / 2) });
}

/** Random gaps: begin, end, what is left of the current. */
function bounceTimes(perSecond: number, durationS: number, random: Random): [number, number, number][] {
  const gaps: [number, number, number][] = [];
  for (let t = 0; t < durationS;) {
    t += -Math.log(1 - random.uniform()) / perSecond;
    const lengthS = 0.0001 + 0.0008 * random.uniform();
    gaps.push([t, t + lengthS, 0.6 * random.uniform()]);
    t += lengthS;
  }
  return gaps;
}

/** Clamp and recorder: bandwidth, offset, direction, mains, ignition, steps. */
function record(pure: Float64Array, rateHz: number, drawA: number, random: Random, between: Between, pick: Pick) {
  const inverted = random.uniform() < 0.2;
  const zeroStated = random.uniform() < 0.4;
  const offsetA = zeroStated ? 0 : pick([0, 0.05, 0.3, 1.2]) * (random.uniform() < 0.5 ? -1 : 1);
  const noiseA = pick([0.005, 0.02, 0.05, 0.1]);
  const humA = pick([0, 0, 0.03, 0.15]);
  const humHz = pick([50, 60]);
  const spikes = pick([0, 0, 20, 60]);
  const stepA = pick([0, 0.01, 0.04, 0.16]);
  const bandwidthHz = Math.min(0.4 * rateHz, between(5e3, 50e3));
  const follow = 1 - Math.exp((-2 * Math.PI * bandwidthHz) / rateHz);
  const phase = 2 * Math.PI * random.uniform();
  const acCoupled = random.uniform() < 0.08;
  const corner = Math.exp((-2 * Math.PI * between(0.3, 3)) / rateHz);
  const driftA = pick([0, 0, 0, 0.1, 0.3]) * between(-1, 1);
  const keeps = pick(KEEPS);
  const samples = new Float32Array(pure.length);
  const inner = keeps === 'sample' ? 1 : 4;
  let passed = pure[0];
  let slow = pure[0];
  for (let i = 0; i < pure.length; i++) {
    passed += follow * (pure[i] - passed);
    slow = passed + corner * (slow - passed);
    const signal = acCoupled ? passed - slow : passed;
    let sum = 0;
    let farthest = 0;
    // Faster inside than what is kept: averaged, or the farthest by turns of either side.
    for (let k = 0; k < inner; k++) {
      const noise = noiseA * random.normal();
      sum += noise / inner;
      if (k === 0 || (i % 2 === 0 ? noise > farthest : noise < farthest)) farthest = noise;
    }
    const t = (i + (keeps === 'peaks' && i % 2 === 0 ? -0.3 : 0)) / rateHz;
    let value = signal + (keeps === 'peaks' ? farthest : sum) + humA * Math.sin(2 * Math.PI * humHz * t + phase);
    if (random.uniform() < spikes / rateHz) value += drawA * (random.uniform() - 0.5);
    value = (inverted ? -value : value) + offsetA + (driftA * i) / pure.length;
    samples[i] = stepA > 0 ? Math.round(value / stepA) * stepA : value;
  }
  const words = [
    `${rateHz / 1e3} kS/s noise ${noiseA} step ${stepA} hum ${humA} spikes ${spikes} offset ${offsetA} drift ${driftA.toFixed(2)}`,
    ...(keeps === 'sample' ? [] : [keeps]),
    ...(inverted ? ['backwards'] : []),
    ...(zeroStated ? ['zeroed'] : []),
    ...(acCoupled ? ['AC-coupled'] : []),
  ];
  const peaks = keeps === 'peaks' ? 1.5 : 1;
  return {
    samples,
    inverted,
    zeroStated,
    acCoupled,
    driftA: Math.abs(driftA),
    noiseA: Math.max(noiseA * peaks, stepA / 3, humA / 3),
    ownNoiseA: noiseA * peaks,
    stepA,
    bandwidthHz,
    name: words.join(' '),
  };
}
