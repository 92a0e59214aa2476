import type { EntryKind, EntryValue } from '../evidence/entry.js';
import type { HoldBlock } from '../measure/pressure/hold-record.js';
import type { KeyState } from '../terms/key-states.js';
import type { PressureResult } from '../measure/pressure/analyze-pressure.js';

/** One line of the pressure sheet that a recorded pressure fills. */
export interface CaptureEntry {
  readonly kind: EntryKind;
  readonly at: string;
  readonly value: EntryValue;
  readonly keyState: KeyState;
  /** Where it isn't what was said of the whole capture. */
  readonly faultPresent?: boolean;
}

/**
 * What a recorded rail pressure puts into the sheet, by the key state that it was recorded in.
 * @param blocked the line that was blocked while the pressure fell
 */
export function captureEntries(
  { primePa, riseTimeS, levelPa, lowestPa, holdRecord }: PressureResult,
  keyState: KeyState,
  blocked: HoldBlock,
): CaptureEntry[] {
  const rail = (pascal: number, at = 'rail'): CaptureEntry => ({
    kind: 'pressure',
    at,
    value: Math.round(pascal),
    keyState,
  });
  const rise: CaptureEntry[] =
    riseTimeS === undefined ? [] : [{ kind: 'timing', at: 'rise_time', value: Number(riseTimeS.toFixed(2)), keyState }];
  const hold: CaptureEntry[] = holdRecord
    ? [{ kind: 'hold', at: 'rail', value: { ...holdRecord, blocked }, keyState: 'after-off' }]
    : [];
  switch (keyState) {
    case 'prime':
      return [...(primePa === undefined ? [] : [rail(primePa)]), ...rise, ...hold];
    case 'cranking':
      return [rail(levelPa), ...rise];
    case 'idle':
      return [rail(levelPa)];
    case 'loaded':
      return [rail(levelPa), rail(lowestPa, 'rail_snap')];
    case 'off':
    case 'after-off':
      return hold;
  }
}
