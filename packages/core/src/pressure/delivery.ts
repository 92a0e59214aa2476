import { newestEntry, newestNumber, type Entry } from '../evidence/entry.js';
import type { VolumeRecord } from '../evidence/records.js';
import type { HoldBlock, HoldRecord } from '../measure/pressure/hold-record.js';
import { LIMITS } from '../limits/limits.js';
import type { HouseRules } from '../rules/house-rules.js';
import { fitHold, holdSide, judgeHold, type HoldFit, type HoldJudgement } from '../measure/pressure/hold.js';
import { checkRegulator, type RegulatorCheck } from './regulator.js';

// What gauge, clock and jar say of the fuel side. Absent results were not measured.

/** Good or not, in words, and the entries that say so. */
export interface Judged {
  readonly ok: boolean;
  readonly text: string;
  /** Entries it rests on. */
  readonly from: readonly string[];
}

export interface JudgedHold {
  readonly fit: HoldFit;
  readonly judgement: HoldJudgement;
  readonly side?: string;
  readonly from: readonly string[];
}

const M3_PER_S_TO_LPH = 3.6e6;

export function judgeRise(entries: readonly Entry[], { riseTimeS }: HouseRules): Judged | undefined {
  const time = newestNumber(entries, 'timing', 'rise_time');
  if (!time) return undefined;
  const ok = time.value <= riseTimeS;
  const text = ok
    ? 'Pressure is up within the prime.'
    : 'Pressure rises slowly: air, a blocked strainer or filter, a weak feed, or a worn pump.';
  return { ok, text, from: [time.id] };
}

export function judgeSnap(entries: readonly Entry[]): Judged | undefined {
  const lowest = newestNumber(entries, 'pressure', 'rail_snap');
  const idle = newestNumber(entries, 'pressure', 'rail', 'idle');
  if (!lowest || !idle || idle.value <= 0) return undefined;
  const ok = lowest.value >= (1 - LIMITS.snapSag.value) * idle.value;
  const text = ok
    ? 'Holds up on snap throttle.'
    : 'Sags on snap throttle: not enough volume (filter, strainer, feed, pump).';
  return { ok, text, from: [lowest.id, idle.id] };
}

export function judgeFilter(entries: readonly Entry[], { filterDropPa }: HouseRules): Judged | undefined {
  const before = newestNumber(entries, 'pressure', 'before_filter');
  const after = newestNumber(entries, 'pressure', 'after_filter');
  if (!before || !after) return undefined;
  const ok = before.value - after.value <= filterDropPa;
  const text = ok ? 'The filter loses little.' : 'The filter loses too much: it is restricted, and loads the pump.';
  return { ok, text, from: [before.id, after.id] };
}

export function judgeRegulator(
  entries: readonly Entry[],
): (RegulatorCheck & { readonly from: readonly string[] }) | undefined {
  const on = newestNumber(entries, 'pressure', 'rail', 'idle');
  const off = newestNumber(entries, 'pressure', 'rail_hose_off');
  if (!on || !off) return undefined;
  const vacuum = newestNumber(entries, 'pressure', 'manifold_vacuum');
  const check = checkRegulator(on.value, off.value, vacuum?.value);
  const from = [on.id, off.id, ...(vacuum ? [vacuum.id] : [])];
  const wet = newestEntry(entries, 'check', 'hose_fuel');
  if (wet?.value !== 'wet') return { ...check, from };
  return {
    ...check,
    works: false,
    text: 'Fuel in the vacuum hose: the regulator’s diaphragm is torn.',
    from: [...from, wet.id],
  };
}

export function judgeHolds(entries: readonly Entry[], { holdLossPaPerMin }: HouseRules): JudgedHold | undefined {
  const rates: Partial<Record<HoldBlock, number>> = {};
  let shown: { readonly fit: HoldFit; readonly judgement: HoldJudgement } | undefined;
  const from: string[] = [];
  for (const entry of entries) {
    if (entry.kind !== 'hold' || typeof entry.value !== 'object') continue;
    const record = entry.value as HoldRecord;
    const result = fitHold(record);
    if (!('fit' in result)) continue;
    const judgement = judgeHold(result.fit, holdLossPaPerMin);
    if (judgement.standing !== 'too-short') rates[record.blocked] = result.fit.ratePaPerMin;
    from.push(entry.id);
    if (record.blocked === 'none' || !shown) shown = { fit: result.fit, judgement };
  }
  if (!shown) return undefined;
  const side = holdSide(rates, holdLossPaPerMin);
  return { ...shown, ...(side !== undefined && { side }), from };
}

export function judgeVolume(
  entries: readonly Entry[],
  { volumeLph }: HouseRules,
): (Judged & { readonly m3PerS: number }) | undefined {
  const entry = newestEntry(entries, 'volume', 'rail');
  if (!entry) return undefined;
  const { volumeM3, durationS } = entry.value as VolumeRecord;
  const m3PerS = volumeM3 / durationS;
  const ok = m3PerS * M3_PER_S_TO_LPH >= volumeLph;
  const text = ok ? 'Volume is enough.' : 'Too little volume: filter, strainer, feed voltage or pump.';
  return { ok, text, m3PerS, from: [entry.id] };
}
