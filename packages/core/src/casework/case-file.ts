import { InputError } from '../errors.js';
import { NOT_POSSIBLE } from '../evidence/entry.js';
import { HELPS } from '../evidence/how-taken.js';
import { READING_KINDS, type Reading, type ReadingKind } from '../evidence/reading.js';
import { findPlace, type Place } from '../evidence/registry.js';
import { FieldError, readFiled, type ValueSchema } from '../evidence/values.js';
import type { FoundCounts } from '../inference/shop-weights.js';
import { VERDICTS } from '../terms/verdicts.js';
import { checkHouseRules, DEFAULT_HOUSE_RULES, type HouseRules } from '../rules/house-rules.js';
import { KEY_STATES, type KeyState } from '../terms/key-states.js';
import { REFERENCES, TRUSTS } from '../terms/references.js';
import type { FieldProblem } from '../vehicle/check-profile.js';
import type { SystemProfile } from '../vehicle/profile.js';
import { readProfile } from '../vehicle/read-profile.js';
import { PATHS, templateProfile, type PathKind } from '../vehicle/templates.js';

/** A case as a file: `jarro.case/1`, described in docs/formats. */
export interface CaseFile {
  readonly system: SystemProfile;
  readonly complaint: string;
  readonly batterySupported: boolean;
  readonly readings: readonly Reading[];
  readonly rules: HouseRules;
  /** The shop's own closed cases by what was found; absent where the house doesn't count them. */
  readonly closedCases?: FoundCounts;
}

/** A case file that was read, or every field that is wrong in it. */
export type CheckedCase = { readonly case: CaseFile } | { readonly problems: readonly FieldProblem[] };

const MOST_READINGS = 2000;

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
  const closedCases = readCounts(content.closedCases, add);
  if (problems.length > 0 || !system) return { problems };
  return {
    case: {
      system,
      complaint: String(complaint),
      batterySupported: batterySupport !== 'none',
      readings,
      rules,
      ...(closedCases && { closedCases }),
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

/** How often each verdict was found in the shop's own cases. */
function readCounts(value: unknown, add: Add): FoundCounts | undefined {
  if (value === undefined) return undefined;
  const whole = (count: unknown) => Number.isInteger(count) && Number(count) >= 0 && Number(count) <= MOST_CASES;
  if (isObject(value) && Object.entries(value).every(([verdict, count]) => verdict in VERDICTS && whole(count))) {
    return value;
  }
  add('closedCases', 'Say of each verdict how many closed cases found it: whole numbers by the verdict’s name.');
  return undefined;
}

const MOST_CASES = 1e6;

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
  const { kind, state, reference, trust, unloaded, helped, boosted, commandPercent, fault = 'present' } = item;
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
    isCommand(commandPercent, add),
  ];
  if (fits.includes(false)) return undefined;
  const place = readPlace(kind as ReadingKind, item.at, system, add);
  if (!place) return undefined;
  const value = readValue(kind as ReadingKind, place.value, item.value, item.unit, add);
  if (value === undefined) return undefined;
  return {
    id,
    kind: kind as ReadingKind,
    at: place.at,
    value,
    keyState: state as KeyState,
    faultPresent: fault === 'present',
    ...(reference !== undefined && { reference: reference as NonNullable<Reading['reference']> }),
    ...(trust !== undefined && { trust: trust as NonNullable<Reading['trust']> }),
    ...(unloaded === true && { unloaded }),
    ...(helped !== undefined && { helped: helped as NonNullable<Reading['helped']> }),
    ...(typeof boosted === 'boolean' && { boosted }),
    ...(item.pierced === true && { pierced: true }),
    ...(typeof commandPercent === 'number' && { commandPercent }),
  };
}

function isCommand(percent: unknown, add: Add): boolean {
  const ok = percent === undefined || (typeof percent === 'number' && percent >= 0 && percent <= 100);
  if (!ok) add('commandPercent', 'A command lies between 0 and 100 %.');
  return ok;
}

type Found = Extract<Place, { readonly at: string }>;

function readPlace(kind: ReadingKind, at: unknown, system: SystemProfile | undefined, add: Add): Found | undefined {
  if (!system) return undefined;
  const place = findPlace(kind, at, system);
  if (!('message' in place)) return place;
  add(place.field, place.message);
  return undefined;
}

function readValue(
  kind: ReadingKind,
  schema: ValueSchema,
  value: unknown,
  unit: unknown,
  add: Add,
): Reading['value'] | undefined {
  if (value === NOT_POSSIBLE) return value;
  try {
    return readFiled(schema, value, unit, kind);
  } catch (error) {
    if (!(error instanceof InputError)) throw error;
    add(error instanceof FieldError ? error.field : 'value', error.message);
    return undefined;
  }
}
