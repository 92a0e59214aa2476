import { analyzeRamp } from '../src/measure/current/analyze-ramp.js';
import { simulateCapture } from '../src/simulate/capture-spec.js';
import { seededRandom } from '../src/signal/random.js';
import { levels } from '../src/signal/levels.js';
import { intermittentRecord } from '../src/simulate/wide-intermittent.js';
import { asChannel, draw } from './support/drawn-capture.js';
import { BURNT, measured } from './support/measured-capture.js';

describe('what a pattern is said of', () => {
  it('takes no hum of a quarter of an ampere below even humps for dropouts, nor a spike in it for a dead stretch', () => {
    const { currentA, sampleRateHz } = intermittentRecord(97_033, 'healthy');
    const { pattern, dropouts } = analyzeRamp(asChannel(currentA), sampleRateHz, 0).ramp;
    expect(pattern).toBe('even');
    expect(dropouts.length).toBeLessThan(10);
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

  it('makes nothing of a ripple beside a level that may be the clamp’s own', () => {
    const { ramp, findings } = measured(790_076);
    expect(ramp.zeroOffsetA).toBeUndefined();
    const codes = findings.map(({ code }) => code);
    expect([codes.includes('level-doubtful'), codes.includes('ripple-high')]).toEqual([true, false]);
  });

  it('says of no filter that it takes the current away', () => {
    const { channel } = draw({ burnt: [{ bar: 1, depth: 0.95 }, { bar: 2, depth: 0.95 }] }); // prettier-ignore
    const { findings } = analyzeRamp(channel, 50_000, 0);
    expect(findings.find(({ code }) => code === 'ripple-high')!.text).toMatch(
      /comes from the commutator, not from the filter/,
    );
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

  it('keeps a notch in one bar, wherever within its hump the bar loses contact and however many draw the humps to themselves', () => {
    for (const seed of [57839, 53309, 59527, 59575, 59700, 53446]) {
      const { ramp } = measured(seed);
      expect([seed, ramp.pattern]).toEqual([seed, 'burnt-bars']);
      // Sound bars stand at the sound level, burnt ones far below.
      for (const { relative, state } of ramp.bars!) expect(Math.abs(relative) < 0.02).toBe(state === 'sound');
    }
  });

  it('tells a driver’s clock by the middle of its falls, where noise, hum and spikes move them least', () => {
    for (const seed of [63532, 63651, 65140, 65783, 53115, 65435]) {
      expect([seed, measured(seed).ramp.pattern]).toEqual([seed, 'pulsed']);
    }
  });

  it('blames no bars of a record without a level where every other one is low: there a hump was cut in two', () => {
    for (const seed of [63345, 65690, 290_238]) {
      expect([seed, measured(seed).ramp.pattern]).toEqual([seed, 'even']);
    }
    // Three of six, each as far gone as it is: no halves of a hump differ so.
    expect(measured(340_234).ramp.pattern).toBe('burnt-bars');
  });

  it('blames no bars of an assumed turn that are the thirds of a hump, and does where two opposite ones are half gone', () => {
    expect([710_159, 710_254, 442_209].map((seed) => measured(seed).ramp.pattern)).toEqual([
      ...['even', 'burnt-bars', 'burnt-bars'],
    ]);
  });

  it('hears no brushes bounce in the few spikes that chance sends one way, and does where they keep going one way', () => {
    const pattern = (seed: number) => measured(seed).ramp.pattern;
    // Twenty ignition spikes a second, four of them deep enough to be seen, all of those downwards.
    expect([330_037, 330_051, 330_191, 330_248, 330_301].map(pattern)).toEqual(Array(5).fill('even'));
    expect([330_008, 330_028, 330_103, 330_106].map(pattern)).toEqual(Array(4).fill('brush-bounce'));
    // Gaps at random leave a mark in an average of few turns, and no bar is down in half of them.
    expect([330_022, 330_096, 330_264].map(pattern)).toEqual(Array(3).fill('brush-bounce'));
  });

  it('takes a start that never falls for a rotor that stands, though hum passes for its humps', () => {
    for (const seed of [340_126, 340_209, 350_012, 350_329, 350_383]) {
      const { ramp, findings } = measured(seed);
      expect([seed, ramp.pattern, ramp.rpm]).toEqual([seed, 'locked-rotor', undefined]);
      expect(findings.map(({ code }) => code)).not.toContain('inrush-low');
    }
  });

  it('tells a stall that lasts for half of a short run by what its start drew', () => {
    expect(measured(450_180).findings.map(({ code }) => code)).toContain('stall');
  });

  it('says that it can’t tell a driver from dead bars where humps drown in noise and few samples place no clock', () => {
    const { ramp, cannotTell } = measured(500_382);
    expect([ramp.pattern, ramp.rpm]).toEqual(['irregular', undefined]);
    expect(cannotTell.map(({ because }) => because).join()).toMatch(/61 times a second.*faster time base/);
  });

  it('takes notches that keep no clock’s time for no driver', () => {
    expect(measured(460_082).ramp.pattern).not.toBe('pulsed');
  });

  it('tells a driver in few cycles, in coarse steps that hide most humps, and by the hum that its off shows', () => {
    for (const seed of [400_101, 430_502, 420_004]) expect(measured(seed).ramp.pattern).toBe('pulsed');
    // 3.1 A above a level that hum sways, and no part of the record is off.
    const { ramp, findings } = measured(420_004);
    expect(ramp.zeroOffsetA).toBeCloseTo(1.2, 1);
    expect(findings[0].text).toMatch(/never off here.*1\.2\d A/);
    const switched = findings.find(({ code }) => code === 'switched')!;
    expect(switched.text).toMatch(/for 5[45] % of the time, 150 times a second/);
    expect(switched.window![1] - switched.window![0]).toBeCloseTo(4 / 150, 4);
  });

  it('takes the mean of a chopped current from whole cycles beyond its start, however slow the driver', () => {
    for (const seed of [441_264, 441_298, 441_558, 441_892]) {
      const { ramp, truth, sampleRateHz } = measured(seed);
      const [, end] = truth.runs[0];
      const cycles = Math.floor((end - truth.runs[0][0] - 0.15) * truth.chopHz!);
      const [from, to] = [end - cycles / truth.chopHz!, end].map((t) => Math.round(t * sampleRateHz));
      const mean = truth.currentA.subarray(from, to).reduce((sum, value) => sum + value, 0) / (to - from);
      expect([seed, Math.abs(ramp.steady!.meanA - mean) < 0.01 * mean + truth.driftA]).toEqual([seed, true]);
    }
  });

  it('tells a driver whose clock the humps nearly keep step with, or that is coarsely sampled', () => {
    for (const seed of [17415, 90362, 90222, 90240, 215_256, 240_276]) {
      expect(measured(seed).ramp.pattern).toBe('pulsed');
    }
    // A rotor that happens to turn like clockwork is one all the same, and one that noise or spikes half hide: its humps come back.
    // So is one whose humps a coarse step makes uneven, beside dead stretches that rest on a step and show no rounding.
    for (const seed of [50109, 17702, 23841, 213_067, 850_228]) {
      expect(BURNT).toContain(measured(seed).ramp.pattern);
    }
  });

  it('says of no contact that it opens where parts of a driver’s cycles, or of dead turns, are as long as a gap', () => {
    for (const [seed, pattern] of [
      ...[800_004, 800_262, 780_141].map((seed) => [seed, 'pulsed'] as const),
      ...[800_122, 780_037, 780_117, 780_148].map((seed) => [seed, 'dead-stretch'] as const),
    ]) {
      const { ramp, findings } = measured(seed);
      expect([seed, ramp.pattern, findings.some(({ code }) => code === 'interrupted')]).toEqual([seed, pattern, false]);
    }
  });

  it('answers where nothing is left between one disturbance and the next', () => {
    const { cannotTell } = measured(240_155);

    expect(cannotTell.map(({ what }) => what)).toContain('steady');
  });

  it('says that the current broke off, and reads both runs as one motor', () => {
    const run = (seed: number) => draw({ seed, onS: 0.15, durationS: 0.9, rpm: 5200 }).channel.samples;
    const samples = new Float32Array([...run(1), ...run(1)]);
    const { ramp, findings } = analyzeRamp(asChannel(samples), 50_000, 0);
    expect(findings.find(({ code }) => code === 'interrupted')!.text).toMatch(/once, longest for 15\d ms/);
    expect(new Set(ramp.runs!.map(({ rpm }) => Math.round(rpm! / 100)))).toEqual(new Set([52]));
  });

  it.each([
    ...[213_101, 213_136],
    // Every second hump made a line no deeper than humps are, four a turn: two turns were read as one of eight alike.
    850_361,
  ])('blames bars that are far down in each of a few turns: seed %d', (seed) => {
    const { ramp, truth } = measured(seed);
    expect(truth.fault).toBe('burnt-bar');

    expect(['burnt-bars', 'dead-stretch', 'locked-notch']).toContain(ramp.pattern);
  });
});
