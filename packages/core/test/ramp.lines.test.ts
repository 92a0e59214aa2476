import { analyzeRamp } from '../src/measure/current/analyze-ramp.js';
import { seededRandom } from '../src/signal/random.js';
import { crankRecord } from '../src/simulate/wide-crank.js';
import { trueRpm, wideCapture } from '../src/simulate/wide-capture.js';
import { intermittentRecord } from '../src/simulate/wide-intermittent.js';
import { measured } from './support/measured-capture.js';

// Which line of a rotor is followed, and what a slow recorder folds: drawn records with a speed that is known.

it('keeps a faint line of one a turn by a stronger one of many', () => {
  const { currentA, sampleRateHz, truth } = intermittentRecord(113_143);
  const { ramp } = analyzeRamp({ samples: currentA, zeroStated: false }, sampleRateHz, 0);
  const { fromS, toS } = ramp.steady!;
  expect(Math.abs(ramp.rpm! / truth.rpm(fromS, toS) - 1)).toBeLessThan(0.01);
});

it('calls no turn measured whose humps may be faster ones folded back, though it is steady', () => {
  const { currentA, sampleRateHz, truth } = intermittentRecord(113_117);
  // Thirty-five samples make three turns, and so a turn of their own, until a contact opens.
  expect(sampleRateHz).toBe(1000);
  const before = currentA.subarray(0, Math.floor((truth.incidents[0][0] - 0.05) * sampleRateHz));
  const { ramp } = analyzeRamp({ samples: before, zeroStated: false }, sampleRateHz, 0);
  expect(Math.abs(ramp.rpm! / truth.rpm(0, before.length / sampleRateHz) - 1)).toBeGreaterThan(0.1);
  expect(ramp.humps!.basis).toBe('assumed');
});

it('takes the mains for no worn bar of a rotor that turns at their rate, and a burnt one for what it is', () => {
  const [rate, shaftHz, drawA] = [10_000, 59.2, 4];
  const random = seededRandom(3);
  const levels = Array.from({ length: 8 }, () => 1 + 0.01 * random.normal());
  const current = (cut: number) =>
    Float32Array.from({ length: 0.5 * rate }, (_, i) => {
      const turn = (shaftHz * i) / rate;
      const at = 8 * (turn - Math.floor(turn));
      const bar = Math.floor(at);
      const hump = levels[bar] + 0.1 * Math.sin(Math.PI * (at - bar));
      const share = bar === 3 ? 1 - cut * Math.sin(Math.PI * (at - bar)) : 1;
      const hum = 0.25 * Math.sin((2 * Math.PI * 60 * i) / rate + 1);
      return drawA * hump * share + hum + 0.01 * random.normal();
    });
  const patternOf = (cut: number) => analyzeRamp({ samples: current(cut), zeroStated: true }, rate, 0).ramp.pattern;
  expect(patternOf(0)).toBe('even');
  const { samples, sampleRateHz, zeroStated, truth } = wideCapture(117_093);
  expect([truth.fault, Math.round(truth.rpm / 60)]).toEqual(['healthy', 59]);
  expect(analyzeRamp({ samples, zeroStated }, sampleRateHz, 0).ramp.pattern).toBe('even');
  expect(['burnt-bars', 'locked-notch']).toContain(patternOf(0.4));
});

it('takes a notch that comes as often as the mains for no pick-up: its overtones don’t fall', () => {
  // Half of the notch went with the hum, and six humps of ten were assumed, all of them even.
  const { ramp, truth } = measured(790_091);
  expect(Math.abs(truth.rpm / 60 - 50)).toBeLessThan(0.3);
  expect([ramp.pattern, ramp.humps!.basis, ramp.humps!.perRevolution]).toEqual([
    'locked-notch',
    'measured',
    truth.bars,
  ]);
});

it('follows a speed that changes by a tenth as the run begins, and not the rotor’s next line', () => {
  // Engines that start and charge: read 12 % and 25 % too fast before, and called measured.
  for (const seed of [11, 30]) {
    const { currentA, sampleRateHz, truth } = crankRecord(seed);
    const [, until] = truth.crank;
    const from = Math.round((until + 0.08) * sampleRateHz);
    const to = Math.round((truth.incident?.[0] ?? truth.runs.at(-1)![1]) * sampleRateHz) - 0.01 * sampleRateHz;
    const { ramp } = analyzeRamp({ samples: currentA.subarray(from, to), zeroStated: true }, sampleRateHz, 0);
    expect(ramp.humps!.basis).toBe('measured');
    const rpm = truth.rpm(from / sampleRateHz + ramp.steady!.fromS, from / sampleRateHz + ramp.steady!.toS);
    expect(Math.abs(ramp.rpm! / rpm - 1)).toBeLessThan(0.01);
  }
});

it('follows a turn through a speed that rises by a fifth by another of its lines, and tells none where all are lost', () => {
  const ofRun = (seed: number, from: number, until: number) => {
    const { currentA, sampleRateHz, truth } = crankRecord(seed);
    const part = currentA.subarray(from * sampleRateHz, until * sampleRateHz);
    const { ramp } = analyzeRamp({ samples: part, zeroStated: true }, sampleRateHz, 0);
    return { ramp, rpm: truth.rpm(from, until) };
  };
  // From where the starter lets go to where the pump binds: read along a line of one a turn, and 10 % too fast by it.
  const rising = ofRun(2065, 3.4, 5.4);
  expect(rising.ramp.humps!.basis).toBe('measured');
  expect(Math.abs(rising.ramp.rpm! / rising.rpm - 1)).toBeLessThan(0.005);
  // Half as fast again within a tenth of a second, where the starter lets go: the mean of both was 9 % too fast.
  const leaps = ofRun(9035, 6.2, 12.4);
  expect(leaps.ramp.rpm).toBeUndefined();
  expect(leaps.ramp.steady).toBeDefined();
});

it('calls no half of a turn measured where the mains spoil what would part it from the other half', () => {
  // Twelve bars, worn alike half a turn apart; six at twice the speed were "measured".
  const { ramp, truth } = measured(710_383);
  expect([truth.bars, ramp.humps!.basis]).toEqual([12, 'assumed']);
  expect(ramp.humps!.alternatives!.map(({ perRevolution }) => perRevolution)).toContain(12);
});

it.each([300_043, 300_364])(
  'calls no turn measured where a coarse step may have made the lines that wander: seed %d',
  (seed) => {
    const capture = wideCapture(seed);
    const { samples, sampleRateHz, zeroStated } = capture;
    const { rpm = NaN, humps, steady } = analyzeRamp({ samples, zeroStated }, sampleRateHz, 0).ramp;
    const isRight = Math.abs(rpm / trueRpm(capture, steady!.fromS, steady!.toS) - 1) < 0.01;
    expect([humps!.basis, isRight]).not.toEqual(['measured', false]);
  },
);

it.each([310_215, 310_108, 300_274, 320_397])(
  'takes two nearly equal halves for one turn, by the mean of all: seed %d',
  (seed) => {
    const { samples, sampleRateHz, zeroStated, truth } = wideCapture(seed);
    const { ramp } = analyzeRamp({ samples, zeroStated }, sampleRateHz, 0);
    expect(Math.abs(ramp.rpm! / truth.rpm - 1)).toBeLessThan(0.01);
  },
);
