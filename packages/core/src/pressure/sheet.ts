import { answered, newestEntry, type Entry } from '../evidence/entry.js';
import type { KeyState } from '../terms/key-states.js';
import type { Intake } from '../intake/intake.js';
import { DEFAULT_HOUSE_RULES, type HouseRules } from '../rules/house-rules.js';
import { knownSensorTable, type CaseSystem } from '../intake/case-system.js';
import { pressureSpec, type Spec, type SystemKind } from '../vehicle/system-kinds.js';
import { countedEntries, isGaugeBled } from './bleeding.js';
import {
  judgeFilter,
  judgeHolds,
  judgeRegulator,
  judgeRise,
  judgeSnap,
  judgeVolume,
  type Judged,
  type JudgedHold,
} from './delivery.js';
import type { SensorCheck } from '../vehicle/rail-sensor.js';
import type { RegulatorCheck } from './regulator.js';
import { judgeDuty, judgeHighSide, judgeSensor, judgeTrims } from './scan-data.js';

/** How a pressure stands to its window; unjudged where there is none. */
export type Standing = 'within' | 'low' | 'high' | 'unjudged';

/** States in which the gauge is read against a window. */
export const GAUGE_STATES = ['prime', 'cranking', 'idle', 'loaded'] as const satisfies readonly KeyState[];
export type GaugeState = (typeof GAUGE_STATES)[number];

/** The newest gauge reading in one key state. */
export interface SheetLine {
  readonly state: GaugeState;
  readonly pascal: number;
  readonly id: string;
  readonly faultPresent: boolean;
  /** Read after the gauge was bled. */
  readonly counts: boolean;
  readonly standing: Standing;
}

/** All that the pressure stage's evidence amounts to. Absent parts were not measured. */
export interface PressureSheet {
  readonly bled: boolean;
  readonly windows: Partial<Record<GaugeState, Spec>>;
  readonly lines: readonly SheetLine[];
  readonly rise?: Judged;
  readonly snap?: Judged;
  readonly filter?: Judged;
  readonly regulator?: RegulatorCheck & { readonly from: readonly string[] };
  readonly hold?: JudgedHold;
  readonly volume?: Judged & { readonly m3PerS: number };
  readonly duty?: Judged;
  readonly sensor?: SensorCheck & { readonly from: readonly string[] };
  /** Volts of the rail sensor can be turned into pressure. */
  readonly sensorTableKnown: boolean;
  /** The high side of direct injection, where the scan tool shows it. */
  readonly highSide?: Judged;
  readonly trims?: Judged;
  readonly verdict: { readonly standing: 'open' | 'delivers' | 'low' | 'high' | 'mixed'; readonly text: string };
}

/** What a sheet is judged by; what stands, oldest first. */
export interface SheetGrounds {
  readonly entries: readonly Entry[];
  readonly intake: Intake;
  readonly system?: CaseSystem;
}

/**
 * Judges every pressure reading of a case together.
 *
 * @returns each gauge reading against its window, Pa, and what they say of regulator, filter, volume, hold and scan
 * data
 */
export function pressureSheet(
  { entries: all, intake, system }: SheetGrounds,
  rules: HouseRules = DEFAULT_HOUSE_RULES,
): PressureSheet {
  const entries = answered(all);
  const windows = windowsOf(intake, system);
  const bled = isGaugeBled(entries);
  const counted = countedEntries(entries);
  const lines = GAUGE_STATES.flatMap((state): SheetLine[] => {
    const entry = newestEntry(entries, 'pressure', 'rail', state);
    if (typeof entry?.value !== 'number') return [];
    const { id, value, faultPresent } = entry;
    const counts = counted.includes(entry);
    return [{ state, pascal: value, id, faultPresent, counts, standing: stand(value, windows[state]) }];
  });
  const table = knownSensorTable(intake, system);
  const sensor = judgeSensor(counted, table);
  // A controller fed by a sensor that reads low asks for more than it needs: neither duty nor pressure is the pump's.
  const misled = sensor?.verdict === 'sensor' && sensor.errorPa < 0;
  const feeds = lines.some(({ standing, faultPresent, counts }) => counts && standing === 'within' && faultPresent);
  return {
    bled,
    windows,
    lines,
    ...optional('rise', judgeRise(counted, rules)),
    ...optional('snap', judgeSnap(counted)),
    ...optional('filter', judgeFilter(counted, rules)),
    ...optional('regulator', judgeRegulator(counted)),
    ...optional('hold', judgeHolds(counted, rules)),
    ...optional('volume', judgeVolume(counted, rules)),
    ...optional('duty', judgeDuty(counted, misled, rules)),
    ...optional('sensor', sensor),
    sensorTableKnown: table !== undefined,
    ...optional('highSide', judgeHighSide(counted, feeds)),
    ...optional('trims', judgeTrims(counted)),
    verdict: judge(lines, bled, misled ? MISLED : HIGH[intake.system]),
  };
}

/** A shipped path is nobody's vehicle, so its windows are no better than the rule of thumb. */
function windowsOf({ system: kind, makersWindows }: Intake, system: CaseSystem | undefined): PressureSheet['windows'] {
  const own = system && !system.shipped ? { name: system.name, windows: system.profile.pressureWindows } : undefined;
  const windows: Partial<Record<GaugeState, Spec>> = {};
  for (const state of GAUGE_STATES) {
    const spec = pressureSpec(kind, state, makersWindows, own);
    if (spec) windows[state] = spec;
  }
  return windows;
}

function optional<K extends string, V>(key: K, value: V | undefined): Partial<Record<K, V>> {
  return value === undefined ? {} : ({ [key]: value } as Record<K, V>);
}

function stand(pascal: number, spec: Spec | undefined): Standing {
  if (!spec) return 'unjudged';
  if (pascal < spec.minPa) return 'low';
  return pascal > spec.maxPa ? 'high' : 'within';
}

const MISLED = 'High: the rail sensor reads low, so more is commanded than needed.';

/** What makes a pressure too high, by how it is held. Common practice, no published source. */
const HIGH: Partial<Record<SystemKind, string>> = {
  'return-rail': 'High: a restricted return, a regulator that doesn’t open, or no vacuum on it.',
  'returnless-electronic': 'High: more is commanded than needed, or the rail sensor reads low. Do the three-way check.',
};

function judge(lines: readonly SheetLine[], bled: boolean, whyHigh: string | undefined): PressureSheet['verdict'] {
  if (lines.length === 0) return { standing: 'open', text: 'No gauge reading yet.' };
  if (!bled) return { standing: 'open', text: 'Bleed the gauge first: until then no number counts.' };
  const counted = lines.filter(({ counts }) => counts);
  if (counted.length === 0) {
    return { standing: 'open', text: 'Read it again: what was read before the gauge was bled doesn’t count.' };
  }
  const judged = counted.filter(({ standing }) => standing !== 'unjudged');
  if (judged.length === 0) {
    return { standing: 'open', text: 'No window to judge by: choose the system kind, or enter the maker’s window.' };
  }
  const low = judged.filter(({ standing }) => standing === 'low').length;
  const high = judged.filter(({ standing }) => standing === 'high').length;
  if (low === 0 && high === 0) {
    return judged.some(({ faultPresent }) => faultPresent)
      ? { standing: 'delivers', text: 'Within its window: the pump delivers at these states.' }
      : {
          standing: 'open',
          text: 'Within its window while the fault was away: that clears nothing. Read it again when the fault shows.',
        };
  }
  if (low && high) return { standing: 'mixed', text: 'Low in one state and high in another: repeat before judging.' };
  return low
    ? { standing: 'low', text: 'Low. That is not proof of a bad pump: its feed and ground come first.' }
    : {
        standing: 'high',
        text: whyHigh ?? 'High: a regulator that doesn’t open, or a restriction behind the gauge.',
      };
}
