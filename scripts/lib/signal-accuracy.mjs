import { Scoreboard } from './accuracy.mjs';

/** Of gradual events, and of sharp ones beside two samples, s. */
const GRADUAL_S = 0.1;
const SHARP_S = 0.005;
const SEEDS = 200;
/** An hour takes as long as some dozen of the others. */
const SEEDS_AN_HOUR = 15;

/**
 * Scores pulses, drive, source and sequence on drawn records that share nothing with them.
 * @param core the core
 * @param {number} from first seed
 * @param {number} [count] of either kind
 */
export function scoreSignals(core, from, count = SEEDS) {
  const board = new Scoreboard();
  for (let seed = from; seed < from + count; seed++) {
    scoreDrive(core, seed, board, core.driveRecord(seed), '');
    scoreDrive(core, seed, board, core.keyedDriveRecord(seed), ', key off and on');
    scoreIntermittent(core, seed, board);
    scoreClampAlone(core, seed, board);
    scoreFeed(core, seed, board);
    scoreCrank(core, seed, board);
    scoreAmidStart(core, seed, board);
    if ((seed - from) % SEEDS_AN_HOUR === 0) scoreHour(core, seed, board);
  }
  return board;
}

function analyze(core, sampleRateHz, columns) {
  const recorded = columns.filter(({ samples }) => samples);
  const channels = recorded.map(({ role, unit, samples }) => ({ name: role, unit, fileFactor: 1, samples }));
  const setups = Object.fromEntries(
    recorded.map(({ role, zeroStated }) => [role, { role, ...(zeroStated && { zero: 0 }) }]),
  );
  return core.analyzeCapture('drawn', { sampleRateHz, startS: 0, channels, notes: [] }, { setups });
}

function scoreDrive(core, seed, board, { sampleRateHz, commandV, outputV, supplyV, truth: t }, how) {
  const { pulses, drive } = analyze(core, sampleRateHz, [
    { role: 'command_signal', unit: 'V', samples: commandV },
    { role: 'module_output_voltage', unit: 'V', samples: outputV },
    { role: 'module_supply_voltage', unit: 'V', samples: supplyV },
  ]);
  const note = `${seed} ${t.fault} ${t.instrument}`;
  for (const [name, truth] of [
    ['command_signal', t.command],
    ['module_output_voltage', t.output],
  ]) {
    const line = pulses[name];
    // Few pulses leave it open which of them are whole; a clock that keeps step with the recorder gives a wider interval.
    const [least, most] = line.usualDutyInterval ?? [line.dutyPercent, line.dutyPercent];
    const open = Math.max(line.cycles > 0 ? (100 / line.cycles) * 0.5 : 0, (most - least) / 2);
    const away = Math.abs(line.dutyPercent - truth.dutyPercent);
    const dutyNote = `${line.dutyPercent} / ${truth.dutyPercent} ${note} ${name}`;
    board.add(`duty within 0.3 points or its interval${how}`, away <= Math.max(0.3, open), dutyNote);
    const hz = truth.frequencyHz;
    const near = Math.abs(line.frequencyHz - hz) <= 0.001 * hz;
    board.add(`frequency within 0.1 %${how}`, near, `${line.frequencyHz} / ${hz} ${note}`);
    const starts = truth.missing.length;
    board.add(`as many pulses missing${how}`, line.missing === starts, `${line.missing} / ${starts} ${note} ${name}`);
    board.add(`no pulse too many${how}`, !line.extra, `${line.extra} ${note}`);
    if (line.frequencyInterval) {
      const [low, high] = line.frequencyInterval;
      board.add(
        `95 % interval of the frequency covers${how}`,
        low <= hz && hz <= high,
        `${low} to ${high} / ${hz} ${note}`,
      );
    }
  }
  if (t.causeTold)
    board.add(`cause of the drive${how}`, drive.cause === t.cause, `${drive.cause} (${drive.because}) ${note}`);
  else board.add(`untold cause not invented${how}`, drive.cause !== 'upstream', `${drive.cause} ${note}`);
}

function scoreIntermittent(core, seed, board) {
  const { sampleRateHz, feedV, currentA, groundV, pressurePa, truth: t } = core.intermittentRecord(seed);
  const { sequence, source, ramp } = analyze(core, sampleRateHz, [
    { role: 'pump_feed_voltage', unit: 'V', samples: feedV },
    { role: 'pump_current', unit: 'A', samples: currentA },
    { role: 'pump_ground_voltage', unit: 'V', samples: groundV },
    { role: 'rail_pressure', unit: 'Pa', samples: pressurePa },
  ]);
  const seen = sequence.incidents.map(({ startS, endS, cause }) => `${startS.toFixed(3)}-${endS?.toFixed(3)} ${cause}`);
  const note = `${seed} ${t.fault} ${t.instrument} [${t.incidents.map((i) => i.map((x) => x.toFixed(3)).join('-'))}] got ${seen}`;
  if (t.fault === 'healthy') board.add('no incident invented', sequence.events.length === 0, note);
  else {
    board.add('no incident too many', sequence.incidents.length <= t.incidents.length, note);
    if (t.causeTold) board.add('cause of the incidents', sequence.cause === t.cause, `${sequence.cause} ${note}`);
  }
  if (t.fault !== 'clog') {
    const reach = t.isSharp ? Math.max(2 / sampleRateHz, SHARP_S) : GRADUAL_S;
    const item = t.isSharp ? 'times of sharp incidents' : 'times of gradual incidents';
    const found = (kind, at) => sequence.events.some((e) => e.kind === kind && Math.abs(e.timeS - at) <= reach);
    for (const [from, to] of t.incidents) {
      board.add(item, found('dropout-start', from), `start ${from.toFixed(4)} ${note}`);
      board.add(item, found('dropout-end', to), `end ${to.toFixed(4)} ${note}`);
    }
  }
  if (t.sagTold) {
    const ohm = source?.resistanceOhm;
    board.add('source resistance told', ohm !== undefined, `${t.sourceOhm} ${note}`);
    if (ohm !== undefined) {
      const near = Math.abs(ohm / t.sourceOhm - 1) <= 0.1;
      board.add('source resistance within 10 %', near, `${ohm.toFixed(3)} / ${t.sourceOhm.toFixed(3)} ${note}`);
      const [low, high] = source.interval;
      board.add(
        '95 % interval of it covers',
        low <= t.sourceOhm && t.sourceOhm <= high,
        `${source.interval} / ${t.sourceOhm} ${note}`,
      );
    }
  }
  if (ramp.humps?.basis === 'measured') {
    const rpm = t.rpm(ramp.steady.fromS, ramp.steady.toS);
    board.add('measured speed right', Math.abs(ramp.rpm / rpm - 1) < 0.02, `${ramp.rpm} / ${rpm} ${note}`);
  }
  board.add('draw measured', ramp.steady !== undefined, `${ramp.pattern} ${note}`);
}

/** The same by its clamp alone, with nothing off to see: what falters is no zero, and no input that forgets. */
function scoreClampAlone(core, seed, board) {
  const { sampleRateHz, currentA, flowsA, truth: t } = core.intermittentRecord(seed);
  const { ramp, cannotTell } = analyze(core, sampleRateHz, [
    { role: 'pump_current', unit: 'A', samples: currentA, zeroStated: t.clamp.isZeroed },
  ]);
  const note = `${seed} ${t.fault} ${t.instrument} [${t.incidents.map((i) => i.map((x) => x.toFixed(3)).join('-'))}]`;
  const { steady, pattern } = ramp;
  const says = cannotTell.find(({ what }) => what === 'steady')?.because ?? '';
  board.add('a clamp alone tells the draw', steady !== undefined, `${pattern} ${says} ${note}`);
  if (!steady) return;
  if (ramp.humps?.basis === 'measured') {
    const rpm = t.rpm(steady.fromS, steady.toS);
    board.add(
      'measured speed right by a clamp alone',
      Math.abs(ramp.rpm / rpm - 1) < 0.02,
      `${ramp.rpm} / ${rpm} ${note}`,
    );
  }
  board.add('direction of a clamp alone', ramp.inverted === t.clamp.isBackwards, note);
  if (t.fault !== 'burnt-bars')
    board.add('no notch by a clamp alone', NO_NOTCH_ALONE.includes(pattern), `${pattern} ${note}`);
  if (!t.clamp.isZeroed) return;
  const [first, end] = [steady.fromS, steady.toS].map((seconds) => Math.round(seconds * sampleRateHz));
  const mean = flowsA.subarray(first, end).reduce((sum, value) => sum + value, 0) / (end - first);
  const near = Math.abs(steady.meanA - mean) <= Math.max(0.01 * mean, t.clamp.stepA / 2);
  board.add('mean by a clamp alone', near, `${steady.meanA} / ${mean} ${note}`);
}

/** What may be said of a pump whose feed stays sound. */
const FEED_IS_SOUND = {
  healthy: ['none'],
  chopped: ['none'],
  open: ['none'],
  locked: ['none'],
  'burnt-bar': ['none', 'pump'],
  'dead-segment': ['none', 'pump'],
  'brush-bounce': ['none', 'pump'],
  stall: ['none', 'pump'],
};
/** Fewer pulses than this may as well be a relay that chatters. */
const FEWEST_PULSES = 8;

/** Starts, stops and stalls by volts and current, and by volts alone. */
function scoreFeed(core, seed, board) {
  const { capture, feedV, truth } = core.wideFeed(seed);
  const { samples, sampleRateHz, zeroStated, truth: t } = capture;
  const volts = { role: 'pump_feed_voltage', unit: 'V', samples: feedV };
  const amperes = { role: 'pump_current', unit: 'A', samples, zeroStated };
  const { sequence, source } = analyze(core, sampleRateHz, [volts, amperes]);
  const alone = analyze(core, sampleRateHz, [volts]).sequence;
  const [seen, seenAlone] = [sequence, alone].map(({ incidents }) =>
    incidents.map(({ startS, endS, cause }) => `${startS.toFixed(3)}-${endS?.toFixed(3)} ${cause}`),
  );
  const runs = t.runs.map((run) => run.map((x) => x.toFixed(3)).join('-'));
  const note = `${seed} ${t.fault} ${truth.instrument} [${runs}] got ${seen} alone ${seenAlone}`;
  const may = FEED_IS_SOUND[t.fault];
  if (!may) {
    board.add('interrupted feed blamed beside a start', sequence.cause === 'upstream', note);
    board.add('interrupted feed blamed by volts alone', alone.cause === 'upstream', note);
    const reach = Math.max(2 / sampleRateHz, SHARP_S);
    const found = (kind, at) => sequence.events.some((e) => e.kind === kind && Math.abs(e.timeS - at) <= reach);
    board.add('times of interruptions beside a start', found('dropout-start', t.runs[0][1]), `start ${note}`);
    board.add('times of interruptions beside a start', found('dropout-end', t.runs[1][0]), `end ${note}`);
  } else if (!truth.feedSwitches || t.chopHz * (t.runs[0][1] - t.runs[0][0]) > FEWEST_PULSES) {
    board.add('sound feed not blamed beside a start', may.includes(sequence.cause), note);
    board.add('sound feed not blamed by volts alone', !alone.incidents.some((i) => i.cause === 'upstream'), note);
  }
  if (t.fault === 'stall' && !t.acCoupled) board.add('stall told beside a start', sequence.cause === 'pump', note);
  const ohm = source?.resistanceOhm;
  if (truth.sagOverNoise > 5 && !t.acCoupled && !truth.feedSwitches && t.fault !== 'locked')
    board.add('source resistance told beside a start', ohm !== undefined, note);
  if (ohm !== undefined) {
    const near = Math.abs(ohm / truth.sourceOhm - 1) <= 0.1;
    const told = `${ohm.toFixed(3)} / ${truth.sourceOhm.toFixed(3)} ${note}`;
    board.add('source resistance within 10 % beside a start', near, told);
  }
}

/** What a pump may be called that doesn't come back to its notch at every turn. */
const NO_NOTCH = ['even', 'irregular'];
/** Contacts that open at random are seen as such. */
const NO_NOTCH_ALONE = [...NO_NOTCH, 'brush-bounce', 'random-dropouts'];
const CAUSES = { 'contact-open': 'upstream', 'brush-open': 'pump', bind: 'pump' };
/** Of a switch-on or off, and of what is found around an incident, s. */
const SWITCH_S = 0.01;
const AROUND_S = 0.03;

/** A prime and a start, while the starter pulls the battery down at every compression. */
function scoreCrank(core, seed, board) {
  const { sampleRateHz, currentA, feedV, batteryV, truth: t } = core.crankRecord(seed);
  const { ramp, sequence, source } = analyze(core, sampleRateHz, [
    { role: 'pump_current', unit: 'A', samples: currentA },
    { role: 'pump_feed_voltage', unit: 'V', samples: feedV },
    { role: 'battery_voltage', unit: 'V', samples: batteryV },
  ]);
  const spans = (all) => all.map((one) => one.map((x) => x?.toFixed(2)).join('-')).join(' ');
  const runs = ramp.runs ?? [];
  const seen = `${runs.map((one) => `${spans([[one.fromS, one.toS]])} ${one.pattern}`)}; ${sequence?.incidents.map(({ startS, endS, cause }) => `${spans([[startS, endS]])} ${cause}`) ?? ''}`;
  const note = `${seed} ${t.fault} ${t.instrument} [${spans(t.runs)}] crank ${spans([t.crank])} ${t.incident ? spans([t.incident]) : ''} got ${ramp.pattern} ${seen}`;
  const burnt = t.fault === 'burnt-bars';
  if (!burnt) board.add('no notch in a start', NO_NOTCH.includes(ramp.pattern), note);
  else if (ramp.humps) board.add('burnt called so beside a start', !NO_NOTCH.includes(ramp.pattern), note);
  const near = (a, b) => Math.abs(a - b) < SWITCH_S;
  const [first, last] = [t.runs[0], t.runs.at(-1)];
  const switched = runs.length > 0 && near(runs[0].fromS, first[0]) && near(runs.at(-1).toS, last[1]);
  board.add('runs of a start', switched && runs.length === t.runs.length, note);
  if (ramp.steady) {
    const { fromS, toS, meanA } = ramp.steady;
    // Without noise a mean is as coarse as the recorder's step.
    const mean = t.meanA(fromS, toS);
    board.add(
      'mean beside a start',
      Math.abs(meanA - mean) < Math.max(0.01 * mean, t.stepA / 2),
      `${meanA} in ${fromS}-${toS} ${note}`,
    );
    if (ramp.humps?.basis === 'measured') {
      const right = Math.abs(ramp.rpm / t.rpm(fromS, toS) - 1) < 0.02;
      board.add('measured speed right beside a start', right, `${ramp.rpm} / ${t.rpm(fromS, toS)} ${note}`);
    }
  }
  if (!sequence) return;
  const isOf = ({ startS, endS = Infinity }) =>
    t.incident && startS > t.incident[0] - AROUND_S && startS < t.incident[1] && endS > t.incident[0];
  board.add('nothing else told of a start', sequence.incidents.every(isOf), note);
  const cause = CAUSES[t.fault];
  if (cause)
    board.add(
      'cause told beside a start',
      sequence.incidents.some((one) => isOf(one) && one.cause === cause),
      note,
    );
  if (source?.resistanceOhm !== undefined) {
    const right = Math.abs(source.resistanceOhm / t.sourceOhm - 1) <= 0.1;
    board.add('source within 10 % beside a crank', right, `${source.resistanceOhm} / ${t.sourceOhm} ${note}`);
  }
}

/** Hours in which nothing happens. */
function scoreHour(core, seed, board) {
  const { sampleRateHz, feedV, groundV, currentA, railPa, instrument } = core.soundHour(seed);
  const { sequence } = analyze(core, sampleRateHz, [
    { role: 'pump_feed_voltage', unit: 'V', samples: feedV },
    { role: 'pump_ground_voltage', unit: 'V', samples: groundV },
    { role: 'pump_current', unit: 'A', samples: currentA },
    { role: 'rail_pressure', unit: 'Pa', samples: railPa },
  ]);
  const { events, cause } = sequence;
  const note = `${events.length} events, ${cause} ${seed} ${instrument}`;
  board.add('no event in a sound hour', events.length === 0 && cause === 'none', note);
}

/** A recorder that was started too late, and a run that begins as the starter lets go, s. */
const TOO_LATE_S = { least: 0.02, most: 0.12 };
const LET_GO_S = 0.08;
const SHORTEST_S = 0.4;

/** Records that begin while a pump gathers speed, without the rise that would show it. */
function scoreAmidStart(core, seed, board) {
  const { sampleRateHz, currentA, truth: t } = core.crankRecord(seed);
  const [begins, ends] = t.runs[0];
  // By turns anywhere between the two (golden ratio).
  const late = TOO_LATE_S.least + ((seed * 0.618034) % 1) * (TOO_LATE_S.most - TOO_LATE_S.least);
  const parts = [[begins + late, t.crank[0] > begins ? Math.min(ends, t.crank[0]) : ends]];
  if (t.catches) parts.push([t.crank[1] + LET_GO_S, t.incident?.[0] ?? t.runs.at(-1)[1]]);
  for (const [from, until] of parts) {
    const [first, end] = [from, until - SWITCH_S].map((seconds) => Math.round(seconds * sampleRateHz));
    if (end - first < SHORTEST_S * sampleRateHz) continue;
    const samples = currentA.subarray(first, end);
    const { ramp } = analyze(core, sampleRateHz, [{ role: 'pump_current', unit: 'A', samples, zeroStated: true }]);
    if (ramp.humps?.basis !== 'measured') continue;
    const rpm = t.rpm(first / sampleRateHz + ramp.steady.fromS, first / sampleRateHz + ramp.steady.toS);
    const note = `${ramp.rpm} / ${rpm} ${seed} ${t.fault} ${t.instrument} from ${from.toFixed(3)} to ${until.toFixed(3)}`;
    board.add('measured speed right amid a start', Math.abs(ramp.rpm / rpm - 1) < 0.01, note);
  }
}
