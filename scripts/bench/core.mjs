import { createRequire } from 'node:module';
import {
  analyzeCapture,
  analyzeRamp,
  asRecord,
  csvBlocks,
  diagnose,
  driveRecord,
  intermittentRecord,
  readCsv,
  signalOf,
  simulateCapture,
  templateProfile,
} from '@jarro/core';
import { crankingAnalyser } from '../../packages/core/dist/measure/cranking/cranking-analyser.js';
import { sequenceAnalyser } from '../../packages/core/dist/measure/sequence/sequence-analyser.js';

const require = createRequire(new URL('../../packages/core/package.json', import.meta.url));
const Papa = require('papaparse');
const FFT = require('fft.js');

const megabytes = (bytes) => `${(bytes / 2 ** 20).toFixed(0)} MiB`;

/** Best of some runs, ms. */
function time(runs, work) {
  let best = Infinity;
  for (let i = 0; i < runs; i++) {
    const start = performance.now();
    work();
    best = Math.min(best, performance.now() - start);
  }
  return best;
}

/** A capture of any length out of one simulated second, repeated where the turns meet nearly. */
function longCapture(samples, sampleRateHz) {
  const { capture } = simulateCapture({ sampleRateHz, durationS: 2, barSpread: 0.03 });
  const source = capture.channels[0].samples;
  const steady = source.subarray(Math.floor(source.length / 2));
  const out = new Float32Array(samples);
  out.set(source.subarray(0, Math.min(source.length, samples)));
  for (let at = source.length; at < samples; at += steady.length) {
    out.set(steady.subarray(0, Math.min(steady.length, samples - at)), at);
  }
  return { name: 'clamp', unit: 'A', fileFactor: 1, samples: out, role: 'pump_current', zeroStated: false };
}

const RATE_HZ = 500_000;

/** What the core does with whole records and with a case. @param {import('./table.mjs').Table} table */
export function benchCore(table) {
  const ten = longCapture(10_000_000, RATE_HZ);
  analyzeRamp(ten, RATE_HZ, 0);
  const before = process.memoryUsage();
  let peak = 0;
  const full = time(3, () => {
    analyzeRamp(ten, RATE_HZ, 0);
    const { heapUsed, arrayBuffers } = process.memoryUsage();
    peak = Math.max(peak, heapUsed + arrayBuffers - before.heapUsed - before.arrayBuffers);
  });
  table.time('ramp analysis, 10 million samples', full, 1000);
  const samplesBytes = 40_000_000;
  table.row(
    '  memory beside the samples',
    megabytes(Math.max(0, peak)),
    `at most 3x ${megabytes(samplesBytes)}`,
    peak <= 3 * samplesBytes,
  );
  const five = { ...ten, samples: ten.samples.slice(0, 5_000_000) };
  const half = time(3, () => analyzeRamp(five, RATE_HZ, 0));
  table.row('  growth from 5 to 10 million', `${(full / half).toFixed(2)}x`, 'linear is 2', full / half < 2.5);
  const slow = longCapture(10_000_000, 10_000);
  table.time(
    'the same at 10 kS/s, 1000 s',
    time(2, () => analyzeRamp(slow, 10_000, 0)),
    1000,
  );
  // Off for a third of it: what is asked of every block that rests must not be asked of the whole record each time.
  const resting = { samples: slow.samples.slice(), zeroStated: true };
  resting.samples.fill(0, 0, 3_000_000);
  table.time(
    'the same with its zero stated, off for 300 s',
    time(2, () => analyzeRamp(resting, 10_000, 0)),
    1000,
  );
  const plainFft = time(1, () => naive(ten.samples));
  table.row(
    '  naive autocorrelation (one FFT, no speed or bars)',
    `${plainFft.toFixed(0)} ms, ${(plainFft / full).toFixed(1)}x ours`,
    'at least 2x',
    plainFft >= 2 * full,
  );

  benchSignals(table);

  const { capture } = simulateCapture({ sampleRateHz: 500_000, durationS: 2, voltages: true });
  const csv = Buffer.concat([...csvBlocks(capture)]);
  const ours = time(3, () => readCsv(csv));
  const plain = time(2, () => plainPapa(csv));
  table.row('CSV, 3 channels, 1 million rows', `${ours.toFixed(0)} ms`);
  table.row(
    '  plain papaparse and Number',
    `${plain.toFixed(0)} ms, ${(plain / ours).toFixed(1)}x ours`,
    'at least 1.5x',
    plain >= 1.5 * ours,
  );

  const profile = templateProfile('P4');
  const sixty = readings(profile, 60);
  const first = time(1, () => diagnose(profile, sixty));
  const again = time(20, () => diagnose(profile, [...sixty.slice(0, -1), reading(profile.stations[0].id, 12.31)]));
  table.row('posterior, plan and gates, 60 readings, the first time', `${first.toFixed(0)} ms`);
  table.time('  after one more reading', again, 50);
}

/** Hours of four channels, and ten seconds of three fast ones. */
function benchSignals(table) {
  const faltering = intermittentRecord(11);
  const hour = captureOf(2000, 7_200_000, {
    pump_feed_voltage: ['V', faltering.feedV],
    pump_ground_voltage: ['V', faltering.feedV.map((value) => 0.01 * value)],
    pump_current: ['A', faltering.currentA],
    rail_pressure: ['Pa', faltering.feedV.map((value) => 30_000 * value)],
  });
  table.time(
    'events, one hour of 4 channels at 2 kS/s',
    time(2, () => eventsOf(hour)),
    2000,
  );
  table.time(
    '  everything of the same, the draw of every run too',
    time(2, () => analyzeCapture('hour', hour.capture, { setups: hour.setups })),
    4000,
  );
  const half = captureOf(2000, 3_600_000, hour.columns);
  const [long, short] = [hour, half].map(({ capture, setups }) =>
    time(2, () => analyzeCapture('hour', capture, { setups })),
  );
  table.row('  growth from half an hour to one', `${(long / short).toFixed(2)}x`, 'linear is 2', long / short < 2.5);
  const drive = driveRecord(4);
  const fast = captureOf(RATE_HZ, 5_000_000, {
    command_signal: ['V', drive.commandV],
    module_output_voltage: ['V', drive.outputV],
    pump_current: ['A', longCapture(5_000_000, RATE_HZ).samples],
  });
  table.time(
    'everything, 10 s of 3 channels at 500 kS/s',
    time(2, () => analyzeCapture('fast', fast.capture, { setups: fast.setups })),
    3000,
  );
}

/** When an engine was cranked, what fell, when, and from which side: nothing else of a record. */
function eventsOf({ capture, setups }) {
  const { sampleRateHz, startS } = capture;
  const signals = Object.fromEntries(
    asRecord(capture).channels.map((channel) => [channel.name, signalOf(channel, setups[channel.name])]),
  );
  const material = { signals, sampleRateHz, startS, disturbed: [], cranks: [] };
  const { cranks } = crankingAnalyser.measure(material);
  return sequenceAnalyser.measure({ ...material, cranks });
}

/** Columns by role, each repeated to the length asked for. */
function captureOf(sampleRateHz, length, columns) {
  const channels = Object.entries(columns).map(([name, [unit, part]]) => {
    const samples = new Float32Array(length);
    for (let at = 0; at < length; at += part.length)
      samples.set(part.subarray(0, Math.min(part.length, length - at)), at);
    return { name, unit, fileFactor: 1, samples };
  });
  const setups = Object.fromEntries(Object.keys(columns).map((role) => [role, { role }]));
  return { columns, setups, capture: { sampleRateHz, startS: 0, channels, notes: [] } };
}

/** Volts all along a path that loses some at its module's supply pin, in three key states. */
function readings({ stations }, count) {
  const states = ['prime', 'idle', 'loaded'];
  return Array.from({ length: count }, (_, i) => {
    const station = i % stations.length;
    const feed = station < 4 ? 12.3 : station < 8 ? 11.2 : 0.1;
    return reading(stations[station].id, feed + 0.01 * i, states[Math.floor(i / stations.length) % 3], `r${i}`);
  });
}

function reading(at, value, keyState = 'prime', id = 'new') {
  return { id, kind: 'voltage', at, value, keyState, faultPresent: true, reference: 'battery-' };
}

function naive(samples) {
  const size = 2 ** Math.ceil(Math.log2(samples.length * 2));
  const fft = new FFT(size);
  const input = new Float64Array(size);
  input.set(samples);
  const spectrum = new Float64Array(size * 2);
  fft.realTransform(spectrum, input);
  fft.completeSpectrum(spectrum);
  for (let i = 0; i < size; i++) {
    spectrum[2 * i] = spectrum[2 * i] ** 2 + spectrum[2 * i + 1] ** 2;
    spectrum[2 * i + 1] = 0;
  }
  const correlation = new Float64Array(size * 2);
  fft.inverseTransform(correlation, spectrum);
  return correlation;
}

function plainPapa(bytes) {
  const { data } = Papa.parse(bytes.toString('utf8'), { skipEmptyLines: true });
  const columns = data[0].map(() => new Float32Array(data.length - 1));
  for (let i = 1; i < data.length; i++) data[i].forEach((cell, c) => (columns[c][i - 1] = Number(cell)));
  return columns;
}
