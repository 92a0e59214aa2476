import {
  newestEntry,
  newestNumber,
  type Entry,
  type HoldBlock,
  type HoldRecord,
  type KeyState,
  type VolumeRecord,
} from '../evidence/entry.js';
import type { Intake } from '../intake/intake.js';
import { LIMITS } from '../limits/limits.js';
import { pressureSpec, type Spec, type SystemKind } from '../systems/system-kinds.js';
import { fitHold, holdSide, judgeHold, type HoldFit, type HoldJudgement } from './hold.js';
import { checkRailSensor, type SensorCheck } from './rail-sensor.js';
import { checkRegulator, type RegulatorCheck } from './regulator.js';

export type Standing = 'within' | 'low' | 'high' | 'unjudged';

export interface SheetLine {
  readonly state: KeyState;
  readonly pascal: number;
  readonly id: string;
  readonly spec?: Spec;
  readonly standing: Standing;
}

interface Judged {
  readonly ok: boolean;
  readonly text: string;
  /** Entries it rests on. */
  readonly from: readonly string[];
}

/** All that the pressure stage's evidence amounts to. Absent parts were not measured. */
export interface PressureSheet {
  readonly bled: boolean;
  readonly lines: readonly SheetLine[];
  readonly rise?: Judged;
  readonly snap?: Judged;
  readonly filter?: Judged;
  readonly regulator?: RegulatorCheck & { readonly from: readonly string[] };
  readonly hold?: {
    readonly fit: HoldFit;
    readonly judgement: HoldJudgement;
    readonly side?: string;
    readonly from: readonly string[];
  };
  readonly volume?: Judged & { readonly m3PerS: number };
  readonly duty?: Judged;
  readonly sensor?: SensorCheck & { readonly from: readonly string[] };
  readonly trims?: Judged;
  readonly verdict: { readonly standing: 'open' | 'delivers' | 'low' | 'high' | 'mixed'; readonly text: string };
}

const LINE_STATES: readonly KeyState[] = ['prime', 'cranking', 'idle', 'loaded'];
const M3_PER_S_TO_LPH = 3.6e6;

export function pressureSheet(entries: readonly Entry[], intake: Intake): PressureSheet {
  const lines = LINE_STATES.flatMap((state): SheetLine[] => {
    const reading = newestNumber(entries, 'pressure', 'rail', state);
    if (!reading) return [];
    const spec = pressureSpec(intake.system, state, intake.makersWindows);
    return [
      { state, pascal: reading.value, id: reading.id, ...(spec && { spec }), standing: stand(reading.value, spec) },
    ];
  });
  const bled = newestEntry(entries, 'check', 'gauge_bled')?.value === 'yes';
  const threeWay = sensor(entries, intake);
  // A controller fed by a sensor that reads low asks for more than it needs: neither duty nor pressure is the pump's.
  const misled = threeWay?.verdict === 'sensor' && threeWay.errorPa < 0;
  const parts = {
    ...optional('rise', rise(entries)),
    ...optional('snap', snap(entries)),
    ...optional('filter', filter(entries)),
    ...optional('regulator', regulator(entries)),
    ...optional('hold', hold(entries)),
    ...optional('volume', volume(entries)),
    ...optional('duty', duty(entries, misled)),
    ...optional('sensor', threeWay),
    ...optional('trims', trims(entries)),
  };
  return { bled, lines, ...parts, verdict: judge(lines, bled, misled ? MISLED : HIGH[intake.system]) };
}

function optional<K extends string, V>(key: K, value: V | undefined): Partial<Record<K, V>> {
  return value === undefined ? {} : ({ [key]: value } as Record<K, V>);
}

function stand(pascal: number, spec: Spec | undefined): Standing {
  if (!spec) return 'unjudged';
  if (pascal < spec.minPa) return 'low';
  return pascal > spec.maxPa ? 'high' : 'within';
}

function rise(entries: readonly Entry[]): Judged | undefined {
  const time = newestNumber(entries, 'timing', 'rise_time');
  if (!time) return undefined;
  const ok = time.value <= LIMITS.riseTimeS.value;
  const text = ok
    ? 'Pressure is up within the prime.'
    : 'Pressure rises slowly: air, a blocked strainer or filter, a weak feed, or a worn pump.';
  return { ok, text, from: [time.id] };
}

function snap(entries: readonly Entry[]): Judged | undefined {
  const lowest = newestNumber(entries, 'pressure', 'rail_snap');
  const idle = newestNumber(entries, 'pressure', 'rail', 'idle');
  if (!lowest || !idle || idle.value <= 0) return undefined;
  const ok = lowest.value >= (1 - LIMITS.snapSag.value) * idle.value;
  const text = ok
    ? 'Holds up on snap throttle.'
    : 'Sags on snap throttle: not enough volume (filter, strainer, feed, pump).';
  return { ok, text, from: [lowest.id, idle.id] };
}

function filter(entries: readonly Entry[]): Judged | undefined {
  const before = newestNumber(entries, 'pressure', 'before_filter');
  const after = newestNumber(entries, 'pressure', 'after_filter');
  if (!before || !after) return undefined;
  const ok = before.value - after.value <= LIMITS.filterDropPa.value;
  const text = ok ? 'The filter loses little.' : 'The filter loses too much: it is restricted, and loads the pump.';
  return { ok, text, from: [before.id, after.id] };
}

function regulator(entries: readonly Entry[]) {
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

function hold(entries: readonly Entry[]): PressureSheet['hold'] {
  const rates: Partial<Record<HoldBlock, number>> = {};
  let shown: { fit: HoldFit; id: string } | undefined;
  const from: string[] = [];
  for (const entry of entries) {
    if (entry.kind !== 'hold') continue;
    const record = entry.value as HoldRecord;
    const result = fitHold(record);
    if (!('fit' in result)) continue;
    rates[record.blocked] = result.fit.ratePaPerMin;
    from.push(entry.id);
    if (record.blocked === 'none' || !shown) shown = { fit: result.fit, id: entry.id };
  }
  if (!shown) return undefined;
  const side = holdSide(rates);
  return { fit: shown.fit, judgement: judgeHold(shown.fit), ...(side !== undefined && { side }), from };
}

function volume(entries: readonly Entry[]): PressureSheet['volume'] {
  const entry = newestEntry(entries, 'volume', 'rail');
  if (!entry) return undefined;
  const { volumeM3, durationS } = entry.value as VolumeRecord;
  const m3PerS = volumeM3 / durationS;
  const ok = m3PerS * M3_PER_S_TO_LPH >= LIMITS.volumeLph.value;
  const text = ok ? 'Volume is enough.' : 'Too little volume: filter, strainer, feed voltage or pump.';
  return { ok, text, m3PerS, from: [entry.id] };
}

/** Holds its target at a low duty: a good pump. Needs most of its duty at idle: struggling. */
function duty(entries: readonly Entry[], misled: boolean): Judged | undefined {
  const commanded = newestNumber(entries, 'scan', 'commanded_duty', 'idle');
  const desired = newestNumber(entries, 'scan', 'desired_pressure', 'idle');
  const actual = newestNumber(entries, 'scan', 'actual_pressure', 'idle');
  if (!commanded) return undefined;
  const known = desired && actual;
  const held = known && Math.abs(actual.value - desired.value) <= LIMITS.targetShare.value * desired.value;
  const from = [commanded.id, ...(known ? [desired.id, actual.id] : [])];
  const percent = `${commanded.value.toFixed(0)} % duty`;
  if (held && commanded.value <= LIMITS.easyDutyPercent.value) {
    return { ok: true, text: `Holds its target at ${percent}: a good pump.`, from };
  }
  if (misled) return { ok: false, text: `Asks for ${percent} because the rail sensor reads low.`, from };
  if (commanded.value >= LIMITS.strugglingDutyPercent.value) {
    return {
      ok: false,
      text: held
        ? `Needs ${percent} to hold its target at idle: struggling, or the sensor reads low. Do the three-way check first.`
        : `At ${percent} and still off its target: no volume, low feed, or a sensor that lies.`,
      from,
    };
  }
  if (known && !held)
    return { ok: false, text: `Off its target at only ${percent}: look at the command and the sensor.`, from };
  return undefined;
}

function sensor(entries: readonly Entry[], { sensorTable }: Intake): PressureSheet['sensor'] {
  const gauge = newestNumber(entries, 'pressure', 'rail', 'idle');
  const scan = newestNumber(entries, 'scan', 'actual_pressure', 'idle');
  const volts = newestNumber(entries, 'scan', 'sensor_volts', 'idle');
  if (!gauge || !scan || !volts) return undefined;
  const check = checkRailSensor(gauge.value, scan.value, volts.value, sensorTable);
  return check && { ...check, from: [gauge.id, scan.id, volts.id] };
}

function trims(entries: readonly Entry[]): Judged | undefined {
  const short = newestNumber(entries, 'scan', 'short_trim');
  const long = newestNumber(entries, 'scan', 'long_trim');
  if (!long) return undefined;
  const total = long.value + (short?.value ?? 0);
  const from = [long.id, ...(short ? [short.id] : [])];
  if (Math.abs(total) <= LIMITS.trimPercent.value)
    return { ok: true, text: 'Trims are ordinary: enough fuel arrives.', from };
  const stuck = Math.abs(long.value) >= LIMITS.learnedTrimPercent.value;
  const side =
    total > 0
      ? 'adds fuel: lean, from low pressure or from air'
      : 'takes fuel away: rich, from high pressure or a leaking injector';
  return {
    ok: false,
    text: `The control unit ${side}.${stuck ? ' After the fix reset the learned trims.' : ''}`,
    from,
  };
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
  const judged = lines.filter(({ standing }) => standing !== 'unjudged');
  if (judged.length === 0)
    return { standing: 'open', text: 'No window to judge by: choose the system kind, or enter the maker’s window.' };
  const low = judged.filter(({ standing }) => standing === 'low').length;
  const high = judged.filter(({ standing }) => standing === 'high').length;
  if (low === 0 && high === 0)
    return { standing: 'delivers', text: 'Within its window: the pump delivers at these states.' };
  if (low && high) return { standing: 'mixed', text: 'Low in one state and high in another: repeat before judging.' };
  return low
    ? { standing: 'low', text: 'Low. That is not proof of a bad pump: its feed and ground come first.' }
    : {
        standing: 'high',
        text: whyHigh ?? 'High: a regulator that doesn’t open, or a restriction behind the gauge.',
      };
}
