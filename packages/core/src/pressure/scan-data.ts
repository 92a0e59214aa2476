import { isHighSide } from '../limits/limits.js';
import { newestNumber, type Entry } from '../evidence/entry.js';
import { LIMITS } from '../limits/limits.js';
import type { HouseRules } from '../rules/house-rules.js';
import type { Judged } from './delivery.js';
import { checkRailSensor, type SensorCheck, type SensorTable } from '../vehicle/rail-sensor.js';

// What the scan tool's values say. Absent results were not measured.

/**
 * Holds its target at a low duty: a good pump. Needs most of its duty at idle: struggling.
 * @param misled the rail sensor reads low, so the duty asked for isn't the pump's doing
 */
export function judgeDuty(
  entries: readonly Entry[],
  misled: boolean,
  { strugglingDutyPercent }: HouseRules,
): Judged | undefined {
  const commanded = newestNumber(entries, 'scan', 'commanded_duty', 'idle');
  if (!commanded) return undefined;
  const target = railTarget(entries);
  // What a high-pressure pump makes of it says nothing of the duty in the tank.
  const known = target && !target.highSide;
  const held = known && target.held;
  const from = [commanded.id, ...(known ? target.from : [])];
  const percent = `${commanded.value.toFixed(0)} % duty`;
  if (held && commanded.value <= LIMITS.easyDutyPercent.value) {
    return { ok: true, text: `Holds its target at ${percent}: a good pump.`, from };
  }
  if (misled) return { ok: false, text: `Asks for ${percent} because the rail sensor reads low.`, from };
  if (commanded.value >= strugglingDutyPercent) {
    return {
      ok: false,
      text: held
        ? `Needs ${percent} to hold its target at idle: struggling, or the sensor reads low. Do the three-way check first.`
        : `At ${percent} and still off its target: no volume, low feed, or a sensor that lies.`,
      from,
    };
  }
  if (known && !held) {
    return { ok: false, text: `Off its target at only ${percent}: look at the command and the sensor.`, from };
  }
  return undefined;
}

interface RailTarget {
  readonly held: boolean;
  /** Share of what is asked for that is there. */
  readonly share: number;
  readonly highSide: boolean;
  readonly from: readonly string[];
}

/** Rail pressure asked for and there, at idle. */
function railTarget(entries: readonly Entry[]): RailTarget | undefined {
  const desired = newestNumber(entries, 'scan', 'desired_pressure', 'idle');
  const actual = newestNumber(entries, 'scan', 'actual_pressure', 'idle');
  if (!desired || !actual) return undefined;
  return {
    held: Math.abs(actual.value - desired.value) <= LIMITS.targetShare.value * desired.value,
    share: actual.value / desired.value,
    highSide: isHighSide(desired.value) || isHighSide(actual.value),
    from: [desired.id, actual.id],
  };
}

/**
 * The high side of direct injection, by scan tool only: it can't be better than what feeds it.
 * Common practice, no published source.
 * @param feeds whether the gauge on the low side stands within its window
 */
export function judgeHighSide(entries: readonly Entry[], feeds: boolean): Judged | undefined {
  const target = railTarget(entries);
  if (!target?.highSide) return undefined;
  const { held, share, from } = target;
  const percent = `${(100 * share).toFixed(0)} % of what is asked`;
  if (held)
    return {
      ok: true,
      text: `The high side holds ${percent}: the pump in the tank feeds it well enough at idle.`,
      from,
    };
  const text = feeds
    ? `The high side is at ${percent} while the low side is within its window: its pump, drive, control valve or sensor, by the maker’s procedure. It isn’t opened here.`
    : `The high side is at ${percent}: prove the low side on the gauge first, since no high-pressure pump gives what it doesn’t get.`;
  return { ok: false, text, from };
}

/** Gauge, scan value and sensor volts of one idle; on the high side no gauge can stand beside them. */
export function judgeSensor(
  entries: readonly Entry[],
  table: SensorTable = [],
): (SensorCheck & { readonly from: readonly string[] }) | undefined {
  const gauge = newestNumber(entries, 'pressure', 'rail', 'idle');
  const scan = newestNumber(entries, 'scan', 'actual_pressure', 'idle');
  const volts = newestNumber(entries, 'scan', 'sensor_volts', 'idle');
  if (!gauge || !scan || !volts || isHighSide(scan.value)) return undefined;
  const check = checkRailSensor(gauge.value, scan.value, volts.value, table);
  return check && { ...check, from: [gauge.id, scan.id, volts.id] };
}

export function judgeTrims(entries: readonly Entry[]): Judged | undefined {
  const short = newestNumber(entries, 'scan', 'short_trim');
  const long = newestNumber(entries, 'scan', 'long_trim');
  if (!long) return undefined;
  const total = long.value + (short?.value ?? 0);
  const from = [long.id, ...(short ? [short.id] : [])];
  if (Math.abs(total) <= LIMITS.trimPercent.value) {
    return { ok: true, text: 'Trims are ordinary: enough fuel arrives.', from };
  }
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
