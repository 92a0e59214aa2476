import { seededRandom, type Random } from '../signal/random.js';
import { drawsOf } from './draws.js';

/**
 * Lines of a driver module, drawn edge by edge from a list of times: clean or slow edges, duty steps, clocks that wander,
 * missing pulses, noise and coarse steps. The analysis knows nothing of it. One seed is one record.
 */
export interface DriveRecord {
  readonly sampleRateHz: number;
  readonly commandV: Float32Array;
  readonly outputV: Float32Array;
  readonly supplyV?: Float32Array;
  readonly truth: DriveTruth;
}

const DRIVE_FAULTS = [
  'healthy',
  'command-gone',
  'command-drops',
  'output-dead',
  'output-stuck-on',
  'output-drops',
  'not-following',
  'weak',
] as const;
export type DriveFault = (typeof DRIVE_FAULTS)[number];

export interface LineTruth {
  readonly frequencyHz: number;
  /** High share over whole periods of the record, per cent. */
  readonly dutyPercent: number;
  /** When each missing pulse should have begun, s. */
  readonly missing: readonly number[];
}

export interface DriveTruth {
  readonly fault: DriveFault;
  readonly cause: 'none' | 'upstream' | 'module';
  readonly causeTold: boolean;
  readonly command: LineTruth;
  readonly output: LineTruth;
  readonly instrument: string;
}

interface Train {
  readonly truth: LineTruth;
  /** Rising and falling edges by turns, s; the line is low before the first. */
  readonly edges: readonly number[];
  readonly idleHigh: boolean;
}

const RATES = [50e3, 100e3, 200e3, 250e3, 500e3];
const FEWEST_SAMPLES = 20;
const CAUSES: Readonly<Record<DriveFault, DriveTruth['cause']>> = {
  healthy: 'none',
  'command-gone': 'upstream',
  'command-drops': 'upstream',
  'output-dead': 'module',
  'output-stuck-on': 'module',
  'output-drops': 'module',
  'not-following': 'module',
  weak: 'module',
};

/** What lies around the drive in a record that begins before key-on and goes on after it, s. */
interface KeyCycle {
  readonly beforeS: number;
  readonly afterS: number;
  /** Until the module has woken up and gives what it is asked. */
  readonly wakesS: number;
  /** The module is supplied by what the key switches. */
  readonly isSupplySwitched: boolean;
}

const KEY_STAYS_ON: KeyCycle = { beforeS: 0, afterS: 0, wakesS: 0, isSupplySwitched: false };
/** A relay lets go so long before or after the command ceases, s. */
const RELAY_S = 0.02;

/**
 * Draws one record of a driver module’s command, output and supply, its edges from a list of times.
 *
 * @param seed a whole number; the same one always draws the same record
 * @param asked the fault to draw; any where absent
 * @returns the channels in V, and all that is true of them
 */
export function driveRecord(seed: number, asked?: DriveFault): DriveRecord {
  return draw(seed, asked, KEY_STAYS_ON);
}

/** The same drive of a seed in a record that begins before the key comes on, and goes on for a while or not after it is off. */
export function keyedDriveRecord(seed: number): DriveRecord {
  const { between, pick, random } = drawsOf(seededRandom(seed * 7_919 + 5));
  return draw(seed, undefined, {
    beforeS: between(0.1, 0.6),
    afterS: pick([0, between(0.1, 0.5)]),
    wakesS: between(0, 0.05),
    isSupplySwitched: random.uniform() < 0.5,
  });
}

function draw(seed: number, asked: DriveFault | undefined, key: KeyCycle): DriveRecord {
  const random = seededRandom(seed * 40_503 + 17);
  const { between, pick } = drawsOf(random);
  const fault = asked ?? pick(DRIVE_FAULTS);
  const sampleRateHz = pick(RATES);
  const commandHz = pick([between(10, 40), 100, 128, 150, 200, between(80, 400)]);
  const outputHz = Math.min(sampleRateHz / FEWEST_SAMPLES, pick([between(400, 2000), 1000, 2000, 4000, 10_000]));
  const durationS = Math.max(between(12, 40) / commandHz, 0.15);
  const reads = pick(['direct', 'direct', 'double', 'inverse'] as const);
  const first = reads === 'double' ? between(15, 48) : between(20, 85);
  const steps = fault === 'not-following' || random.uniform() < 0.3;
  const second = steps
    ? first > 45
      ? first - between(12, 25)
      : first + between(8, reads === 'double' ? 10 : 25)
    : first;
  const stepS = 0.5 * durationS;
  const asksAt = (t: number) => (t < stepS ? first : Math.min(second, reads === 'double' ? 49 : 95));
  const givesFor = (duty: number) => (reads === 'double' ? 2 * duty : reads === 'inverse' ? 100 - duty : duty);
  const lag = between(0.001, 0.012);
  const givesAt = (t: number) => givesFor(fault === 'not-following' ? first : asksAt(Math.max(0, t - lag)));
  const command =
    fault === 'command-gone'
      ? still(false)
      : train(random, durationS, commandHz, asksAt, fault === 'command-drops' ? [1, 3] : undefined);
  const output =
    fault === 'output-dead' || fault === 'output-stuck-on'
      ? still(fault === 'output-stuck-on')
      : fault === 'command-gone'
        ? still(random.uniform() < 0.5)
        : train(random, durationS, outputHz, givesAt, fault === 'output-drops' ? [3, 30] : undefined);
  const battery = between(12.2, 14.4);
  const high = battery - (fault === 'weak' ? between(1.5, 5) : between(0.05, 0.35));
  const bits = pick([8, 10, 12, 14]);
  const noise = between(0.002, 0.03);
  const hasSupply = random.uniform() < 0.5;
  const { beforeS, afterS } = key;
  const recorder = { sampleRateHz, durationS: beforeS + durationS + afterS, bits, random };
  const arriving = shifted(command, { ...key, wakesS: 0 }, durationS);
  const given = shifted(output, key, durationS);
  // What drops before its module has woken, or as the key goes off, shows nothing.
  const drops = fault === 'output-drops' ? given : fault === 'command-drops' ? arriving : undefined;
  const hasDropped = !drops || drops.truth.missing.length > 0;
  const supplied = key.isSupplySwitched ? switchedOn(beforeS - RELAY_S, beforeS + durationS + RELAY_S) : still(true);
  const commandHigh = pick([5, 5, 3.3, battery]);
  const edge = pick([0, 0, between(0, 0.2)]);
  return {
    sampleRateHz,
    commandV: drawn(arriving, {
      ...recorder,
      low: between(0, 0.2),
      high: commandHigh,
      noise: noise * commandHigh,
      edge,
    }),
    outputV: drawn(given, { ...recorder, low: pick([0.05, -0.65]), high, noise: noise * high, edge: 0 }),
    ...(hasSupply && {
      supplyV: drawn(supplied, { ...recorder, low: 0, high: battery, noise: 0.02, edge: 0 }),
    }),
    truth: {
      fault,
      cause: CAUSES[fault],
      // Without the module's table an output is only wrong when the command moves and it doesn't.
      causeTold:
        hasDropped &&
        (fault === 'weak' ? hasSupply : fault !== 'not-following' || Math.abs(asksAt(Infinity) - first) >= 8),
      command: arriving.truth,
      output: given.truth,
      instrument: `${sampleRateHz} S/s, ${bits} bits, noise ${(100 * noise).toFixed(1)} %, ${commandHz.toFixed(0)} and ${outputHz.toFixed(0)} Hz, ${reads}`,
    },
  };
}

export function still(isHigh: boolean): Train {
  const truth = { frequencyHz: 0, dutyPercent: isHigh ? 100 : 0, missing: [] };
  return { truth, edges: [], idleHigh: isHigh };
}

/** A line that is switched later in its record, from when it wakes until the key is off; one that stays does so all through. */
function shifted({ truth, edges, idleHigh }: Train, { beforeS, afterS, wakesS }: KeyCycle, durationS: number): Train {
  if (beforeS === 0 || edges.length === 0) return { truth, edges, idleHigh };
  const pulses = Array.from({ length: edges.length / 2 }, (_, i) => edges.slice(2 * i, 2 * i + 2));
  const kept = pulses.filter(([on, off]) => on >= wakesS && (afterS === 0 || off <= durationS));
  const whole = kept.filter(([on]) => on + 1 / truth.frequencyHz <= durationS);
  const missing = truth.missing.filter((at) => at > kept[0][0] && at < kept[kept.length - 1][0]);
  const highS = whole.reduce((sum, [on, off]) => sum + off - on, 0);
  return {
    truth: {
      ...truth,
      dutyPercent: (100 * highS * truth.frequencyHz) / (whole.length + missing.length),
      missing: missing.map((at) => at + beforeS),
    },
    edges: kept.flat().map((at) => at + beforeS),
    idleHigh,
  };
}

function switchedOn(fromS: number, toS: number): Train {
  return { ...still(true), edges: [fromS, toS], idleHigh: false };
}

/** @param drops between how many pulses are left out, in a row or singly */
export function train(
  random: Random,
  durationS: number,
  hz: number,
  dutyAt: (t: number) => number,
  drops?: readonly [number, number],
): Train {
  const period = 1 / hz;
  const jitter = 0.0005 * period;
  const start = -random.uniform() * period;
  const count = Math.ceil((durationS - start) / period) + 1;
  const left = drops ? dropped(random, count, drops) : new Set<number>();
  const edges: number[] = [];
  const missing: number[] = [];
  let high = 0;
  let whole = 0;
  for (let i = 0; i < count; i++) {
    const at = start + i * period;
    const on = (dutyAt(at) / 100) * period;
    const isWhole = at >= 0 && at + period <= durationS;
    if (isWhole) whole++;
    if (left.has(i)) {
      missing.push(at);
      continue;
    }
    if (isWhole) high += on;
    edges.push(at + jitter * random.normal(), at + on + jitter * random.normal());
  }
  const truth = { frequencyHz: hz, dutyPercent: (100 * high) / (whole * period), missing };
  return { truth, edges, idleHigh: false };
}

function dropped(random: Random, count: number, [least, most]: readonly [number, number]): Set<number> {
  const wanted = Math.min(Math.floor(count / 5), least + Math.floor(random.uniform() * (most - least + 1)));
  const inARow = random.uniform() < 0.5;
  const first = 3 + Math.floor(random.uniform() * Math.max(1, count - wanted - 6));
  const at = (i: number) => (inARow ? first + i : 3 + Math.floor(random.uniform() * (count - 6)));
  return new Set(Array.from({ length: Math.max(1, wanted) }, (_, i) => at(i)));
}

interface Drawing {
  readonly sampleRateHz: number;
  readonly durationS: number;
  readonly bits: number;
  readonly random: Random;
  readonly low: number;
  readonly high: number;
  readonly noise: number;
  /** How long an edge takes, as a share of the shortest level. */
  readonly edge: number;
}

export function drawn({ edges, idleHigh }: Train, drawing: Drawing): Float32Array {
  const { sampleRateHz, durationS, bits, random, low, high, noise, edge } = drawing;
  const out = new Float32Array(Math.floor(durationS * sampleRateHz));
  const shortest = edges.reduce((least, at, i) => (i > 0 ? Math.min(least, at - edges[i - 1]) : least), Infinity);
  const takes = Number.isFinite(shortest) ? edge * shortest : 0;
  const step = (2 * (high > 6 ? 20 : 10)) / 2 ** bits;
  let next = 0;
  for (let i = 0; i < out.length; i++) {
    const t = i / sampleRateHz;
    while (next < edges.length && edges[next] <= t) next++;
    const isHigh = idleHigh || next % 2 === 1;
    const since = next > 0 && takes > 0 ? Math.min(1, (t - edges[next - 1]) / takes) : 1;
    const level = isHigh ? low + (high - low) * since : high + (low - high) * since;
    out[i] = Math.round(((next === 0 && !idleHigh ? low : level) + noise * random.normal()) / step) * step;
  }
  return out;
}
