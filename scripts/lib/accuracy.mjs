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
export const BURNT = new Set(['locked-notch', 'burnt-bars', 'dead-stretch']);
const BURNT_FAULTS = new Set(['burnt-bar', 'dead-segment']);
const SEEDS = 300;

/** Counts by item, with a line for each miss. */
export class Scoreboard {
  /** @type {Map<string, [number, number]>} good and all */
  rows = new Map();
  /** @type {string[]} */
  missed = [];

  /**
   * @param {string} item
   * @param {boolean} ok
   * @param {string} miss
   */
  add(item, ok, miss) {
    const row = this.rows.get(item) ?? [0, 0];
    row[0] += ok ? 1 : 0;
    row[1]++;
    this.rows.set(item, row);
    if (!ok) this.missed.push(`${item}: ${miss}`);
  }

  /** For another program. */
  plain() {
    return { rows: Object.fromEntries(this.rows), missed: this.missed };
  }

  /** @param {boolean} misses */
  show(misses) {
    for (const [item, [good, all]] of this.rows) {
      say(`${item.padEnd(40)} ${`${good} / ${all}`.padStart(12)}   ${((100 * good) / all).toFixed(1)} %`);
    }
    if (misses) this.missed.sort().forEach((line) => say(`  ${line}`));
  }
}

export const near = (value, truth, share) => value !== undefined && Math.abs(value / truth - 1) <= share;
export const toldOf = ({ pattern, humps, rpm }) =>
  `${pattern} ${humps?.basis ?? '-'} ${humps?.perRevolution ?? '-'} ${Math.round(rpm ?? 0)} rpm`;
const TURNING = (fault) => !['locked', 'chopped', 'open'].includes(fault);
/** Faults in which the current breaks off or rises to its stalled level, and what is said of it. */
const BREAKS_OFF = new Set(['contact-dropout', 'stall', 'locked']);
const BREAK_CODES = new Set(['interrupted', 'stall', 'current-low', 'prime-then-start']);
const SOUND = new Set(['healthy', 'contact-dropout', 'stall']);

/** The stretch that the numbers stand for: the steady part, or the longest run where no level can be told. */
function windowOf({ steady, runs = [] }) {
  const longest = runs.reduce((a, b) => (!a || b.toS - b.fromS > a.toS - a.fromS ? b : a), undefined);
  return steady ?? longest;
}

/**
 * Scores the ramp analysis on drawn captures that share nothing with it.
 * @param core the core
 * @param {number} from first seed
 * @param {number} [count]
 */
export function scoreSeeds(core, from, count = SEEDS) {
  const board = new Scoreboard();
  for (let seed = from; seed < from + count; seed++) scoreDrawn(core, seed, board);
  return board;
}

/**
 * While it was fed: through a clamp that passes no steady current nothing shows when a run ends, nor do dead stretches part from a short
 * head that is off. What is told of such an end is asked elsewhere.
 */
function rpmWithin(core, capture, { fromS, toS }) {
  const { runs } = capture.truth;
  return core.trueRpm(capture, Math.max(fromS, runs[0][0]), Math.min(toS, runs.at(-1)[1]));
}

function scoreDrawn(core, seed, board) {
  const capture = core.wideCapture(seed);
  const { samples, sampleRateHz, zeroStated, truth: t } = capture;
  const { ramp, findings, cannotTell } = core.analyzeRamp({ samples, zeroStated }, sampleRateHz, 0);
  const { steady, humps, rpm, rpmInterval, pattern } = ramp;
  const window = windowOf(ramp);
  const trueRpm = window && TURNING(t.fault) ? rpmWithin(core, capture, window) : t.rpm;
  const about = `seed ${seed}, ${t.fault}, ${t.bars} bars, ${Math.round(trueRpm)} rpm: ${toldOf(ramp)} (${t.instrument})`;
  if (t.turnTold) board.add('speed within 1 %', near(rpm, trueRpm, 0.01), about);
  if (humps?.basis === 'measured') {
    const isRight = near(rpm, trueRpm, 0.02);
    board.add('measured and right', isRight, about);
    // Where a start was judged to be over is a doubt of its own.
    if (isRight && steady && ramp.onsetS === undefined) {
      board.add('95 % interval of the speed covers', rpmInterval[0] <= trueRpm && trueRpm <= rpmInterval[1], about);
    }
  }
  if (steady && t.fault !== 'open' && t.fault !== 'chopped') {
    const mean = meanWithin(capture, steady);
    const off = Math.abs(steady.meanA - mean);
    const numbers = `${about} ${steady.meanA} / ${mean}`;
    if (t.zeroTold) {
      board.add('mean within 1 % and the clamp’s drift', off <= 0.01 * mean + t.driftA, numbers);
      board.add('direction of the clamp', ramp.inverted === t.inverted, about);
    } else if (!t.acCoupled && ramp.zeroOffsetA !== undefined) {
      // What rests before a run is its zero; what comes after one may be a pump that still coasts.
      board.add('a zero told by the end alone is one', off <= WRONG_ZERO * mean + t.driftA, numbers);
    }
  }
  const rippleA = steady && STEADY_PATTERN.has(t.fault) ? core.trueRippleA(capture, steady.fromS, steady.toS) : NaN;
  const passes = t.bandwidthHz > CORNERS * (trueRpm / 60) * (t.bars % 2 ? 2 : 1) * t.bars;
  if (rippleA > 0 && passes && !t.acCoupled && t.stepA < COARSE * rippleA && t.noiseA < NOISY * rippleA) {
    board.add('ripple within 10 %', near(steady.rippleA, rippleA, 0.1), `${about} ${steady.rippleA} / ${rippleA}`);
  }
  if (t.zeroTold && steady && t.fault === 'chopped') {
    const mean = meanOfCycles(capture);
    const isRight = Number.isNaN(mean) || Math.abs(steady.meanA - mean) <= 0.01 * mean + t.driftA;
    board.add('mean of a chopped one within 1 % and the drift', isRight, `${about} ${steady.meanA} / ${mean}`);
  }
  const saysCoupled = cannotTell.some(({ because }) => because.includes('AC-coupled'));
  if (t.acCoupled && TURNING(t.fault)) board.add('AC coupling told, or no level given', saysCoupled || !steady, about);
  if (t.acCoupled && t.fault !== 'open') {
    const isAsked = findings.some(({ code }) => ASKS_FOR_LEVEL.has(code));
    const isRight = !steady || isAsked || near(steady.meanA, meanWithin(capture, steady), WRONG_ZERO);
    board.add('no wrong level through an AC-coupled clamp', isRight, about);
  }
  if (!t.acCoupled) board.add('steady current not called AC-coupled', !saysCoupled, about);
  if (t.fault === 'open') board.add('open is no current', pattern === 'no-current', about);
  if (t.fault === 'stall')
    board.add(
      'stall told',
      findings.some(({ code }) => code === 'stall'),
      about,
    );
  if (!t.acCoupled && t.runs.length === 1 && !BREAKS_OFF.has(t.fault))
    board.add('no break or stall invented', !findings.some(({ code }) => BREAK_CODES.has(code)), about);
  if (BURNT_FAULTS.has(t.fault) && t.turnTold) board.add('burnt called so', BURNT.has(pattern), about);
  if (SOUND.has(t.fault)) board.add('sound not called burnt', !BURNT.has(pattern), about);
  board.add('chopped called so, nothing else', (t.fault === 'chopped') === (pattern === 'pulsed'), about);
}

/** What has a pattern that comes back; a bounce at random is in as many turns as it happens to be. */
const STEADY_PATTERN = new Set(['healthy', 'burnt-bar', 'dead-segment']);
/** Of the mean. */
const WRONG_ZERO = 0.05;
/** Findings that ask for the clamp's zero or its scale before anybody goes by the level. */
const ASKS_FOR_LEVEL = new Set(['level-doubtful', 'scale-small', 'scale-large']);
/** Of the ripple: a recorder's step, or noise, beyond which nobody can tell it to a tenth. */
const COARSE = 0.2;
const NOISY = 0.1;
/** Harmonics of the humps that clamp and recorder have to pass, or they round off a tenth of them. */
const CORNERS = 4;

/** So long after it was switched on the longest run is beyond its start, s; of fewer cycles no mean is taken. */
const BEYOND_START_S = 0.15;
const FEWEST_CYCLES = 3;

/** True mean between two times, A. */
function meanWithin({ sampleRateHz, truth: { currentA } }, { fromS, toS }) {
  const part = currentA.subarray(Math.round(fromS * sampleRateHz), Math.round(toS * sampleRateHz));
  return part.reduce((sum, value) => sum + value, 0) / part.length;
}

/** True mean of the last whole cycles of a driver's longest run, A; NaN where there are too few. */
function meanOfCycles({ sampleRateHz, truth: { runs, currentA, chopHz } }) {
  const [from, to] = runs.reduce((a, b) => (b[1] - b[0] > a[1] - a[0] ? b : a));
  const cycles = Math.floor((to - from - BEYOND_START_S) * chopHz);
  if (cycles < FEWEST_CYCLES) return NaN;
  const end = Math.round(to * sampleRateHz);
  const part = currentA.subarray(end - Math.round((cycles / chopHz) * sampleRateHz), end);
  return part.reduce((sum, value) => sum + value, 0) / part.length;
}

/**
 * Scores the ramp analysis on a folder of captures with a truth.json, as a technician would have used it: told roles and
 * scales, a zero where the clamp was zeroed, bars where known, never a reversal.
 * @param groups letters of the groups to score
 */
export function scoreFolder(core, folder, groups) {
  const { captures } = JSON.parse(readFileSync(join(folder, 'truth.json'), 'utf8'));
  const board = new Scoreboard();
  for (const { file, hints, truth: t } of captures.filter(({ group }) => groups.includes(group))) {
    const { ramp = {} } = analyze(core, join(folder, file), hints);
    const { steady, humps, rpm, rpmInterval, pattern } = ramp;
    const about = `${file}, ${t.fault}, ${t.n_bars} bars, ${Math.round(t.rpm)} rpm: ${toldOf(ramp)}`;
    if (t.rev_identifiable) board.add('speed within 1 %', near(rpm, t.rpm, 0.01), about);
    if (t.mean_identifiable && t.mean_A > 0.05) {
      const off = Math.abs((steady?.meanA ?? NaN) - t.mean_A);
      const numbers = `${about} ${steady?.meanA} / ${t.mean_A}`;
      board.add('mean within 1 %', off <= Math.max(0.01 * t.mean_A, t.mean_floor_A), numbers);
      board.add('no mean of wrong sign or size', !(off > 0.2 * t.mean_A), numbers);
    }
    if (t.ripple_identifiable && !t.ripple_disturbed) {
      const numbers = `${about} ${steady?.ripplePercent} / ${t.ripple_pct}`;
      board.add('ripple within 10 %', near(steady?.ripplePercent, t.ripple_pct, 0.1), numbers);
    }
    if (humps?.basis === 'measured' && t.rpm) {
      board.add('measured and right', near(rpm, t.rpm, 0.02), about);
      if (near(rpm, t.rpm, 0.02)) {
        board.add('95 % interval of the speed covers', rpmInterval[0] <= t.rpm && t.rpm <= rpmInterval[1], about);
      }
    }
    if (BURNT_FAULTS.has(t.fault) && t.rev_identifiable) board.add('burnt called so', BURNT.has(pattern), about);
    if (t.class === 'healthy') board.add('sound not called burnt', !BURNT.has(pattern), about);
  }
  return board;
}

function analyze(core, path, hints) {
  const options = hints.sample_rate_hz ? { rateHz: hints.sample_rate_hz } : {};
  const capture = core.readCapture(path, readFileSync(path), options);
  const fullScale = path.endsWith('.wav') ? WAV_FULL_SCALE : 1;
  const named = capture.channels.slice(capture.channels.length - hints.channels.length);
  const setups = hints.channels.map(({ role, scale_to_si: scale, offset_to_si: offset }, i) => {
    const isCurrent = role === 'pump_current';
    const zeroA = isCurrent && hints.zero_reading_A !== null ? hints.zero_reading_A : -offset;
    const isTold = zeroA !== 0 || (isCurrent && hints.clamp_zero === 'zeroed');
    const setup = { role: ROLES[role] ?? 'other', factor: scale * (KILOPASCAL[role] ?? 1) * fullScale };
    return [named[i].name, { ...setup, ...(isTold && { zero: zeroA / scale / fullScale }) }];
  });
  const bars = hints.n_bars ? { bars: hints.n_bars } : {};
  return core.analyzeCapture(path, capture, { setups: Object.fromEntries(setups), ...bars });
}
