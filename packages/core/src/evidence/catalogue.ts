import { InputError } from '../errors.js';
import { LARGEST_CURRENT_A, LARGEST_VOLTAGE_V } from '../limits/limits.js';
import { BENCH_ANSWERS, isBenchKind, type BenchKind } from './bench-answers.js';
import type { Stage } from '../terms/stages.js';
import { HOLD_BLOCKS, type HoldRecord } from '../measure/pressure/hold-record.js';
import { KEY_STATES, type KeyState } from '../terms/key-states.js';
import { NOT_POSSIBLE, type EntryKind, type EntryValue, type VolumeRecord } from './entry.js';
import { FIRST_CHECKS } from './first-checks.js';

/** Units in which a measured number is kept. */
export type MeasureUnit = 'V' | 'A' | 'Ω' | 'Pa' | 's' | '%' | 'rpm';

export interface Measure {
  readonly kind: EntryKind;
  readonly at: string;
  readonly title: string;
  readonly stage: Stage;
  readonly unit: MeasureUnit;
  /** SI; a number outside is a slip. */
  readonly least: number;
  readonly most: number;
  /** What to say when it is outside. */
  readonly beyond: string;
  /** States in which it can be read; the first is the usual one. */
  readonly states: readonly KeyState[];
  readonly howTo?: string;
}

const VOLTS = {
  unit: 'V',
  least: -LARGEST_VOLTAGE_V,
  most: LARGEST_VOLTAGE_V,
  beyond: `No voltage here is below -${LARGEST_VOLTAGE_V} or above ${LARGEST_VOLTAGE_V} V; check the decimal point.`,
} as const;
/** Standard atmosphere, Pa: a gauge can't read lower than a perfect vacuum. */
export const ATMOSPHERE_PA = 101_325;
/** The hand gauge's side of the system; above it begins the direct-injection high side. */
const LOW_SIDE_MOST_PA = 1.2e6;

/** A scan tool's pressure that no pump in a tank makes: it is of the high side of direct injection. */
export function isHighSide(pascal: number): boolean {
  return pascal > LOW_SIDE_MOST_PA;
}

const GAUGE = {
  kind: 'pressure',
  stage: 'pressure',
  unit: 'Pa',
  least: -ATMOSPHERE_PA,
  most: LOW_SIDE_MOST_PA,
  beyond:
    'A gauge can’t read below a perfect vacuum (-101 kPa), and a hand gauge has no place above 1200 kPa: the direct-injection high side is read by scan tool only.',
} as const;
const SCAN = { kind: 'scan', stage: 'pressure', states: ['idle', 'prime', 'cranking', 'loaded'] } as const;
const PERCENT = { unit: '%', least: 0, most: 100, beyond: 'A duty lies between 0 and 100 %.' } as const;
const RAIL = {
  unit: 'Pa',
  least: -ATMOSPHERE_PA,
  most: 40e6,
  beyond: 'No rail pressure is below a perfect vacuum or above 40 MPa; check the unit.',
} as const;
/** SAE J1979 fuel trim: (A - 128) x 100/128 %, so -100 to +99.2 % (from memory). */
const TRIM = { unit: '%', least: -100, most: 100, beyond: 'A fuel trim lies between -100 and +99.2 %.' } as const;

/** What can be measured at any station of a path. */
const AT_STATIONS: Partial<Record<EntryKind, Pick<Measure, 'unit' | 'least' | 'most' | 'beyond'>>> = {
  voltage: VOLTS,
  current: {
    unit: 'A',
    least: -LARGEST_CURRENT_A,
    most: LARGEST_CURRENT_A,
    beyond: `No pump current is above ${LARGEST_CURRENT_A} A; check the decimal point.`,
  },
  resistance: { unit: 'Ω', least: 0, most: 1e9, beyond: 'A resistance is never negative; check the meter’s range.' },
  duty: PERCENT,
};

/** Every number that can be kept beside those at the path's stations, with the range in which it can be true. */
export const MEASURES: readonly Measure[] = [
  {
    kind: 'battery',
    at: 'rest',
    title: 'Battery at rest',
    stage: 'first-checks',
    ...VOLTS,
    states: ['off'],
    howTo: 'Across the posts, not the clamps, everything off for some minutes. Say in the intake if a charger is on.',
  },
  {
    kind: 'battery',
    at: 'cranking',
    title: 'Battery while cranking',
    stage: 'first-checks',
    ...VOLTS,
    states: ['cranking'],
    howTo: 'Lowest steady value while the starter turns. Ten volts is normal.',
  },
  {
    kind: 'battery',
    at: 'charging',
    title: 'Battery while charging',
    stage: 'first-checks',
    ...VOLTS,
    states: ['idle'],
    howTo: 'Across the posts at fast idle.',
  },
  {
    kind: 'timing',
    at: 'injector_on_time',
    title: 'Injector on-time',
    stage: 'first-checks',
    unit: 's',
    least: 0,
    most: 0.5,
    beyond: 'An injector on-time is below half a second; enter milliseconds.',
    states: ['cranking', 'idle'],
  },
  {
    kind: 'voltage',
    at: 'injector_kick',
    title: 'Injector kick',
    stage: 'first-checks',
    unit: 'V',
    least: 0,
    most: 400,
    beyond: 'An injector kicks below 400 V; check the decimal point.',
    states: ['cranking', 'idle'],
  },
  {
    kind: 'voltage',
    at: 'module_ground',
    title: 'Driver module, ground pin',
    stage: 'power-path',
    ...VOLTS,
    states: ['prime', 'cranking', 'idle', 'loaded'],
    howTo: 'Black lead on the battery’s own post, the module plugged in and asked to run.',
  },
  {
    kind: 'voltage',
    at: 'coil_feed',
    title: 'Relay coil, feed',
    stage: 'power-path',
    ...VOLTS,
    states: ['prime', 'cranking', 'idle', 'loaded'],
    howTo:
      'At the socket with the relay in, or on a breakout: battery voltage while it should pull. Measure only, never power it.',
  },
  {
    kind: 'voltage',
    at: 'coil_ground',
    title: 'Relay coil, ground',
    stage: 'power-path',
    ...VOLTS,
    states: ['prime', 'cranking', 'idle', 'loaded'],
    howTo: 'Near nothing while the control unit pulls it; battery voltage when nobody does.',
  },
  {
    ...GAUGE,
    at: 'dead_head',
    title: 'Rail with the return pinched',
    states: ['idle', 'prime'],
    howTo: 'Soft hose only, with the proper clamp, for a moment: the pressure may rise to twice and more.',
  },
  {
    ...GAUGE,
    at: 'rail',
    title: 'Gauge at the rail',
    states: ['prime', 'cranking', 'idle', 'loaded', 'after-off'],
    howTo: 'Rag round the port, glasses on, air bled by cycling the key.',
  },
  {
    ...GAUGE,
    at: 'rail_hose_off',
    title: 'Idle, regulator hose off',
    states: ['idle'],
    howTo: 'Look into the hose: fuel in it means a torn diaphragm.',
  },
  {
    ...GAUGE,
    at: 'rail_snap',
    title: 'Lowest on snap throttle',
    states: ['loaded'],
    howTo: 'Open fast, watch the needle: it must not sag.',
  },
  { ...GAUGE, at: 'before_filter', title: 'Before the filter', states: ['idle', 'prime'] },
  { ...GAUGE, at: 'after_filter', title: 'After the filter', states: ['idle', 'prime'] },
  {
    kind: 'pressure',
    at: 'manifold_vacuum',
    title: 'Manifold vacuum',
    stage: 'pressure',
    unit: 'Pa',
    least: 0,
    most: ATMOSPHERE_PA,
    beyond: 'A vacuum lies between 0 and 30 inHg (101 kPa).',
    states: ['idle'],
  },
  {
    kind: 'timing',
    at: 'rise_time',
    title: 'Rise to prime pressure',
    stage: 'pressure',
    unit: 's',
    least: 0,
    most: 60,
    beyond: 'A rise time is between 0 and 60 s.',
    states: ['prime', 'cranking'],
  },
  { ...SCAN, at: 'commanded_duty', title: 'Pump duty, commanded', ...PERCENT },
  { ...SCAN, at: 'feedback_duty', title: 'Pump duty, feedback', ...PERCENT },
  { ...SCAN, at: 'desired_pressure', title: 'Rail pressure, desired', ...RAIL },
  { ...SCAN, at: 'actual_pressure', title: 'Rail pressure, actual', ...RAIL },
  {
    ...SCAN,
    at: 'sensor_volts',
    title: 'Rail sensor volts',
    unit: 'V',
    least: 0,
    most: 6,
    beyond: 'A rail sensor answers between 0 and 5 V.',
  },
  { ...SCAN, at: 'short_trim', title: 'Short-term trim', ...TRIM, states: ['idle', 'loaded'] },
  { ...SCAN, at: 'long_trim', title: 'Long-term trim', ...TRIM, states: ['idle', 'loaded'] },
];

/** Yes-or-no matters that the sheets ask, beside the first checks. */
const SHEET_CHECKS: Readonly<Record<string, readonly string[]>> = {
  gauge_bled: ['yes', 'no'],
  hose_fuel: ['dry', 'wet'],
};

/** A place that can be asked about at all. */
const PLACE = /^[a-z0-9][a-z0-9_-]{0,39}$/;
const STATION_ID = /^[a-z0-9][a-z0-9-]{0,39}$/;
/** What an ohmmeter may say beside a number. */
export const OHM_WORDS: readonly unknown[] = ['wandering', 'open'];

export function findMeasure(kind: EntryKind, at: string): Measure | undefined {
  const station = STATION_ID.test(at) ? AT_STATIONS[kind] : undefined;
  return (
    MEASURES.find((measure) => measure.kind === kind && measure.at === at) ??
    (station && { kind, at, title: at, stage: 'power-path', ...station, states: KEY_STATES })
  );
}

/**
 * Checks that a value can be what it claims to be.
 * @throws InputError with what is wrong and what to do
 */
export function checkEntry(
  kind: EntryKind,
  at: string,
  value: unknown,
  keyState: KeyState,
): asserts value is EntryValue {
  if (value === NOT_POSSIBLE && PLACE.test(at)) return;
  if (kind === 'hold') return checkHold(value);
  if (kind === 'volume') return checkVolume(value);
  if (kind === 'check') return checkAnswer(at, value);
  if (isBenchKind(kind)) return checkBenchAnswer(kind, at, value);
  const measure = findMeasure(kind, at);
  if (!measure) throw new InputError(`Jarro keeps no ${kind} of "${at}".`);
  if (kind === 'resistance' && OHM_WORDS.includes(value)) return;
  if (typeof value !== 'number' || !Number.isFinite(value)) throw new InputError(`${measure.title}: enter a number.`);
  if (value < measure.least || value > measure.most) throw new InputError(`${measure.title}: ${measure.beyond}`);
  if (!measure.states.includes(keyState)) {
    throw new InputError(
      `${measure.title} is read at ${measure.states.join(' or ')}; state the key position it was read in.`,
    );
  }
}

function checkBenchAnswer(kind: BenchKind, at: string, value: unknown): void {
  if (!STATION_ID.test(at)) throw new InputError(`"${at}" is no station of a path.`);
  const answers: readonly string[] = BENCH_ANSWERS[kind];
  if (typeof value !== 'string' || !answers.includes(value)) {
    throw new InputError(`Answer with one of: ${answers.join(', ')}.`);
  }
}

function checkAnswer(at: string, value: unknown): void {
  const answers =
    (Object.hasOwn(SHEET_CHECKS, at) ? SHEET_CHECKS[at] : undefined) ??
    FIRST_CHECKS.find((check) => check.at === at)?.answers.map((a) => a.value);
  if (!answers) throw new InputError(`Jarro knows no check named "${at}".`);
  if (typeof value !== 'string' || !answers.includes(value)) {
    throw new InputError(`Answer with one of: ${answers.join(', ')}.`);
  }
}

export const FEWEST_HOLD_POINTS = 3;
const MOST_HOLD_POINTS = 2000;
/** A night. */
const LONGEST_HOLD_S = 86_400;

function checkHold(value: unknown): void {
  const { points, blocked } = (value ?? {}) as Partial<HoldRecord>;
  if (!Array.isArray(points) || points.length < FEWEST_HOLD_POINTS || points.length > MOST_HOLD_POINTS) {
    throw new InputError(`A hold test needs at least ${FEWEST_HOLD_POINTS} points over its time.`);
  }
  refuseOthers(value, ['points', 'blocked']);
  if (!HOLD_BLOCKS.includes(blocked as HoldRecord['blocked']))
    throw new InputError('Say which line was blocked, or none.');
  let last = -Infinity;
  for (const point of points as unknown[]) {
    const [atS, pascal] = Array.isArray(point) ? (point as unknown[]) : [];
    if (typeof atS !== 'number' || typeof pascal !== 'number' || !Number.isFinite(atS) || !Number.isFinite(pascal)) {
      throw new InputError('Each point of a hold test is a time and a pressure.');
    }
    if (Math.abs(atS) > LONGEST_HOLD_S)
      throw new InputError('A hold test lasts up to a day; its times are in seconds.');
    if (atS <= last) throw new InputError('The times of a hold test must rise from point to point.');
    if (pascal < GAUGE.least || pascal > GAUGE.most) throw new InputError(`Hold: ${GAUGE.beyond}`);
    last = atS;
  }
}

/** A jar of fuel, not a tanker. */
const MOST_VOLUME_M3 = 0.1;

function checkVolume(value: unknown): void {
  const { volumeM3, durationS } = (value ?? {}) as Partial<VolumeRecord>;
  refuseOthers(value, ['volumeM3', 'durationS']);
  if (typeof volumeM3 !== 'number' || !(volumeM3 >= 0 && volumeM3 <= MOST_VOLUME_M3)) {
    throw new InputError('A volume test fills 0 to 100 litres; enter what the measuring jar shows.');
  }
  if (typeof durationS !== 'number' || !(durationS > 0 && durationS <= 600)) {
    throw new InputError('A volume test lasts up to ten minutes; enter its seconds.');
  }
}

/** What nobody reads is not sealed into a case either. */
function refuseOthers(value: unknown, known: readonly string[]): void {
  const other = Object.keys(value ?? {}).find((key) => !known.includes(key));
  if (other !== undefined) throw new InputError(`This record holds ${known.join(' and ')}, and no "${other}".`);
}
