import { checkProfile, MOST_STATIONS, type FieldProblem } from './check-profile.js';
import { KEY_STATES } from '../terms/key-states.js';
import { REGULATORS, type SystemProfile } from './profile.js';

/** A path that was read, or every field that kept it from being read. */
export type ReadProfile = { readonly profile: SystemProfile } | { readonly problems: readonly FieldProblem[] };

type Json = Readonly<Record<string, unknown>>;
type Want = (field: string, ok: boolean, message: string) => void;

const LONGEST_TEXT = 200;

/** Reads what claims to be a `jarro.system/1`, naming every field that is wrong. */
export function readProfile(content: unknown): ReadProfile {
  const problems: FieldProblem[] = [];
  const want: Want = (field, ok, message) => {
    if (!ok) problems.push({ field, message });
  };
  if (!isObject(content)) return { problems: [{ field: '', message: 'A system is one JSON object.' }] };
  checkShape(content, want);
  if (problems.length > 0) return { problems };
  const profile = withUsual(content);
  problems.push(...checkProfile(profile));
  return problems.length > 0 ? { problems } : { profile };
}

/** What may be left out is taken as usual; what no system holds is left behind. */
function withUsual(content: Json): SystemProfile {
  const usual = { id: 'own', primeS: 2, crankOnly: false, currentWindows: {}, pressureWindows: {} };
  const stations = (content.stations as Json[]).map((station) => ({
    backProbe: true,
    ...fieldsOf(STATION_FIELDS, station),
    ...nested(station, 'wire', ['lengthM', 'areaMm2']),
    ...nested(station, 'bypass', ['name', 'ohm']),
    ...(Array.isArray(station.pins) && {
      pins: (station.pins as Json[]).map((pin) => fieldsOf(['role', 'pin', 'colour'], pin)),
    }),
  }));
  const feedback = content.feedbackTable as readonly Json[] | undefined;
  return {
    ...usual,
    ...fieldsOf(PROFILE_FIELDS, content),
    stations,
    ...nested(content, 'pump', PUMP_FIELDS),
    ...windows(content, 'currentWindows', ['minA', 'maxA']),
    ...windows(content, 'pressureWindows', ['minPa', 'maxPa']),
    ...windows(content, 'speedWindows', ['minRpm', 'maxRpm']),
    ...(feedback && { feedbackTable: feedback.map((row) => fieldsOf(['fromPercent', 'toPercent', 'meaning'], row)) }),
  } as unknown as SystemProfile;
}

const PUMP_FIELDS = ['volts', 'amperes', 'rpm', 'pressurePa', 'windingOhm'];
const PROFILE_FIELDS = [
  ...['format', 'id', 'name', 'control', 'primeS', 'crankOnly', 'bars', 'ripplePercent', 'regulator'],
  ...['commandTable', 'sensorTable'],
];
const STATION_FIELDS = [
  ...['id', 'kind', 'name', 'pin', 'colour', 'location'],
  ...['accessMinutes', 'backProbe', 'ohm', 'sharedA', 'secondPump'],
];

function fieldsOf(fields: readonly string[], content: Json): Json {
  return Object.fromEntries(
    fields.filter((field) => content[field] !== undefined).map((field) => [field, content[field]]),
  );
}

function nested(content: Json, field: string, fields: readonly string[]): Json {
  return content[field] === undefined ? {} : { [field]: fieldsOf(fields, content[field] as Json) };
}

function windows(content: Json, field: string, fields: readonly string[]): Json {
  const given = content[field] as Readonly<Record<string, Json>> | undefined;
  if (given === undefined) return {};
  return {
    [field]: Object.fromEntries(Object.entries(given).map(([state, window]) => [state, fieldsOf(fields, window)])),
  };
}

function isObject(value: unknown): value is Json {
  return typeof value === 'object' && value !== null && !Array.isArray(value);
}

const isNumber = (value: unknown) => typeof value === 'number' && Number.isFinite(value);
const isText = (value: unknown) => typeof value === 'string' && value.length <= LONGEST_TEXT;
const absentOr = (is: (value: unknown) => boolean) => (value: unknown) => value === undefined || is(value);
const TEXT = `Text of up to ${LONGEST_TEXT} characters.`;

/** What must be there at all, and of its kind, before the profile's own rules can be asked. */
function checkShape(content: Json, want: Want): void {
  want('name', isText(content.name), 'Name the system.');
  want('id', absentOr(isText)(content.id), TEXT);
  want('stations', Array.isArray(content.stations), 'List the stations from the battery to the ground point.');
  want('primeS', absentOr(isNumber)(content.primeS), 'Give the prime in seconds.');
  want('crankOnly', absentOr((value) => typeof value === 'boolean')(content.crankOnly), 'Say true or false.');
  want('bars', absentOr((bars) => Number.isInteger(bars))(content.bars), 'Give the whole number of commutator bars.');
  const { pump } = content;
  const rated = isObject(pump) && PUMP_FIELDS.every((n) => isNumber(pump[n]));
  want('pump', rated, 'Give the pump’s volts, amperes, rpm, pressurePa and windingOhm, each a number.');
  checkWindows('currentWindows', content.currentWindows, ['minA', 'maxA'], want);
  checkWindows('pressureWindows', content.pressureWindows, ['minPa', 'maxPa'], want);
  checkWindows('speedWindows', content.speedWindows, ['minRpm', 'maxRpm'], want);
  want('ripplePercent', absentOr(isNumber)(content.ripplePercent), 'Give per cent of the draw.');
  const { regulator } = content;
  const held = regulator === undefined || (REGULATORS as readonly unknown[]).includes(regulator);
  want('regulator', held, `Say one of: ${REGULATORS.join(', ')}.`);
  checkTable('commandTable', content.commandTable, want);
  checkTable('sensorTable', content.sensorTable, want);
  checkFeedback(content.feedbackTable, want);
  // One more than allowed is enough to say that there are too many.
  if (Array.isArray(content.stations)) {
    content.stations.slice(0, MOST_STATIONS + 1).forEach((station, i) => checkStation(station, `stations[${i}]`, want));
  }
}

function checkStation(station: unknown, field: string, want: Want): void {
  const named = isObject(station) && [station.id, station.kind, station.name].every(isText);
  want(field, named, 'A station has an id, a kind and a name.');
  if (!isObject(station)) return;
  want(`${field}.accessMinutes`, isNumber(station.accessMinutes), 'Say the minutes that it takes to get there.');
  for (const name of ['pin', 'colour', 'location']) want(`${field}.${name}`, absentOr(isText)(station[name]), TEXT);
  for (const name of ['backProbe', 'secondPump']) {
    want(`${field}.${name}`, absentOr((value) => typeof value === 'boolean')(station[name]), 'Say true or false.');
  }
  for (const name of ['ohm', 'sharedA']) want(`${field}.${name}`, absentOr(isNumber)(station[name]), 'Give a number.');
  const { wire, bypass, pins } = station;
  const isPin = (pin: unknown) => isObject(pin) && isText(pin.role) && isText(pin.pin) && absentOr(isText)(pin.colour);
  const pinned = pins === undefined || (Array.isArray(pins) && pins.length <= 12 && pins.every(isPin));
  want(`${field}.pins`, pinned, 'Up to 12 terminals, each with a role and a pin.');
  const wired = wire === undefined || (isObject(wire) && isNumber(wire.lengthM) && isNumber(wire.areaMm2));
  want(`${field}.wire`, wired, 'A wire has a lengthM and an areaMm2.');
  const passed = bypass === undefined || (isObject(bypass) && isText(bypass.name) && isNumber(bypass.ohm));
  want(`${field}.bypass`, passed, 'A second way round has a name and an ohm.');
}

function checkWindows(field: string, value: unknown, [least, most]: readonly [string, string], want: Want): void {
  if (value === undefined) return;
  want(field, isObject(value), 'Windows are one JSON object by key state.');
  if (!isObject(value)) return;
  for (const [state, window] of Object.entries(value)) {
    want(
      `${field}.${state}`,
      (KEY_STATES as readonly string[]).includes(state),
      `Say one of: ${KEY_STATES.join(', ')}.`,
    );
    const ok =
      isObject(window) &&
      isNumber(window[least]) &&
      isNumber(window[most]) &&
      Number(window[least]) < Number(window[most]);
    want(`${field}.${state}`, ok, `A window goes from a lower ${least} to a higher ${most}.`);
  }
}

function checkTable(field: string, value: unknown, want: Want): void {
  const rows = value === undefined || (Array.isArray(value) && value.length <= 60 && value.every(isPair));
  want(field, rows, 'A table is up to 60 rows of two numbers.');
}

function isPair(row: unknown): boolean {
  return Array.isArray(row) && row.length === 2 && row.every(isNumber);
}

function checkFeedback(value: unknown, want: Want): void {
  const isRow = (row: unknown) =>
    isObject(row) && isNumber(row.fromPercent) && isNumber(row.toPercent) && isText(row.meaning);
  const ok = value === undefined || (Array.isArray(value) && value.length <= 60 && value.every(isRow));
  want('feedbackTable', ok, 'A feedback table is up to 60 rows of fromPercent, toPercent and meaning.');
}
