import { BURNT, near, Scoreboard, toldOf } from './accuracy.mjs';

const SEEDS = 100;

/**
 * Scores the ramp analysis on motors that are solved as circuits: their humps and notches are nobody's drawing.
 * @param core the core
 * @param {number} from first seed
 * @param {number} [count]
 */
export function scoreWound(core, from, count = SEEDS) {
  const board = new Scoreboard();
  for (let seed = from; seed < from + count; seed++) score(core, seed, board);
  return board;
}

function score(core, seed, board) {
  const capture = core.woundCapture(seed);
  const { samples, sampleRateHz, truth: t } = capture;
  const { ramp } = core.analyzeRamp({ samples, zeroStated: false }, sampleRateHz, 0);
  const { steady, humps, rpm, pattern } = ramp;
  const { fromS, toS } = steady;
  const trueRpm = core.trueRpm(capture, fromS, toS);
  const part = t.currentA.subarray(Math.round(fromS * sampleRateHz), Math.round(toS * sampleRateHz));
  const meanA = part.reduce((sum, value) => sum + value, 0) / part.length;
  const about = `seed ${seed}, ${t.fault}, ${t.bars} bars, ${Math.round(trueRpm)} rpm: ${toldOf(ramp)}, ${steady.meanA} / ${meanA} A, ripple ${steady.ripplePercent} % (${sampleRateHz / 1e3} kS/s)`;
  board.add('mean within 1 %', near(steady.meanA, meanA, 0.01), about);
  if (humps?.basis === 'measured') board.add('measured and right', near(rpm, trueRpm, 0.01), about);
  if (rpm !== undefined) board.add('speed within 1 %, measured or assumed', near(rpm, trueRpm, 0.01), about);
  if (t.fault === 'sound') board.add('sound not called burnt', !BURNT.has(pattern), about);
  if (t.fault === 'open-coil') {
    board.add('open coil called so', BURNT.has(pattern), about);
    board.add('open coil not called even', pattern !== 'even', about);
  }
}
