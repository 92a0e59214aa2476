import fc from 'fast-check';
import Papa from 'papaparse';
import {
  csvBlocks,
  CsvReader,
  findUnit,
  InputError,
  readCapture,
  readWav,
  writeWav,
  type Capture,
} from '../src/index.js';

// Reading and writing against a reference package and against themselves, over any file that people could have.

const encode = (text: string) => new TextEncoder().encode(text);

/** A table of numbers as some scope might have written it. */
const dialect = fc.record({
  delimiter: fc.constantFrom(',', ';', '\t'),
  comma: fc.boolean(),
  newline: fc.constantFrom('\n', '\r\n'),
  bom: fc.boolean(),
  comments: fc.integer({ min: 0, max: 4 }),
  unitsRow: fc.boolean(),
  quoted: fc.boolean(),
  trailing: fc.boolean(),
  timeUnit: fc.constantFrom('s', 'ms', 'us'),
  unit: fc.constantFrom('V', 'mV', 'A', 'mA'),
  columns: fc.integer({ min: 1, max: 4 }),
  rows: fc.integer({ min: 20, max: 120 }),
  rateHz: fc.constantFrom(100, 1000, 10_000, 50_000),
  seed: fc.integer({ min: 1, max: 1e6 }),
});
type Dialect = typeof dialect extends fc.Arbitrary<infer T> ? T : never;

const TIME_FACTOR = { s: 1, ms: 1e-3, us: 1e-6 } as const;

/** Plain numbers, so that text and number agree exactly. */
const valueAt = (seed: number, row: number, column: number) => (((seed % 97) + 7 * row + 31 * column) % 401) / 8 - 20;

function write(d: Dialect): string {
  const decimal = (value: number) => (d.comma && d.delimiter !== ',' ? String(value).replace('.', ',') : String(value));
  const quote = (text: string) => (d.quoted ? `"${text}"` : text);
  const names = Array.from({ length: d.columns }, (_, c) => `CH ${'ABCD'[c]}`);
  const line = (cells: readonly string[]) => cells.join(d.delimiter) + (d.trailing ? d.delimiter : '');
  const header = d.unitsRow
    ? [line(['Time', ...names].map(quote)), line([d.timeUnit, ...names.map(() => d.unit)].map((unit) => `(${unit})`))]
    : [line([`Time (${d.timeUnit})`, ...names.map((name) => `${name} (${d.unit})`)].map(quote))];
  const body = Array.from({ length: d.rows }, (_, row) => {
    const time = Number((row / d.rateHz / TIME_FACTOR[d.timeUnit]).toPrecision(12));
    return line([time, ...names.map((_, c) => valueAt(d.seed, row, c))].map(decimal));
  });
  const comments = Array.from({ length: d.comments }, (_, i) => `# remark ${i}, with a comma; and a semicolon`);
  return (d.bom ? '\ufeff' : '') + [...comments, ...header, ...body].join(d.newline) + d.newline;
}

describe('CSV of any dialect', () => {
  it('is read as it was written: names, rate, units and every number', () => {
    fc.assert(
      fc.property(dialect, (d) => {
        const capture = readCapture('any.csv', encode(write(d)));
        expect(capture.channels.map(({ name }) => name)).toEqual(
          Array.from({ length: d.columns }, (_, c) => `CH ${'ABCD'[c]}`),
        );
        expect(Math.abs(capture.sampleRateHz / d.rateHz - 1)).toBeLessThan(1e-6);
        const factor = findUnit(d.unit)!.factor;
        capture.channels.forEach(({ samples, unit }, c) => {
          expect(unit).toBe(d.unit.slice(-1));
          expect(samples).toHaveLength(d.rows);
          samples.forEach((value, row) => expect(value).toBe(Math.fround(valueAt(d.seed, row, c) * factor)));
        });
      }),
      { numRuns: 150 },
    );
  });

  it('is read like papaparse reads it, wherever that can', () => {
    fc.assert(
      fc.property(dialect, (d) => {
        const plain = {
          ...d,
          comma: false,
          comments: 0,
          unitsRow: false,
          trailing: false,
          unit: 'V' as const,
          timeUnit: 's' as const,
        };
        const text = write(plain);
        const { data } = Papa.parse<string[]>(text.replace('\ufeff', ''), {
          delimiter: d.delimiter,
          skipEmptyLines: true,
        });
        const { channels } = readCapture('any.csv', encode(text));
        channels.forEach(({ samples }, c) => {
          expect([...samples]).toEqual(data.slice(1).map((row) => Math.fround(Number(row[c + 1]))));
        });
      }),
      { numRuns: 60 },
    );
  });

  it('comes out the same however its bytes arrive', () => {
    fc.assert(
      fc.property(dialect, fc.array(fc.integer({ min: 1, max: 500 }), { maxLength: 30 }), (d, cuts) => {
        const bytes = encode(write({ ...d, rows: 5000 }));
        const reader = new CsvReader();
        let at = 0;
        for (const cut of cuts) {
          reader.push(bytes.subarray(at, at + cut * 97));
          at += cut * 97;
        }
        reader.push(bytes.subarray(at));
        const whole = readCapture('any.csv', bytes);
        expect(reader.finish()).toEqual(whole);
      }),
      { numRuns: 25 },
    );
  });

  it('is refused in one line when any one number in it is spoilt', () => {
    fc.assert(
      fc.property(dialect, fc.nat(), fc.constantFrom('x', '1.2.3', '--', 'NaN', '1e', '0x10'), (d, where, spoilt) => {
        const plain = { ...d, comments: 0, unitsRow: false, bom: false, trailing: false };
        const lines = write(plain).split(d.newline);
        const row = 1 + (where % d.rows);
        const cells = lines[row].split(d.delimiter);
        cells[1] = spoilt;
        lines[row] = cells.join(d.delimiter);
        const read = () => readCapture('any.csv', encode(lines.join(d.newline)));
        expect(read).toThrow(InputError);
        expect(read).toThrow(new RegExp(`^Row ${row + 1}, column "CH A": `));
      }),
      { numRuns: 80 },
    );
  });

  it('goes out and comes back the same', () => {
    fc.assert(
      fc.property(captures(), (capture) => {
        const bytes = Buffer.concat([...csvBlocks(capture)]);
        const back = readCapture('back.csv', bytes);
        expect(back.channels.map(({ name, unit }) => [name, unit])).toEqual(
          capture.channels.map(({ name, unit }) => [name, unit]),
        );
        back.channels.forEach(({ samples }, c) => {
          samples.forEach((value, i) => expect(value).toBeCloseTo(capture.channels[c].samples[i], 5));
        });
      }),
      { numRuns: 40 },
    );
  });
});

function captures(): fc.Arbitrary<Capture> {
  const samples = fc
    .array(fc.float({ min: -40, max: 40, noNaN: true }), { minLength: 20, maxLength: 80 })
    .filter((values) => values.some((value) => value !== 0));
  return fc.tuple(samples, fc.constantFrom(1000, 8000, 44_100)).map(([values, sampleRateHz]) => ({
    sampleRateHz,
    startS: 0,
    notes: [],
    channels: ['A', 'B'].map((letter, c) => ({
      name: `clamp ${letter}`,
      unit: 'A' as const,
      fileFactor: 1,
      samples: Float32Array.from(values, (value) => value * (c + 1)),
    })),
  }));
}

describe('WAV', () => {
  it('keeps every sample within a step of its format, whatever it holds', () => {
    fc.assert(
      fc.property(captures(), (capture) => {
        const back = readWav(writeWav(capture));
        expect(back.sampleRateHz).toBe(capture.sampleRateHz);
        expect(back.channels).toHaveLength(2);
        // WAV has no amperes: the scale is one factor for the whole file.
        const [first] = capture.channels;
        const largest = first.samples.reduce(
          (i, value, k) => (Math.abs(value) > Math.abs(first.samples[i]) ? k : i),
          0,
        );
        const factor = first.samples[largest] / back.channels[0].samples[largest];
        capture.channels.forEach(({ samples }, c) =>
          samples.forEach((value, i) => expect(back.channels[c].samples[i] * factor).toBeCloseTo(value, 3)),
        );
      }),
      { numRuns: 40 },
    );
  });

  const [HEAD_BYTES, FRAME_BYTES, FEWEST_FRAMES] = [44, 4, 16];

  it('is read as far as it goes when cut anywhere, and never crashes on spoilt bytes', () => {
    const wav = writeWav({
      sampleRateHz: 1000,
      startS: 0,
      notes: [],
      channels: [
        { name: 'a', unit: 'A', fileFactor: 1, samples: Float32Array.from({ length: 50 }, (_, i) => Math.sin(i)) },
      ],
    });
    for (let length = 0; length < wav.length; length++) {
      const cut = wav.subarray(0, length);
      const frames = Math.floor((length - HEAD_BYTES) / FRAME_BYTES);
      if (frames < FEWEST_FRAMES) expect(() => readCapture('cut.wav', cut)).toThrow(InputError);
      else {
        const { channels, notes } = readCapture('cut.wav', cut);
        expect(channels[0].samples).toHaveLength(frames);
        expect(notes[0]).toMatch(/cut off/);
      }
    }
    fc.assert(
      fc.property(fc.nat(wav.length - 1), fc.integer({ min: 0, max: 255 }), (at, byte) => {
        const spoilt = wav.slice();
        spoilt[at] = byte;
        try {
          readCapture('spoilt.wav', spoilt);
        } catch (error) {
          expect(error).toBeInstanceOf(InputError);
        }
      }),
      { numRuns: 400 },
    );
  });
});
