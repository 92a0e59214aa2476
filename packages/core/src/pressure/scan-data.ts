import { newestNumber, type Entry } from '../evidence/entry.js';
import { LIMITS } from '../limits/limits.js';
import type { HouseRules } from '../rules/house-rules.js';
import type { Judged } from './delivery.js';
import { checkRailSensor, type SensorCheck, type SensorTable } from './rail-sensor.js';

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

/** Gauge, scan value and sensor volts of one idle. */
export function judgeSensor(
  entries: readonly Entry[],
  table: SensorTable = [],
): (SensorCheck & { readonly from: readonly string[] }) | undefined {
  const gauge = newestNumber(entries, 'pressure', 'rail', 'idle');
  const scan = newestNumber(entries, 'scan', 'actual_pressure', 'idle');
  const volts = newestNumber(entries, 'scan', 'sensor_volts', 'idle');
  if (!gauge || !scan || !volts) return undefined;
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
