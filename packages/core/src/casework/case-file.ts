import { BENCH_ANSWERS } from '../evidence/bench-answers.js';
import { findMeasure } from '../evidence/catalogue.js';
import { KEY_STATES, type KeyState } from '../terms/key-states.js';
import { HELPS, NOT_POSSIBLE, type VolumeRecord } from '../evidence/entry.js';
import { REFERENCES, TRUSTS } from '../terms/references.js';
import type { HoldRecord } from '../measure/pressure/hold-record.js';
import { FIRST_CHECKS } from '../evidence/first-checks.js';
import { checkHouseRules, DEFAULT_HOUSE_RULES, type HouseRules } from '../rules/house-rules.js';
import type { FieldProblem } from '../vehicle/check-profile.js';
import { readProfile } from '../vehicle/read-profile.js';
import type { SystemProfile } from '../vehicle/profile.js';
import { PATHS, templateProfile, type PathKind } from '../vehicle/templates.js';
import { toPascal, type PressureUnit } from '../units/units.js';
import { OPEN_OHM } from '../evidence/kinds/resistance.js';
import { findPlace } from '../evidence/places.js';
import { READING_KINDS, type CaptureResult, type Reading, type ReadingKind } from '../evidence/reading.js';

/** A case as a file: `jarro.case/1`, described in docs/formats. */
export interface CaseFile {
  readonly system: SystemProfile;
  readonly complaint: string;
  readonly batterySupported: boolean;
  readonly readings: readonly Reading[];
  readonly rules: HouseRules;
}

export type CheckedCase = { readonly case: CaseFile } | { readonly problems: readonly FieldProblem[] };

const MOST_READINGS = 2000;
const MOST_V = 60;

type Json = Readonly<Record<string, unknown>>;

/** Reads a case file's content, naming every field that is wrong. */
export function checkCase(content: unknown): CheckedCase {
  const problems: FieldProblem[] = [];
  if (!isObject(content)) return { problems: [{ field: '', message: 'A case is one JSON object.' }] };
  const add = (field: string, message: string) => problems.push({ field, message });
  if (content.format !== 'jarro.case/1') {
    add('format', 'This is no Jarro case, or one of a later version: "format" must be "jarro.case/1".');
  }
  const system = readSystem(content.system, add);
  const readings = readReadings(content.readings, system, add);
  const { complaint = '', batterySupport = 'none' } = content;
  if (typeof complaint !== 'string') add('complaint', 'The complaint is text.');
  if (!['none', 'charger', 'jump-pack'].includes(String(batterySupport))) {
    add('batterySupport', 'Say none, charger or jump-pack.');
  }
  const rules = readRules(content, add);
  if (problems.length > 0 || !system) return { problems };
  return {
    case: {
      system,
      complaint: String(complaint),
      batterySupported: batterySupport !== 'none',
      readings,
      rules,
    },
  };
}

type Add = (field: string, message: string) => void;

function isObject(value: unknown): value is Json {
  return typeof value === 'object' && value !== null && !Array.isArray(value);
}

/** A whole profile, or `{"template": "P4"}` with whatever differs from that. */
function readSystem(value: unknown, add: Add): SystemProfile | undefined {
  if (!isObject(value)) {
    add('system', 'Give the supply path: a whole system, or {"template": "P1"} to "P9".');
    return undefined;
  }
  const { template, ...own } = value;
  if (template !== undefined && !(PATHS as readonly unknown[]).includes(template)) {
    add('system.template', `There are the templates ${PATHS.join(', ')}.`);
    return undefined;
  }
  const read = readProfile(template === undefined ? value : { ...templateProfile(template as PathKind), ...own });
  if ('profile' in read) return read.profile;
  read.problems.forEach(({ field, message }) => add(field ? `system.${field}` : 'system', message));
  return undefined;
}

/** The house's own rules where given, the usual ones else. */
function readRules({ order = DEFAULT_HOUSE_RULES.order, limits = {}, rules: own = {} }: Json, add: Add): HouseRules {
  if (!isObject(limits) || !isObject(own)) {
    add('rules', 'House rules and limits are each one JSON object; leave out what is usual.');
    return DEFAULT_HOUSE_RULES;
  }
  const rules = { ...DEFAULT_HOUSE_RULES, order, ...limits, ...own } as HouseRules & Json;
  checkHouseRules(rules).forEach(({ field, message }) => add(`rules.${field}`, message));
  return rules;
}

function readReadings(value: unknown, system: SystemProfile | undefined, add: Add): Reading[] {
  if (!Array.isArray(value)) {
    add('readings', 'List the readings; an empty list is allowed.');
    return [];
  }
  if (value.length > MOST_READINGS) {
    add('readings', `A case has at most ${MOST_READINGS} readings; this one has ${value.length}.`);
    return [];
  }
  const ids = new Set<string>();
  return value.flatMap((item: unknown, i): Reading[] => {
    const field = `readings[${i}]`;
    if (!isObject(item)) {
      add(field, 'A reading is one JSON object.');
      return [];
    }
    if (item.id !== undefined && typeof item.id !== 'string') add(`${field}.id`, 'An id is text.');
    const id = typeof item.id === 'string' ? item.id : `r${i + 1}`;
    if (ids.has(id)) add(`${field}.id`, `Two readings are called "${id}".`);
    ids.add(id);
    const reading = readReading(item, id, system, (name, message) => add(name ? `${field}.${name}` : field, message));
    return reading ? [reading] : [];
  });
}

function readReading(item: Json, id: string, system: SystemProfile | undefined, add: Add): Reading | undefined {
  const { kind, state, reference, trust, unloaded, helped, fault = 'present' } = item;
  const oneOf = (name: string, value: unknown, allowed: readonly string[], optional = false) => {
    const ok = (optional && value === undefined) || allowed.includes(value as string);
    if (!ok) add(name, `Say one of: ${allowed.join(', ')}.`);
    return ok;
  };
  const fits = [
    oneOf('kind', kind, READING_KINDS),
    oneOf('state', state, KEY_STATES),
    oneOf('reference', reference, REFERENCES, true),
    oneOf('trust', trust, TRUSTS, true),
    oneOf('helped', helped, HELPS, true),
    oneOf('fault', fault, ['present', 'absent']),
  ];
  if (fits.includes(false)) return undefined;
  const place = readPlace(kind as ReadingKind, item.at, system, add);
  const value = readValue(kind as ReadingKind, place ?? '', item.value, item.unit, add);
  if (place === undefined || value === undefined) return undefined;
  return {
    id,
    kind: kind as ReadingKind,
    at: place,
    value,
    keyState: state as KeyState,
    faultPresent: fault === 'present',
    ...(reference !== undefined && { reference: reference as NonNullable<Reading['reference']> }),
    ...(trust !== undefined && { trust: trust as NonNullable<Reading['trust']> }),
    ...(unloaded === true && { unloaded }),
    ...(helped !== undefined && { helped: helped as NonNullable<Reading['helped']> }),
  };
}

function readPlace(kind: ReadingKind, at: unknown, system: SystemProfile | undefined, add: Add): string | undefined {
  if (!system) return undefined;
  const place = findPlace(kind, at, system);
  if (!('message' in place)) return place.at;
  add(place.field, place.message);
  return undefined;
}

function readValue(
  kind: ReadingKind,
  at: string,
  value: unknown,
  unit: unknown,
  add: Add,
): Reading['value'] | undefined {
  if (value === NOT_POSSIBLE) return value;
  if (kind === 'capture') return readCapture(value, add);
  if (kind === 'hold' || kind === 'volume') return readRecord(kind, value, add);
  const answers =
    kind === 'check' ? answersOf(at) : (BENCH_ANSWERS as Partial<Record<ReadingKind, readonly string[]>>)[kind];
  if (answers) {
    if (!answers.includes(value as string)) {
      add('value', `Say one of: ${answers.join(', ')}.`);
      return undefined;
    }
    return value as string;
  }
  if (kind === 'resistance' && (value === 'wandering' || value === 'open')) return value === 'open' ? OPEN_OHM : value;
  return readNumber(kind, at, value, unit, add);
}

function answersOf(at: string): readonly string[] {
  if (at === 'hose_fuel') return ['dry', 'wet'];
  if (at === 'gauge_bled') return ['yes', 'no'];
  return FIRST_CHECKS.find((check) => check.at === at)?.answers.map((answer) => answer.value) ?? [];
}

interface Quantity {
  readonly units: Readonly<Record<string, number>>;
  /** SI; a number outside can't be. */
  readonly least: number;
  readonly most: number;
}

const pascals = (unit: PressureUnit) => toPascal(1, unit);
const VOLTAGE: Quantity = { units: { V: 1, mV: 1e-3 }, least: -MOST_V, most: MOST_V };
const PRESSURE: Quantity = {
  units: { Pa: 1, kPa: 1e3, bar: pascals('bar'), psi: pascals('psi'), MPa: 1e6 },
  least: -101_325,
  most: 40e6,
};
const PERCENT: Quantity = { units: { '%': 1 }, least: -100, most: 100 };
const QUANTITIES: Readonly<Partial<Record<ReadingKind, Quantity>>> = {
  voltage: VOLTAGE,
  battery: VOLTAGE,
  resistance: { units: { ohm: 1, kohm: 1e3, Mohm: 1e6 }, least: 0, most: 1e9 },
  current: { units: { A: 1, mA: 1e-3 }, least: -60, most: 60 },
  pressure: PRESSURE,
  duty: { ...PERCENT, least: 0 },
  timing: { units: { s: 1, ms: 1e-3 }, least: 0, most: 600 },
};

function readNumber(
  kind: Exclude<ReadingKind, 'capture'>,
  at: string,
  value: unknown,
  unit: unknown,
  add: Add,
): number | undefined {
  const scanned = at.endsWith('pressure') ? PRESSURE : at === 'sensor_volts' ? VOLTAGE : PERCENT;
  const quantity = QUANTITIES[kind] ?? scanned;
  // What the bench takes at this place a file may say too: an injector kicks far above what a pump is ever fed.
  const measure = findMeasure(kind, at);
  const least = Math.min(quantity.least, measure?.least ?? quantity.least);
  const most = Math.max(quantity.most, measure?.most ?? quantity.most);
  const names = Object.keys(quantity.units);
  const factor = unit === undefined ? 1 : typeof unit === 'string' ? quantity.units[unit] : undefined;
  if (factor === undefined) {
    add('unit', `A ${kind} is in ${names.join(', ')}; without a unit in ${names[0]}.`);
    return undefined;
  }
  if (typeof value !== 'number' || !Number.isFinite(value)) {
    add('value', 'Give a number.');
    return undefined;
  }
  const si = value * factor;
  if (si < least || si > most) {
    add(
      'value',
      `${value} ${typeof unit === 'string' ? unit : names[0]} can’t be; check the decimal point and the unit.`,
    );
    return undefined;
  }
  return si;
}

const CAPTURE_NUMBERS = ['meanA', 'rpm', 'ripplePercent', 'inrushPeakA', 'badBars'] as const;
const PATTERNS = [
  'even',
  'locked-notch',
  'burnt-bars',
  'random-dropouts',
  'brush-bounce',
  'locked-rotor',
  'dead-stretch',
  'no-current',
  'pulsed',
  'irregular',
];

function readCapture(value: unknown, add: Add): CaptureResult | undefined {
  if (!isObject(value)) {
    add('value', `A capture’s result is an object of ${CAPTURE_NUMBERS.join(', ')} and pattern, each optional.`);
    return undefined;
  }
  for (const name of CAPTURE_NUMBERS) {
    const number = value[name];
    if (number !== undefined && !(typeof number === 'number' && number >= 0 && Number.isFinite(number))) {
      add(`value.${name}`, 'Give a number that isn’t negative.');
      return undefined;
    }
  }
  if (value.pattern !== undefined && !PATTERNS.includes(value.pattern as string)) {
    add('value.pattern', `Say one of: ${PATTERNS.join(', ')}.`);
    return undefined;
  }
  return value;
}

function readRecord(kind: 'hold' | 'volume', value: unknown, add: Add): HoldRecord | VolumeRecord | undefined {
  if (kind === 'volume') {
    const { volumeM3, durationS } = isObject(value) ? value : {};
    const ok = Number(volumeM3) >= 0 && Number(volumeM3) <= 0.1 && Number(durationS) > 0;
    if (!ok) add('value', 'A volume is {"volumeM3", "durationS"}: up to 0.1 m3, over more than 0 s.');
    return ok ? (value as VolumeRecord) : undefined;
  }
  const { points, blocked = 'none' } = isObject(value) ? value : {};
  const rising = (all: readonly unknown[]) =>
    all.every((point, i) => {
      const before = i > 0 ? (all[i - 1] as number[])[0] : -Infinity;
      return Array.isArray(point) && point.length === 2 && point.every(Number.isFinite) && point[0] > before;
    });
  if (!Array.isArray(points) || points.length < 3 || !rising(points)) {
    add('value', 'A hold is {"points": [[seconds, Pa], …]}: three or more, the seconds rising.');
    return undefined;
  }
  return { points: points as HoldRecord['points'], blocked: blocked as HoldRecord['blocked'] };
}
