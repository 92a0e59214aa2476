import { analyzeRamp } from '../src/measure/current/analyze-ramp.js';
import { coherenceOf } from '../src/measure/current/coherence.js';
import { humpsForBars } from '../src/measure/current/commutators.js';
import { simulateCapture } from '../src/simulate/capture-spec.js';
import { seededRandom } from '../src/signal/random.js';
import { levels } from '../src/signal/levels.js';
import { intermittentRecord } from '../src/simulate/wide-intermittent.js';
import { trueRpm, wideCapture } from '../src/simulate/wide-capture.js';
import { asChannel, draw } from './support/drawn-capture.js';

const BURNT = ['locked-notch', 'burnt-bars', 'dead-stretch'];

describe('one record, one defect', () => {
  it('takes no top of a notched current for its zero, with nothing off to see and the zero stated or not', () => {
    const notched = draw({ onS: 0, burnt: [{ bar: 1, depth: 0.95 }, { bar: 2, depth: 0.9 }], rpm: 5200 }); // prettier-ignore
    for (const zeroStated of [false, true]) {
      const { ramp } = analyzeRamp({ ...notched.channel, zeroStated }, 50_000, 0);
      expect(ramp.inverted).toBe(false);
      const mean = notched.trueA.reduce((sum, value) => sum + value, 0) / notched.trueA.length;
      expect(ramp.steady!.meanA / mean).toBeCloseTo(1, 1);
      expect(BURNT).toContain(ramp.pattern);
    }
  });

  it('makes no turn of an alternator’s ripple beside the humps', () => {
    // At 2.57 of the humps' rate, and near other whole ratios: each was read as a turn of its own, and called measured.
    const speeds = [93_414, 93_168, 93_003, 93_078, 93_113, 93_196, 93_249, 93_275].map((seed) => {
      const { currentA, sampleRateHz, truth } = intermittentRecord(seed);
      const { rpm = NaN, humps, steady } = analyzeRamp(asChannel(currentA), sampleRateHz, 0).ramp;
      const isRight = Math.abs(rpm / truth.rpm(steady!.fromS, steady!.toS) - 1) < 0.02;
      return { isMeasured: humps?.basis === 'measured', isRight };
    });
    expect(speeds.slice(0, 2)).toEqual([
      { isMeasured: true, isRight: true },
      { isMeasured: true, isRight: true },
    ]);
    expect(speeds.filter(({ isMeasured, isRight }) => isMeasured && !isRight)).toEqual([]);
  });

  it('takes no hum of a quarter of an ampere below even humps for dropouts, nor a spike in it for a dead stretch', () => {
    const { currentA, sampleRateHz } = intermittentRecord(97_033, 'healthy');
    const { pattern, dropouts } = analyzeRamp(asChannel(currentA), sampleRateHz, 0).ramp;
    expect(pattern).toBe('even');
    expect(dropouts.length).toBeLessThan(10);
  });

  it('knows a line that the rotor brings back from one that passes it by', () => {
    const random = seededRandom(5);
    const [points, turns, turn] = [8, 120, 8];
    // Once a turn, and once and a twentieth more or less.
    const along = (perTurn: number, depth: number) => {
      const angle = (i: number) => (2 * Math.PI * i) / points / turn;
      const values = Float64Array.from(
        { length: points * turn * turns },
        (_, i) => Math.sin(turn * angle(i)) + depth * Math.sin(perTurn * angle(i)) + 0.3 * random.normal(),
      );
      return coherenceOf({ values, points, cycles: turn * turns }, turn);
    };
    expect([along(1, 0.2), along(1.05, 0.2), along(1, 0)]).toEqual(['stays', 'wanders', 'untold']);
  });

  it('keeps a nearly even 8.5 A what it is', () => {
    const { channel } = draw({ onS: 0, meanA: 8.55, humpShare: 0.015, noiseA: 0.005 });
    const { ramp } = analyzeRamp(channel, 50_000, 0);
    expect(ramp.steady!.meanA).toBeCloseTo(8.55, 0);
    expect(ramp.inverted).toBe(false);
  });

  it('turns a current that a stated zero shows backwards', () => {
    const { channel } = draw({ onS: 0, sign: -1 });
    const { ramp } = analyzeRamp({ ...channel, zeroStated: true }, 50_000, 0);
    expect(ramp.inverted).toBe(true);
    expect(ramp.steady!.meanA).toBeGreaterThan(3);
  });

  it('gives every run of a record whose contact drops out, and the whole numbers of the longest', () => {
    const { channel, sampleRateHz } = (() => {
      const first = draw({ onS: 0.05, durationS: 0.6, rpm: 5600 }).channel.samples;
      const second = draw({ onS: 0.2, durationS: 1.2, rpm: 5600 }).channel.samples;
      const samples = new Float32Array(first.length + second.length);
      samples.set(first);
      samples.set(second, first.length);
      return { channel: asChannel(samples), sampleRateHz: 50_000 };
    })();
    const { ramp } = analyzeRamp(channel, sampleRateHz, 0);
    expect(ramp.runs!.map(({ fromS, toS }) => [fromS.toFixed(2), toS.toFixed(2)])).toEqual([
      ['0.05', '0.60'],
      ['0.80', '1.80'],
    ]);
    expect(ramp.rpm! / 5600).toBeCloseTo(1, 2);
    expect(ramp.onsetS).toBeCloseTo(0.05, 2);
    expect(ramp.dropouts.some(({ startS, endS }) => Math.abs(startS - 0.6) < 0.01 && Math.abs(endS - 0.8) < 0.01)).toBe(
      true,
    );
  });

  it('names a rotor that stands still, and blames no wiring for its low first peak', () => {
    const { capture } = simulateCapture({ locked: true, durationS: 0.5, sampleRateHz: 50_000, onS: 0.1 });
    const { ramp, findings } = analyzeRamp(asChannel(capture.channels[0].samples), 50_000, 0);
    expect(ramp.pattern).toBe('locked-rotor');
    const codes = findings.map(({ code }) => code);
    expect(codes).toContain('locked-rotor');
    expect(codes).not.toContain('inrush-low');
  });

  it('says of no filter that it takes the current away', () => {
    const { channel } = draw({ burnt: [{ bar: 1, depth: 0.95 }, { bar: 2, depth: 0.95 }] }); // prettier-ignore
    const { findings } = analyzeRamp(channel, 50_000, 0);
    expect(findings.find(({ code }) => code === 'ripple-high')!.text).toMatch(
      /comes from the commutator, not from the filter/,
    );
  });

  it('draws as many bars as were given', () => {
    const { channel } = draw({ bars: 14, rpm: 4000, heightSpread: 0.2 });
    expect(analyzeRamp(channel, 50_000, 0, { bars: 14 }).ramp.bars).toHaveLength(14);
  });

  it.each([60, 200])('calls %i brush bounces a second what they are', (perSecond) => {
    const random = seededRandom(perSecond);
    const { channel } = draw({ onS: 0, durationS: 2 });
    const samples = channel.samples.slice();
    for (let n = 0; n < 2 * perSecond; n++) {
      const at = Math.floor(random.uniform() * (samples.length - 30));
      for (let i = at; i < at + 8 + 12 * random.uniform(); i++) samples[i] *= 0.3;
    }
    const { ramp, findings } = analyzeRamp(asChannel(samples), 50_000, 0);
    expect(ramp.pattern).toBe('brush-bounce');
    const said = Number(/(\d+) a second/.exec(findings.find(({ code }) => code === 'brush-bounce')!.text)![1]);
    expect(said / perSecond).toBeGreaterThan(0.6);
    expect(said / perSecond).toBeLessThan(1.2);
  });

  it('calls spikes of either direction pick-up and no brush', () => {
    const random = seededRandom(3);
    const { channel } = draw({ onS: 0, durationS: 2 });
    const samples = channel.samples.slice();
    for (let n = 0; n < 80; n++) samples[Math.floor(random.uniform() * samples.length)] += 4 * (random.uniform() - 0.5);
    const { ramp, findings } = analyzeRamp(asChannel(samples), 50_000, 0);
    expect(ramp.pattern).toBe('even');
    expect(findings.map(({ code }) => code)).toContain('pick-up');
  });

  it('finds a stall of three seconds in ten minutes, and keeps it out of the running draw', () => {
    const rateHz = 10_000;
    const second = draw({ rateHz, onS: 0, durationS: 1, rpm: 4800, noiseA: 0.02 }).channel.samples;
    const samples = new Float32Array(600 * rateHz);
    for (let at = 0; at < samples.length; at += rateHz) samples.set(second, at);
    samples.fill(14, 400 * rateHz, 403 * rateHz);
    const { ramp, findings } = analyzeRamp(asChannel(samples), rateHz, 0);
    const stall = findings.find(({ code }) => code === 'stall');
    expect(stall!.window![0]).toBeCloseTo(400, 1);
    expect(stall!.window![1]).toBeCloseTo(403, 1);
    expect(ramp.steady!.meanA).toBeCloseTo(levels(second).mean, 1);
  });

  it('a turn found among gaps that come at random is assumed, never measured', () => {
    for (const seed of [11, 12, 13]) {
      const { channel } = draw({ seed, durationS: 0.5, onS: 0, randomGaps: 60, levelSpread: 0.03 });
      expect(analyzeRamp(channel, 50_000, 0).ramp.humps?.basis ?? 'assumed').toBe('assumed');
    }
  });

  it('keeps a notch in one bar, wherever within its hump the bar loses contact and however many draw the humps to themselves', () => {
    for (const seed of [57839, 53309, 59527, 59575, 59700, 53446]) {
      const { samples, zeroStated, sampleRateHz } = wideCapture(seed);
      const { ramp } = analyzeRamp({ samples, zeroStated }, sampleRateHz, 0);
      expect([seed, ramp.pattern]).toEqual([seed, 'burnt-bars']);
      // Sound bars stand at the sound level, burnt ones far below.
      for (const { relative, state } of ramp.bars!) expect(Math.abs(relative) < 0.02).toBe(state === 'sound');
    }
  });

  it('counts the bars of a run that another source disturbs by the run before, since it is the same motor', () => {
    const { samples } = draw({ onS: 0, durationS: 2, bars: 10, rpm: 5436, noiseA: 0.02 }).channel;
    // An alternator's tone begins in the gap between the runs, and comes back after 22 humps.
    const toneHz = ((5436 / 60) * 10 * 16) / 22;
    const both = samples.map((value, i) => {
      if (i < 40_000) return value;
      return i < 48_000 ? 0 : value + 0.03 * Math.sin((2 * Math.PI * toneHz * i) / 50_000);
    });
    const { ramp } = analyzeRamp(asChannel(both), 50_000, 0);
    for (const { rpm } of ramp.runs!) expect(rpm! / 5436).toBeCloseTo(1, 2);
    // What the longer one says by itself stays in sight.
    expect(ramp.humps).toMatchObject({ perRevolution: 10, basis: 'assumed' });
    expect(ramp.humps!.alternatives![0].perRevolution).toBe(22);
  });

  it('takes a clamp’s offset that drifts, hums or spikes, with no hump in it, for no running pump', () => {
    for (const seed of [57234, 57244, 57359, 57568, 53202, 51325]) {
      const { samples, zeroStated, sampleRateHz } = wideCapture(seed);
      const { ramp, findings } = analyzeRamp({ samples, zeroStated }, sampleRateHz, 0);
      expect([seed, ramp.pattern, ramp.steady]).toEqual([seed, 'no-current', undefined]);
      expect(findings.map(({ code }) => code)).toEqual(['clamp-not-zeroed', 'no-current']);
    }
  });

  it('tells a driver’s clock by the middle of its falls, where noise, hum and spikes move them least', () => {
    for (const seed of [63532, 63651, 65140, 65783, 53115, 65435]) {
      const { samples, zeroStated, sampleRateHz } = wideCapture(seed);
      expect([seed, analyzeRamp({ samples, zeroStated }, sampleRateHz, 0).ramp.pattern]).toEqual([seed, 'pulsed']);
    }
  });

  it('blames no bars of a record without a level where every other one is low: there a hump was cut in two', () => {
    for (const seed of [63345, 65690, 290_238]) {
      const { samples, zeroStated, sampleRateHz } = wideCapture(seed);
      expect([seed, analyzeRamp({ samples, zeroStated }, sampleRateHz, 0).ramp.pattern]).toEqual([seed, 'even']);
    }
    // Three of six, each as far gone as it is: no halves of a hump differ so.
    const { samples, zeroStated, sampleRateHz } = wideCapture(340_234);
    expect(analyzeRamp({ samples, zeroStated }, sampleRateHz, 0).ramp.pattern).toBe('burnt-bars');
  });

  it('judges bars beside what may flow at most where a small level may be the clamp’s own', () => {
    const { samples, zeroStated, sampleRateHz } = wideCapture(320_184);
    const { ramp } = analyzeRamp({ samples, zeroStated }, sampleRateHz, 0);
    expect([ramp.zeroOffsetA, ramp.pattern]).toEqual([undefined, 'even']);
  });

  it('hears no brushes bounce in the few spikes that chance sends one way, and does where they keep going one way', () => {
    const pattern = (seed: number) => {
      const { samples, zeroStated, sampleRateHz } = wideCapture(seed);
      return analyzeRamp({ samples, zeroStated }, sampleRateHz, 0).ramp.pattern;
    };
    // Twenty ignition spikes a second, four of them deep enough to be seen, all of those downwards.
    expect([330_037, 330_051, 330_191, 330_248, 330_301].map(pattern)).toEqual(Array(5).fill('even'));
    expect([330_008, 330_028, 330_103, 330_106].map(pattern)).toEqual(Array(4).fill('brush-bounce'));
    // Gaps at random leave a mark in an average of few turns, and no bar is down in half of them.
    expect([330_022, 330_096, 330_264].map(pattern)).toEqual(Array(3).fill('brush-bounce'));
  });

  it('takes a start that never falls for a rotor that stands, though hum passes for its humps', () => {
    for (const seed of [340_126, 340_209, 350_012, 350_329, 350_383]) {
      const { samples, zeroStated, sampleRateHz } = wideCapture(seed);
      const { ramp, findings } = analyzeRamp({ samples, zeroStated }, sampleRateHz, 0);
      expect([seed, ramp.pattern, ramp.rpm]).toEqual([seed, 'locked-rotor', undefined]);
      expect(findings.map(({ code }) => code)).not.toContain('inrush-low');
    }
  });

  it('lets hum move no off away from a zero that has drifted', () => {
    const { samples, zeroStated, sampleRateHz, truth } = wideCapture(330_187);
    const { ramp } = analyzeRamp({ samples, zeroStated }, sampleRateHz, 0);
    expect(Math.abs(ramp.offS! - truth.runs[0][1])).toBeLessThan(0.005);
  });

  it.each([
    // Humps of 70 % of a small draw are no sound pump's: an AC-coupled input left an ampere of eight.
    { seed: 320_184, told: false, code: undefined },
    { seed: 300_311, told: false, code: undefined },
    // A small draw may be a clamp's zero: told, with a caution.
    { seed: 300_365, told: true, code: 'level-doubtful' },
    { seed: 330_146, told: true, code: 'level-doubtful' },
  ])('goes by no small level whose zero nothing shows: seed $seed', ({ seed, told, code }) => {
    const { samples, zeroStated, sampleRateHz } = wideCapture(seed);
    const { ramp, findings } = analyzeRamp({ samples, zeroStated }, sampleRateHz, 0);
    expect(ramp.steady !== undefined).toBe(told);
    expect(findings.find((finding) => finding.code.startsWith('level-'))?.code).toBe(code);
    // Nor is a clamp on backwards that may just be off.
    expect(findings.map((finding) => finding.code)).not.toContain('clamp-reversed');
  });

  it('lets a pump coast about a stated zero, which no fading makes doubtful', () => {
    const { samples, zeroStated, sampleRateHz, truth } = wideCapture(340_109);
    const { ramp } = analyzeRamp({ samples, zeroStated }, sampleRateHz, 0);
    expect(zeroStated).toBe(true);
    expect(Math.abs(ramp.offS! - truth.runs[0][1])).toBeLessThan(0.005);
    expect(ramp.rpm! / truth.rpm).toBeCloseTo(1, 2);
  });

  it('knows the off before and after a run though the clamp’s zero wandered between them, at a small draw too', () => {
    for (const seed of [65394, 67321]) {
      const { samples, zeroStated, sampleRateHz, truth } = wideCapture(seed);
      const { ramp } = analyzeRamp({ samples, zeroStated }, sampleRateHz, 0);
      expect(ramp.onsetS).toBeCloseTo(truth.runs[0][0], 2);
      expect(ramp.offS).toBeCloseTo(truth.runs[0][1], 2);
    }
  });

  it('keeps the level of a locked rotor among spikes, of dead bars under a clamp that wandered, and beside hum in coarse steps', () => {
    for (const [seed, pattern] of [
      [75080, 'locked-rotor'],
      [79717, 'locked-rotor'],
      [73228, 'dead-stretch'],
      [77534, 'dead-stretch'],
      [79728, 'even'],
      [73744, 'even'],
    ] as const) {
      const { samples, zeroStated, sampleRateHz, truth } = wideCapture(seed);
      const { ramp } = analyzeRamp({ samples, zeroStated }, sampleRateHz, 0);
      const { fromS, toS, meanA } = ramp.steady!;
      const part = truth.currentA.subarray(Math.round(fromS * sampleRateHz), Math.round(toS * sampleRateHz));
      const mean = part.reduce((sum, value) => sum + value, 0) / part.length;
      expect([seed, ramp.pattern, Math.abs(meanA - mean) < 0.01 * mean + truth.driftA]).toEqual([seed, pattern, true]);
    }
  });

  it('tells no speed of humps as faint as an alternator’s that make one which hardly any pump has, or another in each run', () => {
    const rate = 10_000;
    const record = (lines: readonly number[]) => {
      const random = seededRandom(7);
      return Float32Array.from({ length: lines.length * 1.5 * rate }, (_, i) => {
        const t = i / rate;
        const runs = t % 1.5 > 0.4;
        const hz = lines[Math.floor(t / 1.5)];
        // Every 22nd is a little higher: as sure a turn as any, of whatever it is.
        const wave = Math.sin(2 * Math.PI * hz * t) + 0.3 * Math.sin((2 * Math.PI * hz * t) / 22);
        const start = 13 * Math.exp((0.4 - (t % 1.5)) / 0.02);
        return (runs ? 6.5 + start + 0.03 * wave : 0) + 0.01 * random.normal();
      });
    };
    for (const lines of [[500], [1000, 1500]]) {
      const { ramp, cannotTell } = analyzeRamp({ samples: record(lines), zeroStated: false }, rate, 0);
      expect([lines, ramp.rpm, ramp.bars, ramp.pattern]).toEqual([lines, undefined, undefined, 'even']);
      expect(ramp.runs!.map(({ rpm }) => rpm)).toEqual(lines.map(() => undefined));
      expect(cannotTell.find(({ what }) => what === 'rpm')?.because).toMatch(/alternator/);
    }
    // What a usual pump makes is told as likely.
    expect(analyzeRamp({ samples: record([1500]), zeroStated: false }, rate, 0).ramp.humps?.basis).toBe('assumed');
  });

  it('follows the humps between gaps that come at random, however many samples they take', () => {
    for (const seed of [31520, 32166, 32471, 31948, 40123, 40496]) {
      const capture = wideCapture(seed);
      const { ramp } = analyzeRamp({ ...capture }, capture.sampleRateHz, 0);
      expect([seed, Math.abs(ramp.rpm! / trueRpm(capture, ramp.steady!.fromS, ramp.steady!.toS) - 1) < 0.01]).toEqual([
        seed,
        true,
      ]);
      expect(ramp.pattern).toBe('brush-bounce');
    }
  });

  it('leaves out no gaps that come back with the rotor: they tell the turn', () => {
    for (const seed of [40158, 40186, 40546, 40562]) {
      const capture = wideCapture(seed);
      const { ramp } = analyzeRamp({ ...capture }, capture.sampleRateHz, 0);
      expect([seed, Math.abs(ramp.rpm! / capture.truth.rpm - 1) < 0.02]).toEqual([seed, true]);
      expect(BURNT).toContain(ramp.pattern);
    }
  });

  it('sees through the hum that the end of a record is off, an ampere from zero', () => {
    const { samples, sampleRateHz, zeroStated, truth } = wideCapture(40671);
    const { ramp } = analyzeRamp({ samples, zeroStated }, sampleRateHz, 0);
    expect(ramp.offS).toBeCloseTo(truth.runs[0][1], 2);
    expect(ramp.rpm! / truth.rpm).toBeCloseTo(1, 2);
  });

  /** What a driver's clock makes of a current: on for 55 % of each cycle, beginning with the record and never off for longer. */
  const chopped = (current: Float32Array, hz: number, offA: number, rateHz: number) =>
    current.map((value, i) => (((i / rateHz) * hz) % 1 < 0.55 ? value : offA));

  it('takes the level on which a chopped current rests for its zero where nothing is ever off, reversed or not', () => {
    for (const [hz, offsetA, sign] of [
      [60, 1.2, 1],
      [110, -0.3, 1],
      [150, 1.2, -1],
      [400, -1.2, 1],
    ] as const) {
      // prettier-ignore
      const { samples } = draw({ onS: 0, offsetA, sign, rpm: 6130, noiseA: 0.02 }).channel;
      const { ramp } = analyzeRamp(asChannel(chopped(samples, hz, offsetA, 50_000)), 50_000, 0);
      expect({ hz, pattern: ramp.pattern, inverted: ramp.inverted }).toEqual({
        hz,
        pattern: 'pulsed',
        inverted: sign < 0,
      });
      expect(Math.abs(ramp.zeroOffsetA! - offsetA)).toBeLessThan(0.05);
      // On for 55 % of 5 A.
      expect(ramp.steady!.meanA / 2.75).toBeCloseTo(1, 1);
    }
  });

  it('takes a rotor’s dead bars for its zero likewise, and calls them burnt', () => {
    // Drawn with the clamp below zero and no off to see.
    for (const seed of [90046, 90164, 90279]) {
      const { samples, sampleRateHz, truth } = wideCapture(seed);
      const { ramp } = analyzeRamp({ samples, zeroStated: false }, sampleRateHz, 0);
      expect(BURNT).toContain(ramp.pattern);
      expect(Math.abs(ramp.steady!.meanA / truth.meanA - 1)).toBeLessThan(0.01);
    }
  });

  it('tells a driver whose clock the humps nearly keep step with, or that is coarsely sampled', () => {
    for (const seed of [17415, 90362, 90222, 90240, 215_256, 240_276]) {
      const { samples, sampleRateHz, zeroStated } = wideCapture(seed);
      expect(analyzeRamp({ samples, zeroStated }, sampleRateHz, 0).ramp.pattern).toBe('pulsed');
    }
    // A rotor that happens to turn like clockwork is one all the same, and one that noise or spikes half hide: its humps come back.
    for (const seed of [50109, 17702, 23841, 213_067]) {
      const rotor = wideCapture(seed);
      expect(BURNT).toContain(analyzeRamp({ ...rotor }, rotor.sampleRateHz, 0).ramp.pattern);
    }
  });

  it('keeps to the line it found where its neighbour of the rotor, one turn rate away, is the stronger', () => {
    const { samples, sampleRateHz, zeroStated, truth } = wideCapture(90385);
    const { ramp } = analyzeRamp({ samples, zeroStated }, sampleRateHz, 0);
    expect(ramp.rpm! / truth.rpm).toBeCloseTo(1, 2);
  });

  it('never calls a count that no motor has measured, however well it fits', () => {
    for (const seed of [420387, 310113]) {
      const { samples, sampleRateHz, zeroStated, truth } = wideCapture(seed);
      const { humps, rpm = NaN } = analyzeRamp({ samples, zeroStated }, sampleRateHz, 0).ramp;
      if (humps?.basis === 'measured') expect(rpm / truth.rpm).toBeCloseTo(1, 2);
    }
  });

  it('counts no fewer humps in two turns than in one: 22 and 14 a turn are no half-speed motor of eight bars', () => {
    for (const seed of [200369, 220298]) {
      const { samples, sampleRateHz, zeroStated, truth } = wideCapture(seed);
      const { ramp } = analyzeRamp({ samples, zeroStated }, sampleRateHz, 0);
      expect(ramp.rpm! / truth.rpm).toBeCloseTo(1, 2);
    }
  });

  it.each([240_265, 220_226, 213_136, 213_222])(
    'counts the humps of a burnt pump beside its notches: seed %d',
    (seed) => {
      const { samples, sampleRateHz, zeroStated, truth } = wideCapture(seed);
      const { ramp } = analyzeRamp({ samples, zeroStated }, sampleRateHz, 0);
      expect(Math.abs(ramp.rpm! / truth.rpm - 1)).toBeLessThan(0.01);
      expect(ramp.humps!.perRevolution).toBe(humpsForBars(truth.bars));
    },
  );

  it('answers where nothing is left between one disturbance and the next', () => {
    const { samples, sampleRateHz, zeroStated } = wideCapture(240_155);
    const { cannotTell } = analyzeRamp({ samples, zeroStated }, sampleRateHz, 0);
    expect(cannotTell.map(({ what }) => what)).toContain('steady');
  });

  it('takes a clamp that wanders while a small draw holds for no input that forgets', () => {
    const { samples, sampleRateHz, zeroStated } = wideCapture(240_026);
    const { ramp, cannotTell } = analyzeRamp({ samples, zeroStated }, sampleRateHz, 0);
    expect(cannotTell).toEqual([]);
    expect(ramp.pattern).toBe('burnt-bars');
  });

  it('takes no notched current’s top for a floor', () => {
    const { samples, sampleRateHz } = wideCapture(210039);
    const { ramp } = analyzeRamp({ samples, zeroStated: false }, sampleRateHz, 0);
    expect(ramp.inverted).toBe(true);
  });

  it('takes a zeroed clamp’s drift and hum for no pump', () => {
    const random = seededRandom(5);
    const drifting = Float32Array.from({ length: 60_000 }, (_, i) => {
      const t = i / 50_000;
      return 0.2 * t + 0.1 * Math.sin(2 * Math.PI * 50 * t) + 0.02 * random.normal();
    });
    const { ramp } = analyzeRamp({ samples: drifting, zeroStated: true }, 50_000, 0);
    expect(ramp.pattern).toBe('no-current');
    expect(ramp.rpm).toBeUndefined();
  });

  it('takes a locked rotor seen in coarse steps for no off thirteen amperes from zero', () => {
    const { samples, sampleRateHz, zeroStated, truth } = wideCapture(90312);
    const { ramp } = analyzeRamp({ samples, zeroStated }, sampleRateHz, 0);
    expect({ inverted: ramp.inverted, pattern: ramp.pattern }).toEqual({ inverted: false, pattern: 'locked-rotor' });
    expect(Math.abs(ramp.steady!.meanA / truth.meanA - 1)).toBeLessThan(0.02);
  });

  it('says that the current broke off, and reads both runs as one motor', () => {
    const run = (seed: number) => draw({ seed, onS: 0.15, durationS: 0.9, rpm: 5200 }).channel.samples;
    const samples = new Float32Array([...run(1), ...run(1)]);
    const { ramp, findings } = analyzeRamp(asChannel(samples), 50_000, 0);
    expect(findings.find(({ code }) => code === 'interrupted')!.text).toMatch(/once, longest for 15\d ms/);
    expect(new Set(ramp.runs!.map(({ rpm }) => Math.round(rpm! / 100)))).toEqual(new Set([52]));
  });

  it.each([213_101, 213_136])('blames bars that are far down in each of a few turns: seed %d', (seed) => {
    const { samples, sampleRateHz, zeroStated, truth } = wideCapture(seed);
    expect(truth.fault).toBe('burnt-bar');
    const { ramp } = analyzeRamp({ samples, zeroStated }, sampleRateHz, 0);
    expect(['burnt-bars', 'dead-stretch', 'locked-notch']).toContain(ramp.pattern);
  });
});
