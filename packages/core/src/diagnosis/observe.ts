import type { HoldRecord, VolumeRecord } from '../evidence/entry.js';
import { fitHold, judgeHold } from '../pressure/hold.js';
import type { PathModel } from '../path/solve-path.js';
import { answers, type Expectation, type Normal } from './expectation.js';
import { answerExpected } from './observe-answers.js';
import type { CaptureResult, Reading } from './reading.js';
import type { Question, Situation } from './situation.js';
import type { Helped } from './world.js';

/** One comparable part of a reading: a number (or answer) with what was expected of it. */
export interface Part {
  readonly value: number | string;
  readonly expected: Expectation;
}

/** Meter error: 0.5 % of the reading and 20 mV. */
const METER_SHARE = 0.005;
const METER_V = 0.02;
/** Sound contacts differ by about a third from their usual resistance (common practice, no published source). */
const SOUND_SPREAD = 0.35;
/** Half a step of the severities' ratio, and a pump's own differing draw. */
const FAULT_SPREAD = 0.14;
const MOST_V = 18;
/** Half a step of the meter ground's severities. */
const METER_LOSS_STEP = 0.025;
/** The pump's own laws are simple ones: what a fault does to it is foretold this well (no published source). */
const PUMP_SPREAD = 0.25;
const RESERVE_SPREAD = 0.8;
/** How far a slowed pump's pressure may be from the foretold. */
const SLOW_SPREAD = 0.2;

export function helpOf(kind: Reading['kind']): Helped {
  if (kind === 'bridge') return 'bridged';
  if (kind === 'module-bypass') return 'module-bypassed';
  return kind === 'direct-feed' ? 'direct' : 'no';
}

/** The comparable parts of a reading; none where the model has nothing to say about it. */
export function partsOf(reading: Reading, situation: Situation): Part[] {
  const { value } = reading;
  if (reading.kind === 'capture') return captureParts(value as CaptureResult, situation);
  if (reading.kind === 'hold') {
    const rate = rateOf(value as HoldRecord);
    return rate === undefined ? [] : [{ value: Math.log(Math.max(100, rate)), expected: holdRate(situation) }];
  }
  if (reading.kind === 'volume') {
    const { volumeM3, durationS } = value as VolumeRecord;
    return [{ value: Math.log(Math.max(LEAST_FLOW, volumeM3 / durationS)), expected: freeFlow(situation) }];
  }
  if (reading.kind === 'resistance') return resistanceParts(reading, situation);
  if (reading.kind === 'timing' && typeof value === 'number') {
    const expected = riseTime(situation);
    return reading.at === 'rise_time' ? [{ value: Math.log(Math.max(0.05, value)), expected }] : [];
  }
  const expected = expect(reading, situation);
  if (!expected || typeof value === 'object') return [];
  return [{ value, expected }];
}

/** What one question should be answered with; undefined where the model has nothing to say. */
export function expect(question: Question, situation: Situation): Expectation | undefined {
  switch (question.kind) {
    case 'voltage':
      return voltage(question, situation);
    case 'battery':
      return voltage({ ...question, at: situation.path.profile.stations[0].id }, situation);
    case 'test-light':
      return testLight(question, situation);
    case 'current':
      return current(situation);
    case 'pressure':
      return pressure(question.at, situation);
    case 'scan':
      return scan(question.at, situation);
    case 'duty':
      return duty(question.at, situation);
    case 'volume':
      return freeFlow(situation);
    default:
      return answerExpected(question, situation);
  }
}

function voltage({ at, reference, unloaded }: Question, situation: Situation): Normal | undefined {
  const { path, fault, world, sound, dutyKnown } = situation;
  const { stations } = path.profile;
  const place = stations.findIndex(({ id }) => id === at);
  if (place < 0) return undefined;
  const node = unloaded ? unloadedVolts(place, situation) : world.state.volts[at];
  const fed = sound.batteryV * (path.moduleAt > 0 && place >= path.moduleAt ? sound.state.duty : 1);
  const soundNode = unloaded && place <= path.pumpAt ? fed : sound.state.volts[at];
  const { batteryV } = world;
  const soundDrop = place <= path.pumpAt ? Math.abs(fed - soundNode) : soundNode;
  const faultDrop = fault.batteryLow ? 0 : Math.abs(node - soundNode);
  const exact = fault.ohm === Infinity || fault.relayOff === true;
  const behindModule = path.moduleAt > 0 && place >= path.moduleAt && place <= path.pumpAt && !dutyKnown;
  const fromPlus = reference === 'battery+';
  const lost = reference === 'battery-' || fromPlus ? 0 : (fault.meterLoses ?? 0);
  const mean = (fromPlus ? batteryV - node : node) * (1 - lost);
  const sd = Math.hypot(
    METER_V,
    METER_SHARE * mean,
    SOUND_SPREAD * soundDrop,
    (exact ? 0.02 : FAULT_SPREAD) * faultDrop,
    behindModule ? 0.12 * node : 0,
    lost > 0 ? METER_LOSS_STEP * batteryV : 0,
  );
  return { mean, sd, perBatteryV: batteryV > 0 ? mean / batteryV : 0, range: MOST_V };
}

/** With the plug off nothing flows: any finite resistance passes the voltage, only an open doesn't. */
function unloadedVolts(place: number, { path, fault, world }: Situation): number {
  if (place > path.pumpAt) return 0;
  const opened = path.profile.stations.slice(1, place + 1).some(({ id }) => id === fault.at && fault.ohm === Infinity);
  const off = world.state.volts[path.profile.stations[path.pumpAt].id] === 0 && fault.at === undefined;
  return opened || off ? 0 : world.batteryV * (path.moduleAt > 0 && place >= path.moduleAt ? world.state.duty : 1);
}

function testLight({ at, reference }: Question, { path, fault, world }: Situation): Expectation | undefined {
  const place = path.profile.stations.findIndex(({ id }) => id === at);
  if (place < 0) return undefined;
  const node = world.state.volts[at];
  const noReturn = fault.pump?.addedOhm === Infinity || (fault.ohm === Infinity && isGroundSide(path, fault.at));
  const floats = place <= path.pumpAt && node < 0.5 && noReturn;
  const lampV = reference === 'battery+' ? (floats ? 0 : world.batteryV - node) : node;
  const bright = sigmoid((lampV - 8) / 0.8);
  const off = sigmoid((3 - lampV) / 0.6);
  return answers({ bright: 0.96 * bright, flash: 0.02 * bright, off: 0.98 * off }, 'dim');
}

function isGroundSide({ profile: { stations }, pumpAt }: PathModel, station: string | undefined): boolean {
  return stations.findIndex(({ id }) => id === station) > pumpAt;
}

function current({ world, usual }: Situation): Normal {
  const { currentA } = world;
  const slow = world.state.duty < 0.9 ? SLOW_SPREAD * currentA : 0;
  const sd = Math.hypot(0.08, 0.1 * currentA, slow, PUMP_SPREAD * Math.abs(currentA - usual.currentA));
  return { mean: currentA, sd, perBatteryV: (0.5 * currentA) / Math.max(1, world.batteryV), range: 25 };
}

function pressure(at: string, situation: Situation): Normal | undefined {
  const { path, fault, world, usual } = situation;
  const target = path.profile.pump.pressurePa;
  const lost = at === 'before_filter' ? (fault.pump?.restrictionPa ?? 0) : 0;
  if (!['rail', 'rail_snap', 'before_filter', 'after_filter'].includes(at)) return undefined;
  const mean = world.pressurePa + (world.pressurePa > 0 ? lost : 0);
  const slow = world.state.duty < 0.9 && fault.commanded === undefined ? SLOW_SPREAD * mean : 0;
  // How much a pump has in reserve isn't known: one on less voltage may already fall short.
  const short = RESERVE_SPREAD * mean * Math.max(0, usual.speed - world.speed);
  const sd = Math.hypot(9e3, 0.06 * mean, pressureSpread(situation) * Math.abs(mean - usual.pressurePa), slow, short);
  return { mean, sd, perBatteryV: 0, range: 2 * target };
}

const PERCENT_RANGE = 100;

/** A regulator's own pressure is told well; what a weak pump still delivers hardly. */
function pressureSpread({ fault }: Situation): number {
  return fault.regulator !== undefined || fault.sensorGain !== undefined ? 0.12 : 0.35;
}

function scan(at: string, situation: Situation): Normal | undefined {
  const { path, fault, world, usual } = situation;
  const { sensorTable, pump } = path.profile;
  const target = pump.pressurePa;
  const pascal = (mean: number): Normal => ({
    mean,
    sd: Math.hypot(9e3, 0.06 * mean, pressureSpread(situation) * Math.abs(mean - usual.sensedPa)),
    perBatteryV: 0,
    range: 2 * target,
  });
  switch (at) {
    case 'commanded_duty':
      return duty('command', situation);
    case 'desired_pressure':
      return { ...pascal(target), sd: 0.08 * target };
    case 'actual_pressure':
      return pascal(world.sensedPa);
    case 'sensor_volts': {
      if (!sensorTable || sensorTable.length < 2) return undefined;
      const [[v0, p0]] = sensorTable;
      const [v1, p1] = sensorTable[sensorTable.length - 1];
      const perPascal = (v1 - v0) / (p1 - p0);
      const { mean, sd } = pascal(world.sensedPa);
      return { mean: v0 + (mean - p0) * perPascal, sd: Math.hypot(0.03, sd * perPascal), perBatteryV: 0, range: 5 };
    }
    case 'long_trim': {
      // Fuel arrives as the root of the pressure (Bernoulli); what is missing is added by the trim.
      const arrives = Math.sqrt(Math.max(0.1, world.pressurePa / target));
      const mean = Math.max(-35, Math.min(45, 100 * (1 / arrives - 1))) + (fault.lacks === 'air' ? 18 : 0);
      return { mean, sd: Math.hypot(7, 0.35 * mean), perBatteryV: 0, range: PERCENT_RANGE };
    }
    default:
      return undefined;
  }
}

/** `command`: what is asked of the module; anything else: what it gives out. Both in per cent. */
function duty(at: string, { fault, free, path, asked: measured }: Situation): Normal | undefined {
  if (path.moduleAt < 0) return undefined;
  const passes = fault.modulePasses ?? 1;
  if (at !== 'command' && measured !== undefined) {
    // With its command measured a module has no excuse.
    const given = measured * passes;
    return { mean: given, sd: Math.hypot(4, 0.06 * given), perBatteryV: 0, range: PERCENT_RANGE };
  }
  const asked = fault.commanded ?? (passes > 0 && passes < 1 ? Math.min(1, free.state.duty / passes) : free.state.duty);
  const mean = 100 * (at === 'command' ? (passes === 0 ? 1 : asked) : free.state.duty);
  return { mean, sd: Math.hypot(6, 0.14 * mean), perBatteryV: 0, range: PERCENT_RANGE };
}

const rates = new WeakMap<HoldRecord, { readonly paPerMin: number | undefined }>();

/** The fit is the same whatever the hypothesis: made once a record. */
function rateOf(record: HoldRecord): number | undefined {
  let known = rates.get(record);
  if (!known) {
    const result = fitHold(record);
    const told = 'fit' in result && judgeHold(result.fit).standing !== 'too-short';
    rates.set(record, (known = { paPerMin: told ? result.fit.ratePaPerMin : undefined }));
  }
  return known.paPerMin;
}

/** Sound: about 3 kPa a minute or less; leaking: tens (common practice, no published source). Natural logarithm of Pa/min. */
function holdRate({ fault }: Situation): Normal {
  const mean = Math.log(fault.leaksDown ? 60e3 : 2.5e3);
  return { mean, sd: fault.leaksDown ? 1 : 0.9, perBatteryV: 0, range: 9 };
}

/** Into a measuring jar, with little pressure to work against: 120 L/h of a sound pump (common practice, no published source). */
const USUAL_FLOW = 120e-3 / 3600;
const LEAST_FLOW = USUAL_FLOW / 50;

/** Natural logarithm of m3/s. What slips back inside a pump is missing here; what a regulator lets by is not. */
function freeFlow({ fault, world }: Situation): Normal {
  const { leak = 0, restrictionPa = 0 } = fault.pump ?? {};
  const turning = Math.min(1.2, world.speed);
  const clogged = restrictionPa > 0 ? 0.55 : 1;
  const flow = Math.max(LEAST_FLOW, USUAL_FLOW * turning * (1 - leak) * clogged);
  return {
    mean: Math.log(flow),
    sd: Math.hypot(0.25, restrictionPa > 0 || turning < 0.8 ? 0.3 : 0),
    perBatteryV: 0,
    range: 5,
  };
}

/** Natural logarithm of seconds. */
function riseTime({ fault, world, path }: Situation): Normal {
  const short = world.pressurePa < 0.9 * path.profile.pump.pressurePa;
  return { mean: Math.log(short ? 4 : fault.leaksDown ? 1.6 : 0.8), sd: 0.6, perBatteryV: 0, range: 6 };
}

const OPEN_OHM = 1e6;
const LEADS_OHM = 0.15;

/** Off circuit. A weak test: film and lead resistance spread it; a wandering reading is a sign of its own. */
function resistanceParts({ at, value }: Reading, { path, fault }: Situation): Part[] {
  const place = path.profile.stations.findIndex(({ id }) => id === at);
  if (place < 0) return [];
  const own = place === path.pumpAt ? path.pump.windingOhm + (fault.pump?.addedOhm ?? 0) : path.soundOhm[place];
  const ohm = own + (fault.at === at ? (fault.ohm ?? 0) : 0);
  const wanders =
    fault.at === at && (fault.ohm ?? 0) > 0.3 ? 0.4 : fault.commutator && place === path.pumpAt ? 0.2 : 0.015;
  const manner: Part = {
    value: value === 'wandering' ? 'wandering' : 'steady',
    expected: answers({ wandering: wanders }, 'steady'),
  };
  if (typeof value !== 'number') return [manner];
  const open = ohm > OPEN_OHM;
  const expected: Normal = {
    mean: Math.log((open ? OPEN_OHM : ohm) + LEADS_OHM),
    sd: open ? 1.5 : place === path.pumpAt ? 0.7 : 0.45,
    perBatteryV: 0,
    range: 17,
  };
  return [manner, { value: Math.log(Math.min(OPEN_OHM, Math.max(0, value)) + LEADS_OHM), expected }];
}

/** Usual ripple of a worn commutator, per cent (common practice, no published source). */
const RIPPLE = { burnt: 30, brushes: 14 } as const;

/** What the ramp analysis found, part by part. */
function captureParts(result: CaptureResult, situation: Situation): Part[] {
  const { path, world, usual, fault } = situation;
  const parts: Part[] = [];
  const { meanA, rpm, pattern, ripplePercent } = result;
  if (meanA !== undefined) parts.push({ value: meanA, expected: current(situation) });
  if (rpm !== undefined && world.currentA > 0.2) {
    const mean = world.speed * path.profile.pump.rpm;
    const sd = Math.hypot(100, 0.08 * mean, PUMP_SPREAD * Math.abs(world.speed - usual.speed) * path.profile.pump.rpm);
    parts.push({ value: rpm, expected: { mean, sd, perBatteryV: (0.8 * mean) / 12, range: 10_000 } });
  }
  if (pattern !== undefined) parts.push({ value: pattern, expected: patternExpected(situation) });
  if (ripplePercent !== undefined && ripplePercent > 0 && world.currentA > 0.2) {
    const strained = fault.pump?.drag || fault.pump?.restrictionPa ? 13 : 9;
    const mean = Math.log(fault.commutator ? RIPPLE[fault.commutator] : strained);
    const sd = fault.commutator === 'brushes' ? 0.8 : 0.5;
    parts.push({ value: Math.log(ripplePercent), expected: { mean, sd, perBatteryV: 0, range: 5 } });
  }
  return parts;
}

function patternExpected({ fault, world }: Situation): Expectation {
  if (world.currentA < 0.15) return answers({ even: 0.005, irregular: 0.02 }, 'no-current');
  if (fault.commutator === 'burnt') {
    return answers({ even: 0.06, 'random-dropouts': 0.05, irregular: 0.05, 'locked-notch': 0.38 }, 'burnt-bars');
  }
  if (fault.commutator === 'brushes') {
    const steady = { even: 0.42, irregular: 0.1, 'burnt-bars': 0.06, 'locked-notch': 0.04 };
    return answers({ ...steady, 'dead-stretch': 0.12, 'random-dropouts': 0.12 }, 'brush-bounce');
  }
  if (fault.pump?.drag === Infinity) {
    return answers({ even: 0.1, irregular: 0.35, 'no-current': 0.02, pulsed: 0.02 }, 'locked-rotor');
  }
  const loose = fault.at !== undefined && (fault.ohm ?? 0) > 0.3;
  const pulsed = world.state.duty < 0.98 ? 0.2 : 0.005;
  return answers(
    {
      'random-dropouts': loose ? 0.12 : 0.02,
      'brush-bounce': loose ? 0.04 : 0.01,
      'locked-rotor': 0.002,
      'locked-notch': 0.012,
      'burnt-bars': 0.006,
      'dead-stretch': 0.004,
      'no-current': 0.003,
      irregular: 0.05,
      pulsed,
    },
    'even',
  );
}

function sigmoid(x: number): number {
  return 1 / (1 + Math.exp(-x));
}
