import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import fc from 'fast-check';
import { InputError } from '../src/errors.js';
import { readCapture } from '../src/formats/formats.js';
import { writeMat } from '../src/formats/mat-writer.js';

// The fixtures were written by another implementation (SciPy 1.17, scipy.io.savemat): 5 A with 0.3 A of 600 Hz, and the volts
// that 12.5 V behind 0.3 ohm leave, at 10 kS/s for 0.2 s.

const fixture = (name: string) => readFileSync(join(__dirname, 'fixtures', name));
const mean = (samples: Float32Array) => samples.reduce((sum, value) => sum + value, 0) / samples.length;

it('reads compressed vectors with a time beside them, integers and units by name, and names what it passes over', () => {
  const { channels, sampleRateHz, notes } = readCapture('a.mat', fixture('signals-v7.mat'));
  expect(sampleRateHz).toBeCloseTo(10_000, 3);
  expect(channels.map(({ name, unit, fileFactor }) => [name, unit, fileFactor])).toEqual([
    ['Pump current', 'A', 1],
    ['Feed', 'V', 1e-3],
  ]);
  expect(mean(channels[0].samples)).toBeCloseTo(5, 3);
  expect(mean(channels[1].samples)).toBeCloseTo(11, 2);
  expect(notes).toEqual([expect.stringMatching(/Not read: extra \(struct\)/)]);
});

it('reads an uncompressed matrix by its columns, with the rate from a scalar', () => {
  const { channels, sampleRateHz } = readCapture('b.mat', fixture('matrix-v6.mat'));
  expect(sampleRateHz).toBe(10_000);
  expect(channels.map(({ name, samples }) => [name, samples.length])).toEqual([
    ['data 1', 2000],
    ['data 2', 2000],
  ]);
});

it('reads rows as well as columns, and leaves out another rate and complex numbers, and says so', () => {
  const { channels, sampleRateHz, notes } = readCapture('c.mat', fixture('rows.mat'));
  expect(sampleRateHz).toBeCloseTo(10_000, 6);
  expect(channels).toHaveLength(1);
  expect(notes.join(' ')).toMatch(/slow_V: another number of samples/);
  expect(notes.join(' ')).toMatch(/z \(complex numbers\)/);
});

it('what is written is read again to the last bit', () => {
  const channel = fc.record({
    name: fc.constantFrom('Pump current', 'Feed voltage', 'Kanal 2', '1', 'ÄÖ'),
    unit: fc.constantFrom('A', 'V', 'Pa', '1'),
    samples: fc.float32Array({ minLength: 32, maxLength: 32, noNaN: true, noDefaultInfinity: true }),
  });
  fc.assert(
    fc.property(fc.array(channel, { minLength: 1, maxLength: 5 }), fc.integer({ min: 1, max: 1e6 }), (drawn, rate) => {
      fc.pre(drawn.some(({ samples }) => samples.some((value) => value !== 0)));
      const channels = drawn.map((one) => ({ ...one, fileFactor: 1 }) as const);
      const bytes = writeMat({ channels, sampleRateHz: rate, startS: -0.25, notes: [] });
      const read = readCapture('x.mat', bytes);
      expect(read).toMatchObject({ sampleRateHz: rate, startS: -0.25 });
      expect(read.channels.map(({ unit }) => unit)).toEqual(channels.map(({ unit }) => unit));
      read.channels.forEach(({ samples }, i) => expect([...samples]).toEqual([...channels[i].samples]));
    }),
    { numRuns: 40, seed: 3 },
  );
});

it('whatever is changed or cut, it is read or refused in one sentence', () => {
  for (const name of ['signals-v7.mat', 'matrix-v6.mat']) {
    const bytes = fixture(name);
    fc.assert(
      fc.property(
        fc.nat(bytes.length - 1),
        fc.nat(255),
        fc.integer({ min: 1, max: bytes.length }),
        (at, value, end) => {
          const spoilt = Uint8Array.from(bytes.subarray(0, end));
          if (at < end) spoilt[at] = value;
          try {
            readCapture('x.mat', spoilt);
          } catch (error) {
            expect(error).toBeInstanceOf(InputError);
          }
        },
      ),
      { numRuns: 300, seed: 7 },
    );
  }
});

it.each([
  ['a MAT-file of level 7.3', Buffer.concat([header(0x0200), Buffer.alloc(64)]), /version 7\.3/],
  ['another file by that name', Buffer.from('x'.repeat(400)), /no MAT-file of level 5/],
  [
    'one without a clock',
    Buffer.from(writeMat(aCapture()).subarray(0, 128 + 208)),
    /no time vector and no sample rate/,
  ],
])('refuses %s', (_, bytes, reason) => {
  expect(() => readCapture('x.mat', bytes)).toThrow(reason);
});

function aCapture() {
  const samples = Float32Array.from({ length: 36 }, (_, i) => Math.sin(i));
  return {
    sampleRateHz: 100,
    startS: 0,
    notes: [],
    channels: [{ name: 'a', unit: 'V', fileFactor: 1, samples }],
  } as const;
}

function header(version: number): Buffer {
  const bytes = Buffer.alloc(128, ' ');
  bytes.write('MATLAB 7.3 MAT-file');
  bytes.writeUInt16LE(version, 124);
  bytes.write('IM', 126);
  return bytes;
}
