import type { NextTest, Stage } from '@jarro/core';
import { isDutyLine, isStationKind, type StationReading } from '../path/station-kinds';

const STAGES: Partial<Record<NextTest['reading']['kind'], Stage>> = {
  pressure: 'pressure',
  hold: 'pressure',
  volume: 'pressure',
  scan: 'pressure',
  timing: 'pressure',
  check: 'first-checks',
  battery: 'first-checks',
  capture: 'current',
  'fell-first': 'control',
  sweep: 'control',
  source: 'control',
  injectors: 'control',
  soak: 'recheck',
};

/** Where a test is entered: at a station of the path, or at a stage. @param moduleId station at which a duty is read */
export function placeOfTest(
  { kind, at, state, reference }: NextTest['reading'],
  moduleId: string | undefined,
): StationReading | { readonly stage: Stage } {
  if (!isStationKind(kind)) return { stage: STAGES[kind] ?? 'power-path' };
  const station = kind === 'duty' ? (moduleId ?? at) : at;
  const line = kind === 'duty' && isDutyLine(at) ? at : undefined;
  return { station, kind, state, ...(reference && { reference }), ...(line && { line }) };
}
