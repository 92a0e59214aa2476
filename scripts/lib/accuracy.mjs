import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { say } from './shell.mjs';

/** Role names of a truth.json, in the words of the command line; Pa by how many to the file's unit. */
const ROLES = {
  pump_current: 'pump_current',
  feed_voltage: 'pump_feed_voltage',
  ground_voltage: 'pump_ground_voltage',
  rail_pressure: 'rail_pressure',
  command: 'command_signal',
  module_output: 'module_output_voltage',
};
const KILOPASCAL = { rail_pressure: 1000 };
const WAV_FULL_SCALE = 32768;
const BURNT = new Set(['locked-notch', 'burnt-bars', 'dead-stretch']);

/**
 * Scores the ramp analysis on a folder of captures with a truth.json, as a technician would have used it: told roles and
 * scales, a zero where the clamp was zeroed, bars where known, never a reversal.
 * @param core the built core
 * @param groups letters of the groups to score
 */
export function scoreFolder(core, folder, groups, { misses = false } = {}) {
  const { captures } = JSON.parse(readFileSync(join(folder, 'truth.json'), 'utf8'));
  const rows = new Map();
  const missed = [];
  const add = (item, ok, file, note = '') => {
    const row = rows.get(item) ?? [0, 0];
    row[0] += ok ? 1 : 0;
    row[1]++;
    rows.set(item, row);
    if (!ok) missed.push(`${file}  ${item}  ${note}`);
  };
  for (const entry of captures.filter(({ group }) => groups.includes(group))) {
    const { file, hints, truth: t } = entry;
    const { ramp = {} } = analyze(core, join(folder, file), hints);
    const { steady, humps, rpm, pattern } = ramp;
    const told = `${pattern} ${humps?.basis ?? '-'} ${humps?.perRevolution ?? '-'} (${t.fault}, ${t.n_bars} bars)`;
    if (t.rev_identifiable) {
      add('speed within 1 %', near(rpm, t.rpm, 0.01), file, `${Math.round(rpm ?? 0)} / ${Math.round(t.rpm)} ${told}`);
    }
    if (t.mean_identifiable && t.mean_A > 0.05) {
      const off = Math.abs((steady?.meanA ?? NaN) - t.mean_A);
      const note = `${steady?.meanA.toFixed(3)} / ${t.mean_A.toFixed(3)} ${told}`;
      add('mean within 1 %', off <= Math.max(0.01 * t.mean_A, t.mean_floor_A), file, note);
      add('no mean of wrong sign or size', !(off > 0.2 * t.mean_A), file, note);
    }
    if (t.ripple_identifiable && !t.ripple_disturbed) {
      const note = `${steady?.ripplePercent.toFixed(1)} / ${t.ripple_pct.toFixed(1)} ${told}`;
      add('ripple within 10 %', near(steady?.ripplePercent, t.ripple_pct, 0.1), file, note);
    }
    if (humps?.basis === 'measured' && t.rpm)
      add('measured and right', near(rpm, t.rpm, 0.02), file, `${Math.round(rpm)} / ${Math.round(t.rpm)} ${told}`);
    const burnt = ['burnt-bar', 'dead-segment'].includes(t.fault);
    if (burnt && t.rev_identifiable) add('burnt called so', BURNT.has(pattern), file, told);
    if (t.class === 'healthy') add('healthy not called burnt', !BURNT.has(pattern), file, told);
    if (ramp.rpmInterval && humps?.basis === 'measured' && near(rpm, t.rpm, 0.02)) {
      add('95 % interval of the speed covers', ramp.rpmInterval[0] <= t.rpm && t.rpm <= ramp.rpmInterval[1], file);
    }
  }
  for (const [item, [good, all]] of rows)
    say(`${item.padEnd(40)} ${`${good} / ${all}`.padStart(12)}   ${((100 * good) / all).toFixed(1)} %`);
  if (misses) missed.sort().forEach((line) => say(`  ${line}`));
}

function near(value, truth, share) {
  return value !== undefined && Math.abs(value / truth - 1) <= share;
}

function analyze(core, path, hints) {
  const wav = path.endsWith('.wav');
  const options = hints.sample_rate_hz ? { rateHz: hints.sample_rate_hz } : {};
  const capture = core.readCapture(path, readFileSync(path), options);
  const setups = {};
  hints.channels.forEach((channel, i) => {
    const full = wav ? WAV_FULL_SCALE : 1;
    const factor = channel.scale_to_si * (KILOPASCAL[channel.role] ?? 1) * full;
    const zeroOf = (offset) => -offset / channel.scale_to_si / full;
    const current = channel.role === 'pump_current';
    const stated = current && hints.zero_reading_A !== null ? -hints.zero_reading_A : channel.offset_to_si;
    const told = stated !== 0 || (current && hints.clamp_zero === 'zeroed');
    setups[capture.channels[i + (capture.channels.length - hints.channels.length)].name] = {
      role: ROLES[channel.role] ?? 'other',
      ...(Math.abs(factor - 1) > 1e-12 && { factor }),
      ...(told && { zero: zeroOf(stated) }),
    };
  });
  return core.analyzeCapture(path, capture, { setups, ...(hints.n_bars && { bars: hints.n_bars }) });
}
