import { canBeAmperes, isHighSide } from '../limits/limits.js';
import type { Entry } from '../evidence/entry.js';
import type { Intake, Tampering } from '../intake/intake.js';
import { MOST_OFFSET_A } from '../measure/current/explanation.js';
import type { RampResult } from '../measure/current/types.js';
import type { KeyState } from '../terms/key-states.js';
import { countedEntries } from '../pressure/bleeding.js';
import { knownSensorTable, type CaseSystem } from '../intake/case-system.js';
import type { StationKind, SystemProfile } from '../vehicle/profile.js';
import { pressureSpec, type SystemKind } from '../vehicle/system-kinds.js';
import { templateProfile, type PathKind } from '../vehicle/templates.js';
import type { FoundCounts } from '../inference/shop-weights.js';
import { findPlace } from '../evidence/registry.js';
import type { CaptureResult } from '../evidence/records.js';
import type { SweepStep } from '../measure/pulses/sweep-record.js';
import type { Reading } from '../evidence/reading.js';

/** The shipped path that stands for a kind of system as long as a case has none of its own. */
const PATH_OF: Readonly<Record<SystemKind, PathKind>> = {
  unknown: 'P1',
  'throttle-body': 'P1',
  'return-rail': 'P1',
  'returnless-mechanical': 'P1',
  'returnless-two-speed': 'P6',
  'returnless-electronic': 'P4',
  'direct-injection': 'P9',
  'diesel-lift': 'P9',
};

/** Station names of the first version's plain ribbon, in the templates' own. */
const FIRST_NAMES: Readonly<Record<string, string>> = {
  fuse_output: 'fuse',
  relay_output: 'relay',
  switch_output: 'cutoff',
  pump_feed: 'pump',
  pump_ground: 'ground-pin',
};

/** What a case is weighed by, until it is given a system: a shipped path, with the pressure of this vehicle's windows. */
export function caseProfile(intake: Intake, system?: CaseSystem): SystemProfile {
  const sensorTable = knownSensorTable(intake, system);
  const path = system?.profile ?? templateProfile(PATH_OF[intake.system]);
  const profile = sensorTable ? { ...path, sensorTable } : path;
  if (system && !system.shipped) return profile;
  const window = pressureSpec(intake.system, 'prime', intake.makersWindows);
  const pressurePa = window ? (window.minPa + window.maxPa) / 2 : profile.pump.pressurePa;
  return { ...profile, pump: { ...profile.pump, pressurePa } };
}

/** A capture of the pump current as evidence: what was measured of it, and at what moment it was taken. */
export interface CaseCapture {
  readonly id: string;
  readonly ramp: RampResult;
  readonly keyState: KeyState;
  readonly faultPresent: boolean;
  /** The fault came and went in the same record, and this is of what lay between. */
  readonly isCaught?: boolean;
}

/** Everything of a case that its weights rest on; what stands, oldest first. */
export interface CaseEvidence {
  /** The customer's words. */
  readonly complaint?: string;
  readonly intake: Intake;
  readonly system?: CaseSystem;
  readonly entries: readonly Entry[];
  readonly captures: readonly CaseCapture[];
  /** The shop's own closed cases by what was found, where the house counts them. */
  readonly found?: FoundCounts;
}

/**
 * A case's standing evidence as readings. On a shipped path the pump's own draw isn't known: amperes count with low trust,
 * and speeds not at all.
 */
export function caseReadings({ intake, system, entries, captures }: CaseEvidence): Reading[] {
  const profile = caseProfile(intake, system);
  const known = system !== undefined && !system.shipped;
  const highSide = entries.some(({ kind, value }) => kind === 'scan' && typeof value === 'number' && isHighSide(value));
  const read = countedEntries(entries).flatMap((entry): Reading[] => {
    const { id, kind, value, keyState, faultPresent, reference, unloaded, trust, helped, boosted } = entry;
    const { commandPercent, pierced } = entry;
    const place = findPlace(kind, FIRST_NAMES[entry.at] ?? entry.at, profile);
    if ('message' in place) return [];
    // The path model ends at the low side.
    if (highSide && kind === 'scan' && OF_THE_RAIL.has(entry.at)) return [];
    const believed = kind === 'current' && !known ? 'low' : trust;
    const readings: Reading[] = [
      {
        id,
        kind,
        at: place.at,
        value,
        keyState,
        faultPresent,
        ...(kind === 'voltage' && { reference: reference ?? 'battery-' }),
        ...(kind !== 'voltage' && reference && { reference }),
        ...(unloaded && { unloaded }),
        ...(helped && { helped }),
        ...(boosted !== undefined && { boosted }),
        ...(commandPercent !== undefined && { commandPercent }),
        ...(pierced && { pierced }),
        ...(believed && { trust: believed }),
      },
    ];
    return known ? readings : readings.flatMap((reading) => sweepOfUnknownPump(reading, profile));
  });
  return [
    ...tampered(intake, profile, read),
    ...stored(intake),
    ...read,
    ...captures.flatMap((capture) => captured(capture, profile, known)),
  ];
}

/** Scan values of whatever pressure the rail sensor sits on. */
const OF_THE_RAIL: ReadonlySet<string> = new Set(['desired_pressure', 'actual_pressure', 'sensor_volts']);

const AMPERES = ':amperes';

/**
 * A sweep on a shipped path. Whatever the pump's own draw is, all steps share it: held against the template's pump they would
 * say the same thing once for each step. So the current counts once, at the largest command, with low trust.
 */
function sweepOfUnknownPump(reading: Reading, profile: SystemProfile): Reading[] {
  const { id, kind, value, commandPercent: _, ...taken } = reading;
  const place = findPlace('current', undefined, profile);
  if (kind !== 'sweep' || typeof value !== 'object' || !('steps' in value) || 'message' in place) return [reading];
  const drawn = value.steps.filter(({ currentA }) => currentA !== undefined);
  const largest = drawn.reduce<SweepStep | undefined>(
    (most, step) => (most && most.commandPercent >= step.commandPercent ? most : step),
    undefined,
  );
  const steps = value.steps.map(({ currentA: __, ...step }) => step);
  if (largest?.currentA === undefined) return [reading];
  return [
    { ...reading, value: { steps } },
    {
      ...{ ...taken, id: `${id}${AMPERES}`, kind: 'current', at: place.at, trust: 'low' },
      ...{ value: largest.currentA, commandPercent: largest.commandPercent },
    },
  ];
}

/** The record that a reading comes from. */
export function recordOf(readingId: string): string {
  return readingId.replace(AMPERES, '');
}

/** How the ids of readings begin that only the intake states. */
export const STATED_AT_INTAKE = 'intake-';

const SPOILT: Partial<Record<Tampering, readonly StationKind[]>> = {
  'wrong-fuse': ['fuse'],
  'bypassed-relay': ['relay'],
  'wrong-relay': ['relay'],
};

/** What the intake says was tampered with counts as seen, until somebody looked at that station. */
function tampered({ tampering }: Intake, { stations }: SystemProfile, read: readonly Reading[]): Reading[] {
  return tampering.flatMap((what) => {
    const station = stations.find(({ kind }) => SPOILT[what]?.includes(kind));
    if (!station || read.some(({ kind, at }) => kind === 'visual' && at === station.id)) return [];
    return [
      {
        id: `${STATED_AT_INTAKE}${what}`,
        kind: 'visual',
        at: station.id,
        value: 'wrong-part',
        keyState: 'off',
        faultPresent: true,
      },
    ];
  });
}

/** Codes that the intake lists were stored when it came in. */
function stored({ codes }: Intake): Reading[] {
  return codes.map((at) => ({
    id: `${STATED_AT_INTAKE}${at}`,
    kind: 'code',
    at,
    value: 'stored',
    keyState: 'off',
    faultPresent: true,
  }));
}

function captured(
  { id, ramp, keyState, faultPresent, isCaught }: CaseCapture,
  profile: SystemProfile,
  known: boolean,
): Reading[] {
  const { pattern, bars, humps, steady } = ramp;
  const place = findPlace('capture', undefined, profile);
  if ('message' in place) return [];
  const base = { at: place.at, keyState, faultPresent, ...(isCaught && { isCaught }) };
  const bad = bars?.filter(({ state }) => state !== 'sound').length ?? 0;
  // A wrong clamp factor scales the whole record, and all of a small level may be a clamp's zero that nobody told.
  const isDoubtful = ramp.zeroOffsetA === undefined && steady !== undefined && steady.meanA < MOST_OFFSET_A;
  const scaled = steady === undefined || (canBeAmperes(steady.meanA) && !isDoubtful);
  // What a module made of the longest of several commands is no draw of a key state; its sweep says more.
  const isOfState = !(ramp.stepped && profile.stations.some(({ kind }) => kind === 'module'));
  const { rpm, inrushPeakA } = isOfState ? ramp : {};
  const amperes = pattern === 'no-current' ? 0 : scaled && isOfState ? steady?.meanA : undefined;
  const shape: CaptureResult = {
    pattern,
    ...(steady && { ripplePercent: steady.ripplePercent }),
    ...(bad > 0 && { badBars: bad }),
  };
  if (known) {
    // An assumed bar count makes no speed.
    const turns = rpm !== undefined && humps?.basis !== 'assumed' ? { rpm } : {};
    const drawn = {
      ...(amperes !== undefined && { meanA: amperes }),
      ...(inrushPeakA !== undefined && scaled && { inrushPeakA }),
    };
    return [{ id, kind: 'capture', value: { ...shape, ...drawn, ...turns }, ...base }];
  }
  return [
    { id, kind: 'capture', value: shape, ...base },
    ...(amperes === undefined
      ? []
      : [{ id: `${id}${AMPERES}`, kind: 'current' as const, value: amperes, trust: 'low' as const, ...base }]),
  ];
}
