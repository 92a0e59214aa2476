import { LIMITS } from '../limits/limits.js';

/** The points of a plain relay-fed path at which a probe is put, in the order the current takes. */
export const LADDER_STATIONS = [
  'battery',
  'fuse_output',
  'relay_output',
  'switch_output',
  'pump_feed',
  'pump_ground',
] as const;

export type LadderStation = (typeof LADDER_STATIONS)[number];

export interface LadderStep {
  readonly station: LadderStation;
  /** Volts from battery -, loaded; absent when not read. */
  readonly volts?: number;
  /** Lost since the last station that was read; for the ground station, what is left on the way out. */
  readonly dropV?: number;
  /** Contacts between it and the last station that was read. */
  readonly contacts?: number;
  readonly limitV?: number;
  readonly standing: 'unknown' | 'cleared' | 'suspect';
}

/** Voltage by voltage down the path: each contact may lose only so much, so a step that loses more is suspect. */
export function voltageLadder(
  volts: Partial<Record<LadderStation, number>>,
  groundDropV: number = LIMITS.groundDropV.value,
): LadderStep[] {
  let last: { volts: number; index: number } | undefined;
  return LADDER_STATIONS.map((station, index): LadderStep => {
    const here = volts[station];
    if (here === undefined) return { station, standing: 'unknown' };
    if (station === 'pump_ground') {
      return {
        station,
        volts: here,
        dropV: here,
        limitV: groundDropV,
        standing: here <= groundDropV ? 'cleared' : 'suspect',
      };
    }
    const before = last;
    last = { volts: here, index };
    if (!before) return { station, volts: here, standing: station === 'battery' ? 'cleared' : 'unknown' };
    const dropV = before.volts - here;
    const contacts = index - before.index;
    const limitV = contacts * LIMITS.contactDropV.value;
    // A hundredth of a volt is the meter's last digit, not a fault.
    const standing = dropV <= limitV + 0.01 ? 'cleared' : 'suspect';
    return { station, volts: here, dropV, contacts, limitV, standing };
  });
}
