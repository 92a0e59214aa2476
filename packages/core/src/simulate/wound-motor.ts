import { seededRandom } from '../signal/random.js';
import { drawsOf, type Draws } from './draws.js';
import { record } from './instrument.js';

/**
 * A brushed two-pole motor solved as the circuit it is: a ring of coils between the bars of its commutator, and two brushes that touch
 * each bar by as much of it as they cover. No hump, notch or ripple is drawn: they come out. One seed is one capture of a start and a
 * run. The analysis knows nothing of it.
 */
export interface WoundCapture {
  /** As the clamp and recorder give it, A. */
  readonly samples: Float32Array;
  readonly sampleRateHz: number;
  readonly truth: {
    readonly fault: WoundFault;
    readonly bars: number;
    /** The rotor's angle, turns since the record's start. */
    readonly turns: Float64Array;
    /** The current itself, A. */
    readonly currentA: Float64Array;
  };
}

/** Bars that touch unevenly, one or two that hardly touch, or a coil that is open. */
export type WoundFault = 'sound' | 'dirty' | 'burnt-bar' | 'open-coil';

const FAULTS: readonly WoundFault[] = ['sound', 'sound', 'dirty', 'burnt-bar', 'open-coil'];
const BARS = [5, 6, 7, 8, 8, 8, 9, 10, 11, 12];
const RATES = [5e3, 10e3, 20e3, 50e3];
const STEP_RATE = 100e3;
const TURN = 2 * Math.PI;
/** Both brushes, V. */
const BRUSH_DROP_V = 1;
const OPEN_OHM = 1e4;
/** What insulates the bars takes the rest. */
const COPPER = 0.94;
/** Keeps the equations of a bar that nothing touches solvable, S. */
const LEAK = 1e-6;

/**
 * Draws one motor with its feed, load, clamp and recorder, and runs it.
 * @param seed a whole number; the same one always draws the same capture
 */
export function woundCapture(seed: number): WoundCapture {
  const random = seededRandom(seed * 92_821 + 17);
  const draws = drawsOf(random);
  const { between, pick } = draws;
  const fault = pick(FAULTS);
  const sampleRateHz = pick(RATES);
  const motor = drawMotor(fault, draws);
  const onS = between(0.15, 0.4);
  const { currentA, turns } = run(motor, onS, between(1.2, 2.4), sampleRateHz);
  const clamp = {
    bandwidthHz: Math.min(0.4 * sampleRateHz, pick([2e3, 5e3, 20e3])),
    offset: between(-0.1, 0.1),
    gain: 1,
  };
  const recorder = { noiseRms: between(0.005, 0.05), bits: pick([0, 12, 10]), fullScale: 25 };
  const samples = record(currentA, sampleRateHz, { ...clamp, ...recorder }, random);
  return { samples, sampleRateHz, truth: { fault, bars: motor.coils.length, turns, currentA } };
}

interface Coil {
  readonly ohm: number;
  readonly henry: number;
  /** Volts it generates by the rotor's speed where the field is strongest, V s. */
  readonly constant: number;
}

interface Brush {
  /** Where it sits, rad, and how wide it is. */
  readonly at: number;
  readonly width: number;
  /** With the whole of a clean bar under it, S. */
  readonly siemens: number;
}

interface Motor {
  readonly coils: readonly Coil[];
  /** How well each bar touches, beside a clean one. */
  readonly touch: readonly number[];
  readonly plus: Brush;
  readonly minus: Brush;
  readonly field: (angle: number) => number;
  readonly feedV: number;
  readonly feedOhm: number;
  readonly feedHenry: number;
  readonly inertia: number;
  /** Of the pump at a speed, rad/s, and an angle, N m. */
  readonly load: (speed: number, angle: number) => number;
}

function drawMotor(fault: WoundFault, { between, pick, random }: Draws): Motor {
  const bars = pick(BARS);
  const feedV = between(11.8, 14.3);
  const feedOhm = between(0.05, 0.3);
  const armatureOhm = between(0.5, 0.9);
  const drawA = between(3.5, 8);
  const speed = (2 * Math.PI * between(4200, 7800)) / 60;
  const field = fieldOf(between(2, 6));
  const generatedV = feedV - drawA * (feedOhm + armatureOhm) - BRUSH_DROP_V;
  // Half of the ring lies between the brushes, on either side.
  const constant = generatedV / speed / ((bars / 2) * meanOf(field));
  const coilOhm = (4 * armatureOhm) / bars;
  const coilHenry = (4 * between(60e-6, 250e-6)) / bars;
  const bad = Math.floor(random.uniform() * bars);
  const second = (bad + 1 + Math.floor(random.uniform() * (bars - 1))) % bars;
  const coils = Array.from({ length: bars }, (_, k) => ({
    ohm: fault === 'open-coil' && k === bad ? OPEN_OHM : coilOhm * (1 + 0.01 * random.normal()),
    henry: coilHenry,
    constant: constant * (1 + 0.006 * random.normal()),
  }));
  const burnt = fault === 'burnt-bar' ? [bad, pick([bad, second])] : [];
  const touch = coils.map((_, k) => {
    const usual = fault === 'dirty' ? between(0.2, 1) : Math.max(0.5, 1 + 0.06 * random.normal());
    return burnt.includes(k) ? usual * between(0, 0.01) : usual;
  });
  const width = (between(1.05, 1.7) * TURN) / bars;
  const siemens = 1 / between(0.02, 0.06);
  const torque = (generatedV / speed) * drawA;
  const [pulse, vanes] = [between(0.02, 0.12), pick([5, 7, 9, 37])];
  return {
    ...{ coils, touch, field, feedV, feedOhm, feedHenry: between(10e-6, 80e-6), inertia: between(4e-6, 1.5e-5) },
    // No two brushes are alike, nor quite opposite, nor quite where the field is neutral.
    plus: { at: between(-0.05, 0.05), width, siemens: siemens * between(0.6, 1.6) },
    minus: {
      at: Math.PI + between(-0.05, 0.05),
      width: width * between(0.93, 1.07),
      siemens: siemens * between(0.6, 1.6),
    },
    load: (now, angle) =>
      torque *
      (0.15 + 0.85 * (now / speed) ** 2) *
      (1 + pulse * Math.cos(vanes * angle)) *
      Math.min(1, now / (0.01 * speed)),
  };
}

/** The field over the angle from one neutral to the next: a sine with a flat top, the flatter the steeper. */
function fieldOf(steep: number): (angle: number) => number {
  return (angle) => Math.tanh(steep * Math.sin(angle)) / Math.tanh(steep);
}

function meanOf(field: (angle: number) => number): number {
  const points = 360;
  let sum = 0;
  for (let i = 0; i < points; i++) sum += field((Math.PI * (i + 0.5)) / points);
  return sum / points;
}

/**
 * The circuit's node equations in small steps, each inductance by its companion resistance of the implicit Euler rule (Chua and Lin,
 * Computer-Aided Analysis of Electronic Circuits, 1975; from memory). Nodes are the bars and the plus brush; volts are against minus.
 */
function run(motor: Motor, onS: number, forS: number, sampleRateHz: number) {
  const { coils, touch, plus, minus, field, feedV, feedOhm, feedHenry, inertia, load } = motor;
  const bars = coils.length;
  const nodes = bars + 1;
  const inner = STEP_RATE / sampleRateHz;
  const dt = 1 / STEP_RATE;
  const count = Math.floor((onS + forS) * sampleRateHz);
  const currentA = new Float64Array(count);
  const turns = new Float64Array(count);
  const rows = Array.from({ length: nodes }, () => new Float64Array(nodes + 1));
  const coilA = new Float64Array(bars);
  const generated = new Float64Array(bars);
  const pitch = TURN / bars;
  let [feedA, speed, angle] = [0, 0, 0];
  for (let i = Math.ceil(onS * sampleRateHz); i < count; i++) {
    for (let step = 0; step < inner; step++) {
      for (const row of rows) row.fill(0);
      for (let k = 0; k < bars; k++) {
        const next = (k + 1) % bars;
        const bar = angle + k * pitch;
        const { ohm, henry, constant } = coils[k];
        generated[k] = constant * field(bar + pitch / 2);
        const siemens = 1 / (henry / dt + ohm);
        const source = siemens * ((henry / dt) * coilA[k] - generated[k] * speed);
        const toPlus = touch[k] * through(plus, bar, pitch);
        const toMinus = touch[k] * through(minus, bar, pitch);
        rows[k][k] += siemens + toPlus + toMinus + LEAK;
        rows[next][next] += siemens;
        rows[k][next] -= siemens;
        rows[next][k] -= siemens;
        rows[k][bars] -= toPlus;
        rows[bars][k] -= toPlus;
        rows[bars][bars] += toPlus;
        rows[k][nodes] -= source;
        rows[next][nodes] += source;
      }
      const feed = 1 / (feedHenry / dt + feedOhm);
      const behind = feedV - BRUSH_DROP_V + (feedHenry / dt) * feedA;
      rows[bars][bars] += feed;
      rows[bars][nodes] += feed * behind;
      solve(rows);
      let torque = 0;
      for (let k = 0; k < bars; k++) {
        const { ohm, henry } = coils[k];
        const across = rows[k][nodes] - rows[(k + 1) % bars][nodes] - generated[k] * speed;
        coilA[k] = ((henry / dt) * coilA[k] + across) / (henry / dt + ohm);
        torque += coilA[k] * generated[k];
      }
      feedA = feed * (behind - rows[bars][nodes]);
      speed = Math.max(0, speed + (dt / inertia) * (torque - load(speed, angle)));
      angle += speed * dt;
    }
    currentA[i] = feedA;
    turns[i] = angle / TURN;
  }
  return { currentA, turns };
}

/** What a brush conducts to a clean bar at an angle, by the share of it that it covers, S. */
function through({ at, width, siemens }: Brush, bar: number, pitch: number): number {
  const away = Math.abs(((((bar - at) % TURN) + 1.5 * TURN) % TURN) - TURN / 2);
  const copper = COPPER * pitch;
  const covered = Math.min(copper / 2, away + width / 2) - Math.max(-copper / 2, away - width / 2);
  return (siemens * Math.max(0, covered)) / copper;
}

/** Solves rows of n coefficients and a right side in place; each row's own coefficient outweighs the others, so none changes place. */
function solve(rows: readonly Float64Array[]): void {
  const n = rows.length;
  for (let p = 0; p < n; p++) {
    for (let q = p + 1; q < n; q++) {
      const share = rows[q][p] / rows[p][p];
      if (share !== 0) for (let c = p; c <= n; c++) rows[q][c] -= share * rows[p][c];
    }
  }
  for (let p = n - 1; p >= 0; p--) {
    let value = rows[p][n];
    for (let q = p + 1; q < n; q++) value -= rows[p][q] * rows[q][n];
    rows[p][n] = value / rows[p][p];
  }
}
