import type { RecordEvent } from '../analyser.js';
import type { RampResult } from '../current/types.js';
import type { SequenceIncident } from './sequence-analyser.js';

/** A dip this close to an incident belongs to it, s. */
const BESIDE_S = 0.02;

/**
 * What the sequence tells of, with its cause, doesn't stand among the current's dropouts as well. What comes back at every
 * turn does: that is no incident.
 */
export function rampWithout(ramp: RampResult, incidents: readonly SequenceIncident[]): RampResult {
  const dropouts = ramp.dropouts.filter(({ startS, endS, locked }) => locked || !isWithin(startS, endS, incidents));
  return dropouts.length === ramp.dropouts.length ? ramp : { ...ramp, dropouts };
}

export function eventsWithout(
  events: readonly RecordEvent[],
  incidents: readonly SequenceIncident[],
): readonly RecordEvent[] {
  return events.filter(({ kind, atS, untilS = atS }) => kind !== 'dropout' || !isWithin(atS, untilS, incidents));
}

function isWithin(startS: number, endS: number, incidents: readonly SequenceIncident[]): boolean {
  return incidents.some(
    (incident) => startS < (incident.endS ?? Infinity) + BESIDE_S && endS > incident.startS - BESIDE_S,
  );
}
