import { analyzeCapture } from '../src/analyze.js';
import { keyedDriveRecord } from '../src/simulate/wide-drive.js';

// A capture begins before the key comes on and goes on after the prime: nothing is asked then, and nothing is missing.

interface Lines {
  readonly sampleRateHz: number;
  readonly commandV: Float32Array;
  readonly outputV?: Float32Array;
  readonly supplyV?: Float32Array;
}

function analyze({ sampleRateHz, commandV, outputV, supplyV }: Lines) {
  const lines = [
    ['Command', commandV],
    ['Module output', outputV],
    ['Module supply', supplyV],
  ] as const;
  const channels = lines.flatMap(([name, samples]) =>
    samples ? [{ name, unit: 'V' as const, fileFactor: 1, samples }] : [],
  );
  const { pulses = {}, drive, sweep } = analyzeCapture('prime', { sampleRateHz, startS: 0, channels, notes: [] });
  return { command: pulses.Command, output: pulses['Module output'], drive: drive!, sweep };
}

/** Pulses of 5 V or more from one time to another, s, at rest else. */
function pulsed(hz: number, [fromS, toS]: readonly [number, number], lastsS: number, highV = 5, rate = 20_000) {
  return Float32Array.from({ length: lastsS * rate }, (_, i) => {
    const t = i / rate;
    return t >= fromS && t < toS && ((t - fromS) * hz) % 1 < 0.4 ? highV : 0.1;
  });
}

const prime = (asked: readonly [number, number], given: readonly [number, number], commandHz = 150) =>
  analyze({
    sampleRateHz: 20_000,
    commandV: pulsed(commandHz, asked, 4),
    outputV: pulsed(1000, given, 4, 13.4),
  });

it('judges drawn drives by what happens between key-on and key-off', () => {
  const wrong: string[] = [];
  for (let seed = 740_001; seed < 740_021; seed++) {
    const { truth, ...lines } = keyedDriveRecord(seed);
    const { command, output, drive } = analyze(lines);
    const missing = [command.missing, output.missing];
    const isRight = !truth.causeTold || drive.cause === truth.cause;
    const areRight = missing[0] === truth.command.missing.length && missing[1] === truth.output.missing.length;
    if (!isRight || !areRight) wrong.push(`${seed} ${truth.fault}: ${drive.cause}, missing ${missing.join(' and ')}`);
  }
  expect(wrong).toEqual([]);
});

it('says from when to when is asked, and makes no step of a sweep of what isn’t', () => {
  const { command, output, drive, sweep } = prime([1, 3], [1.1, 3.02]);
  expect([command.missing, output.missing]).toEqual([0, 0]);
  expect(command.dutyPercent).toBeCloseTo(40, 0);
  expect(command.fromS).toBeCloseTo(1, 2);
  expect(command.untilS).toBeCloseTo(3, 2);
  expect(command.trend!.every(({ dutyPercent }) => Math.abs(dutyPercent - 40) < 3)).toBe(true);
  expect(drive).toMatchObject({ cause: 'none' });
  expect(drive.because).toMatch(/asked, from 1\.00 s until 3\.00 s, arrives/);
  expect(sweep).toBeUndefined();
});

it('blames a module that ceases, or never wakes for a while, as its command goes on', () => {
  for (const given of [
    [1.1, 2.5],
    [1.9, 3],
  ] as const) {
    const { command, output, drive } = prime([1, 3], given);
    expect(command.missing).toBe(0);
    expect(output.missing).toBeGreaterThan(450);
    expect(drive).toMatchObject({ cause: 'module' });
  }
  // A command that goes on to the record's end asks until then.
  expect(prime([1, 4], [1.1, 3.9]).drive.cause).toBe('module');
});

it('takes the few pulses that a slow command had room for as none where the output rests as well', () => {
  const rests = prime([0.1, 3.9], [0.13, 3.92], 35);
  expect([rests.command.missing, rests.output.missing, rests.drive.cause]).toEqual([0, 0, 'none']);
  // The module holds what it was asked last: there the command misses three before its first pulse.
  const holds = prime([0.1, 4], [0, 4], 35);
  expect([holds.command.missing, holds.output.missing, holds.drive.cause]).toEqual([3, 0, 'upstream']);
});

it('takes a slow command that rests for a tenth of a second at an edge as one that isn’t asked, beside an output that never comes', () => {
  const sampleRateHz = 20_000;
  for (const hz of [10, 20, 30]) {
    const commandV = pulsed(hz, [0, 2.95], 3 + 4 / hz);
    const outputV = commandV.map(() => 0.1);
    const { command, drive } = analyze({ sampleRateHz, commandV, outputV });
    expect([hz, command.missing, drive.cause]).toEqual([hz, 0, 'module']);
    expect(Math.abs(command.untilS! - 3)).toBeLessThan(1.01 / hz);
  }
});

it('leaves open who is to blame where the output goes on without its command', () => {
  const hers = prime([1, 2], [1.05, 4]);
  expect([hers.command.missing, hers.output.missing, hers.drive.cause]).toEqual([0, 0, 'undetermined']);
  expect(hers.drive.because).toMatch(
    /from 1\.00 s until 2\.00 s, and the output is switched beyond that: the command was lost/,
  );
  expect(prime([2, 4], [1, 4]).drive.cause).toBe('undetermined');
});

it('measures a supply that the key switches while the module is switched, and no other time', () => {
  const lasts = { commandV: pulsed(150, [1, 3], 4), outputV: pulsed(1000, [1.05, 3], 4, 13.4) };
  const supplyV = lasts.commandV.map((_, i) => (i >= 0.98 * 20_000 && i < 3.02 * 20_000 ? 13.5 : 0));
  const { drive } = analyze({ sampleRateHz: 20_000, ...lasts, supplyV });
  expect(drive.cause).toBe('none');
  expect(drive.outputDropV).toBeCloseTo(0.1, 1);
});

it('tells the same of a record whose rests are cut off, or as long again', () => {
  const keys = [[0.4, 1.6] as const, [0.45, 1.61] as const] as const;
  const lines = { commandV: pulsed(150, keys[0], 2), outputV: pulsed(1000, keys[1], 2, 13.4) };
  const rate = 20_000;
  const told = (lead: number, trail: number) => {
    const around = (samples: Float32Array) => {
      const out = new Float32Array(samples.length + lead + trail).fill(0.1);
      out.set(samples.subarray(Math.max(0, -lead), samples.length + Math.min(0, trail)), Math.max(0, lead));
      return out;
    };
    const { command, output, drive } = analyze({
      ...{ sampleRateHz: rate, commandV: around(lines.commandV), outputV: around(lines.outputV) },
    });
    return { missing: [command.missing, output.missing], cause: drive.cause, command, output };
  };
  const whole = told(0, 0);
  expect(whole).toMatchObject({ missing: [0, 0], cause: 'none' });
  for (const [lead, trail] of [
    [rate, 0],
    [0, rate],
    [2 * rate, 3 * rate],
    [-0.3 * rate, -0.3 * rate],
  ]) {
    const other = told(lead, trail);
    expect([lead, trail, other.missing, other.cause]).toEqual([lead, trail, [0, 0], 'none']);
    for (const line of ['command', 'output'] as const) {
      expect(other[line].usualDutyPercent).toBeCloseTo(whole[line].usualDutyPercent!, 1);
      expect(other[line].dutyPercent).toBeCloseTo(whole[line].dutyPercent, 1);
      expect(other[line].frequencyHz).toBeCloseTo(whole[line].frequencyHz, 1);
    }
  }
});

describe('two primes in one record', () => {
  const primes = [
    [1, 3],
    [6, 8],
  ] as const;
  const both = (hz: number, given: readonly (readonly [number, number])[], highV: number) =>
    given.map((span) => pulsed(hz, span, 9, highV)).reduce((sum, one) => sum.map((v, i) => Math.max(v, one[i])));
  const analyzed = (
    given: readonly (readonly [number, number])[],
    asked: readonly (readonly [number, number])[] = primes,
  ) => analyze({ sampleRateHz: 20_000, commandV: both(150, asked, 5), outputV: both(1000, given, 13.4) });

  it('miss nothing between them, and are no sweep', () => {
    const { command, output, drive, sweep } = analyzed([
      [1.1, 3.01],
      [6.2, 8.02],
    ]);
    expect([command.missing, output.missing, drive.cause]).toEqual([0, 0, 'none']);
    expect(drive.because).toMatch(/asked, from 1\.00 s until 3\.00 s and from 6\.00 s until 8\.00 s, arrives/);
    expect(drive.because).toMatch(/if the key stayed on then, the command was lost before the module/);
    expect(command.dutyPercent).toBeCloseTo(40, 0);
    expect(output.dutyPercent).toBeCloseTo(output.usualDutyPercent!, 1);
    expect(command.trend!.every(({ dutyPercent }) => Math.abs(dutyPercent - 40) < 3)).toBe(true);
    expect(sweep).toBeUndefined();
  });

  it('blame a module that answers one of them alone, and count what was asked', () => {
    for (const answered of primes) {
      const { command, output, drive } = analyzed([answered]);
      expect([command.missing, drive.cause]).toEqual([0, 'module']);
      // Two seconds, less the time to wake where the module never did.
      expect(output.missing).toBeGreaterThan(1650);
      expect(output.missing).toBeLessThan(2010);
      expect(output.dutyPercent).toBeGreaterThan(19);
      expect(output.dutyPercent).toBeLessThan(23);
    }
  });

  it('leave open why an output goes on between them', () => {
    expect(analyzed([[1.1, 8]]).drive).toMatchObject({ cause: 'undetermined' });
  });
});
