import type { Entry } from '../evidence/entry.js';
import type { Intake } from '../intake/intake.js';
import type { LadderStation } from '../path/ladder.js';
import type { RampResult } from '../ramp/types.js';
import type { SystemProfile } from '../systems/profile.js';
import { pressureSpec, type SystemKind } from '../systems/system-kinds.js';
import { templateProfile, type PathKind } from '../systems/templates.js';
import type { CaptureResult, Reading } from './reading.js';

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

/** Stations of the plain ribbon by the templates' own names. */
export const STATION_IDS: Readonly<Record<LadderStation, string>> = {
  battery: 'battery',
  fuse_output: 'fuse',
  relay_output: 'relay',
  switch_output: 'cutoff',
  pump_feed: 'pump',
  pump_ground: 'ground-pin',
};

/** The path of a case by its intake: a shipped one, with the pressure that this vehicle's windows ask for. */
export function caseProfile(intake: Intake): SystemProfile {
  const template = templateProfile(PATH_OF[intake.system]);
  const window = pressureSpec(intake.system, 'prime', intake.makersWindows);
  const pressurePa = window ? (window.minPa + window.maxPa) / 2 : template.pump.pressurePa;
  const sensorTable = intake.sensorTable.length > 1 ? { sensorTable: intake.sensorTable } : {};
  return { ...template, ...sensorTable, pump: { ...template.pump, pressurePa } };
}

export interface CaseCapture {
  readonly id: string;
  readonly ramp: RampResult;
}

/**
 * A case's standing evidence as readings. The path being a shipped one, its pump's own draw isn't known: amperes count
 * with low trust, and speeds not at all.
 */
export function caseReadings(
  entries: readonly Entry[],
  captures: readonly CaseCapture[],
  profile: SystemProfile,
): Reading[] {
  const known = new Set(profile.stations.map(({ id }) => id));
  const fromEntries = entries.flatMap((entry): Reading[] => {
    const at = entry.kind === 'voltage' ? STATION_IDS[entry.at as LadderStation] : entry.at;
    if (entry.kind === 'voltage' && (at === undefined || !known.has(at))) return [];
    const { id, kind, value, keyState, faultPresent } = entry;
    return [
      {
        id,
        kind,
        at,
        value,
        keyState,
        faultPresent,
        ...(kind === 'voltage' && { reference: 'battery-' as const }),
        ...(kind === 'current' && { trust: 'low' as const }),
      },
    ];
  });
  return [...fromEntries, ...captures.flatMap(readingsOfCapture)];
}

const AMPERES = ':amperes';

/** The record that a reading comes from. */
export function recordOf(readingId: string): string {
  return readingId.replace(AMPERES, '');
}

function readingsOfCapture({ id, ramp }: CaseCapture): Reading[] {
  const { pattern, steady, bars } = ramp;
  const base = { at: 'pump', keyState: 'prime', faultPresent: true } as const;
  const bad = bars?.filter(({ state }) => state !== 'sound').length ?? 0;
  const shape: CaptureResult = {
    pattern,
    ...(steady && { ripplePercent: steady.ripplePercent }),
    ...(bad > 0 && { badBars: bad }),
  };
  const amperes = pattern === 'no-current' ? 0 : steady?.meanA;
  return [
    { id, kind: 'capture', value: shape, ...base },
    ...(amperes === undefined
      ? []
      : [{ id: `${id}${AMPERES}`, kind: 'current' as const, value: amperes, trust: 'low' as const, ...base }]),
  ];
}
