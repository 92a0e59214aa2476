import fc from 'fast-check';
import { csvBlocks } from '../src/formats/csv-writer.js';
import type { ByteSource } from '../src/formats/byte-source.js';
import { readCapture, readCsv } from '../src/formats/formats.js';
import { jsonBlocks } from '../src/formats/json-capture.js';
import type { Capture } from '../src/capture/capture.js';
import { scanNumber } from '../src/formats/number-scanner.js';
import { encodeText } from '../src/formats/text.js';
import { asRecord, signalOf, statedFor } from '../src/capture/signal-record.js';
import { readWav, writeWav } from '../src/formats/wav.js';

const rows = (line: (i: number) => string, count = 40) => Array.from({ length: count }, (_, i) => line(i)).join('\n');
const read = (text: string, rateHz?: number) => readCsv(encodeText(text), rateHz === undefined ? {} : { rateHz });

describe('CSV dialects', () => {
  it.each([
    ['comma, header', `Time,Current\n${rows((i) => `${i * 0.001},${i / 10}`)}`, 1000, 'Current', '1', 0.1],
    ['units row', `Time,A\n(ms),(mV)\n\n${rows((i) => `${i},${i * 100}`)}`, 1000, 'A', 'V', 0.1],
    [
      'semicolon, decimal comma, BOM, CRLF',
      `\uFEFF"Zeit [s]";"Pumpe [mA]"\r\n${rows((i) => `${(i * 0.0005).toFixed(4).replace('.', ',')};${i},5`)}\r\n`,
      2000,
      'Pumpe',
      'A',
      0.001,
    ],
    ['tab, microseconds', `t (µs)\tClamp_A\n${rows((i) => `${i * 20}\t${i}`)}`, 50_000, 'Clamp', 'A', 1],
    [
      'comments and metadata above',
      `# a scope\n# Sample rate,10000\nModel,none\n\nTime (s),"CH1 (V)"\n${rows((i) => `${i / 1e4},${i}e-1`)}`,
      10_000,
      'CH1',
      'V',
      0.1,
    ],
    ['no header at all', rows((i) => `${(i * 0.01).toFixed(2)},${i}`), 100, 'column 2', '1', 1],
    ['trailing delimiter', `Time,X,\n${rows((i) => `${i * 0.001},${i},`)}`, 1000, 'X', '1', 1],
  ])('reads %s', (_name, text, rateHz, name, unit, slope) => {
    const capture = read(text);
    expect(capture.sampleRateHz).toBeCloseTo(rateHz, 3);
    expect(capture.channels).toHaveLength(1);
    expect(capture.channels[0]).toMatchObject({ name, unit });
    const { samples } = capture.channels[0];
    expect(samples).toHaveLength(40);
    expect(samples[30] - samples[20]).toBeCloseTo(10 * slope, 5);
  });

  it('takes the rate given, or the one stated, when there is no time column', () => {
    const body = rows((i) => String(Math.sin(i)));
    expect(read(`A\n${body}`, 5000).sampleRateHz).toBe(5000);
    expect(read(`Sample interval: 20 us\nA\n${body}`).sampleRateHz).toBeCloseTo(50_000);
    expect(() => read(`A\n${body}`)).toThrow(/no time column/);
  });

  it('reports repeated stamps and interpolates uneven ones', () => {
    const coarse = read(`Time,A\n${rows((i) => `${(i * 0.0004).toFixed(3)},${i}`, 200)}`);
    expect(coarse.notes.join()).toMatch(/repeat/);
    expect(coarse.sampleRateHz).toBeCloseTo(2500, -2);
    const uneven = read(`Time,A\n${rows((i) => `${i < 20 ? i : i + 30},${i < 20 ? i : i + 30}`)}`);
    expect(uneven.notes.join()).toMatch(/uneven/);
    expect(uneven.channels[0].samples[35]).toBeCloseTo(35, 3);
  });

  it('gives the same however the bytes are cut', () => {
    const bytes = encodeText(`Time,A\r\n${rows((i) => `${i * 1e-5},${(i * 7) % 13}.25`, 9000)}`);
    const whole = readCapture('x.csv', bytes);
    expect(whole.channels[0].samples).toHaveLength(9000);
    expect(whole.channels[0].samples[8999]).toBe(((8999 * 7) % 13) + 0.25);
  });
});

describe('bad files get one clear line', () => {
  const jpeg = Uint8Array.from([0xff, 0xd8, 0xff, 0xe0, 0, 16, 74, 70, 73, 70, 0, 1, 2, 3]);
  it.each([
    ['empty', new Uint8Array(0), /empty/],
    ['a picture', jpeg, /not CSV text/],
    ['header only', encodeText('Time,Current\n'), /No row of numbers/],
    ['one column, the time', encodeText(`Time (s)\n${rows((i) => String(i))}`), /Only one column/],
    [
      'text in a number column',
      encodeText(`Time,A\n${rows((i) => `${i},${i === 30 ? 'oops' : i}`)}`),
      /Row 32, column "A": "oops"/,
    ],
    [
      'NaN',
      encodeText(`Time,A\n${rows((i) => `${i},${i === 30 ? 'NaN' : i}`)}`),
      /Row 32, column "A": "NaN" is not a number/,
    ],
    ['text early on', encodeText(`Time,A\n${rows((i) => `${i},${i === 4 ? '--' : i}`)}`), /Row 6, column "A": "--"/],
    ['all zeros', encodeText(`Time,A\n${rows((i) => `${i},0.000`)}`), /exactly 0: nothing was recorded/],
    ['no time', encodeText(`A,B\n${rows((i) => `${(i * 7) % 5},${(i * 3) % 7}`)}`), /no time column/],
    ['off range', encodeText(`Time,A\n${rows((i) => `${i},${i === 30 ? '∞' : i}`)}`), /off the scope's range/],
    ['3 samples', encodeText('Time,A\n0,1\n1,2\n2,3\n'), /Only 3 rows/],
    [
      'cut off in its midst',
      encodeText(`Time,A,B\n${rows((i) => (i === 20 ? '20,4' : `${i},${i},${i}`))}\n`),
      /cut off/,
    ],
    ['backwards', encodeText(`Time,A\n${rows((i) => `${i === 30 ? 2 : i},1`)}`), /backwards/],
  ])('%s', (_name, bytes, message) => {
    expect(() => readCapture('capture.csv', bytes)).toThrow(message);
  });

  it('an unknown WAV, and one that ends before its samples', () => {
    const wav = writeWav(read(`Time,A\n${rows((i) => `${i / 1000},${i}`)}`));
    expect(() => readWav(wav.subarray(0, 30))).toThrow(/cut off/);
    const unknown = wav.slice();
    unknown[20] = 2;
    expect(() => readWav(unknown)).toThrow(/format 2/);
  });
});

describe('files that ask for more than a recorder writes', () => {
  /** A file of any claimed size whose bytes are made when they are read; refuses to be read past `most`. */
  const claimed = (size: number, make: (at: number) => number, most: number): ByteSource => ({
    size,
    read(at, length) {
      if (at + length > most) throw new Error(`read to ${at + length} of ${most} bytes`);
      return Uint8Array.from({ length: Math.min(length, size - at) }, (_, i) => make(at + i));
    },
  });
  const MEBIBYTE = 1 << 20;

  it('refuses a line without end at its beginning', () => {
    const one = claimed(21 * MEBIBYTE, () => 49, 2 * MEBIBYTE);
    expect(() => readCapture('a.csv', one)).toThrow(/over 64 KiB long/);
    const table = encodeText(`Time,A\n${rows((i) => `${i},${i}`)}\n`);
    const late = claimed(21 * MEBIBYTE, (at) => table[at] ?? 49, 2 * MEBIBYTE);
    expect(() => readCapture('a.csv', late)).toThrow(/over 64 KiB long/);
  });

  it('refuses more than 64 channels, and numbers equal names up to that', () => {
    const table = (width: number) =>
      encodeText(`${'same,'.repeat(width - 1)}same\n${rows((i) => `${(i * 7) % 5},`.repeat(width - 1) + i)}`);
    expect(() => readCapture('a.csv', table(2000), { rateHz: 1000 })).toThrow(/2000 channels; Jarro reads up to 64/);
    const { channels } = readCapture('a.csv', table(64), { rateHz: 1000 });
    expect(new Set(channels.map(({ name }) => name)).size).toBe(64);
    const empty = encodeText(`A${','.repeat(3000)}\n${rows((i) => `${i}${','.repeat(3000)}`)}`);
    expect(() => readCapture('a.csv', empty, { rateHz: 1000 })).toThrow(/nearly all of them empty/);
  });

  it('judges a WAV by its header, before anything of its size is allocated', () => {
    const header = (channels: number, dataBytes: number) => {
      const wav = writeWav(read(`Time,A\n${rows((i) => `${i / 1000},${i}`)}`)).slice(0, 44);
      const view = new DataView(wav.buffer);
      view.setUint16(22, channels, true);
      view.setUint32(40, dataBytes, true);
      return claimed(44 + dataBytes, (at) => wav[at] ?? 1, 64);
    };
    expect(() => readWav(header(65_535, 255 * MEBIBYTE))).toThrow(/65535 channels/);
    expect(() => readWav(header(1, 255 * MEBIBYTE))).toThrow(/more than 40 million samples/);
    // Chunks of no length would be walked one by one.
    const hollow = claimed(
      255 * MEBIBYTE,
      (at) => (at < 12 ? writeWav(read(`Time,A\n${rows((i) => `${i},${i}`)}`))[at] : 0),
      MEBIBYTE,
    );
    expect(() => readWav(hollow)).toThrow(/cut off before its samples/);
  });

  it.each([
    ['steps that no number can count', (i: number) => `${i * 5e-320},${i}`, /can't be|never moves/],
    ['a sample every year', (i: number) => `${i * 3e7},${i}`, /sample rate of .* can't be/],
    ['a number beyond any float', (i: number) => `${i},${i === 20 ? '1e300' : i}`, /off the scope's range/],
  ])('refuses %s', (_name, line, message) => {
    expect(() => readCapture('a.csv', encodeText(`Time (s),A\n${rows(line)}`))).toThrow(message);
  });

  it('refuses a stated rate that no recorder has, and a scale that makes no signal', () => {
    const table = encodeText(`A,B\n${rows((i) => `${(i * 7) % 5},${(i * 3) % 7}`)}`);
    for (const rateHz of [1e-9, 1e300]) expect(() => readCapture('a.csv', table, { rateHz })).toThrow(/can't be/);
    const [channel] = asRecord(readCapture('a.csv', table, { rateHz: 1000 })).channels;
    const signal = signalOf(channel, { role: 'pump_current', factor: 1e300 });
    expect(() => signal.source.read(0, 10)).toThrow(/too large to be a signal/);
  });
});

describe('what is there of a cut-off file is read, with a note', () => {
  it('CSV that ends within a row', () => {
    const { channels, notes } = readCapture('a.csv', encodeText(`Time,A,B\n${rows((i) => `${i},${i},${i}`)}\n40,4`));
    expect(channels.map(({ samples }) => samples.length)).toEqual([40, 40]);
    expect(notes[0]).toMatch(/ends within a row/);
  });

  it('WAV that is shorter than its header says', () => {
    const wav = writeWav(read(`Time,A\n${rows((i) => `${i / 1000},${i}`)}`));
    const { channels, notes } = readWav(wav.subarray(0, 44 + 25 * 4 + 2));
    expect([...channels[0].samples]).toEqual(Array.from({ length: 25 }, (_, i) => i));
    expect(notes[0]).toMatch(/promises 40 samples and 25 are there/);
  });
});

describe('headers', () => {
  it('finds a channel by its header as the file writes it, or shortened', () => {
    const table = (header: string) => read(`Time (s),${header}\n${rows((i) => `${i / 1000},${i % 7}`)}`);
    for (const [header, name] of [
      ['Pump current (mV)', 'Pump current'],
      ['I_pump_A', 'I_pump'],
    ]) {
      const capture = table(header);
      expect(capture.channels[0]).toMatchObject({ name, header });
      for (const stated of [header, name]) {
        const [channel] = asRecord(capture).channels;
        expect(statedFor(channel, { [stated]: { factor: 3 } })).toEqual({ factor: 3 });
      }
    }
  });

  it('reads settings of up to a mebibyte before the table', () => {
    const settings = Array.from(
      { length: 9000 },
      (_, i) => `# channel ${i} setting, range ${i % 20} V, note "kept as the scope wrote it"`,
    );
    const text = `${settings.join('\n')}\nTime,A\n${rows((i) => `${i / 1000},${i}`)}\n`;
    expect(text.length).toBeGreaterThan(500_000);
    const capture = readCapture('long.csv', encodeText(text));
    expect(capture.channels[0].samples).toHaveLength(40);
  });
});

/** A WAV of one channel with its head as asked for. */
function wavOf({ family = 'RIFF', bits = 16, container = 2, values = [] as number[] }): Uint8Array {
  const little = family !== 'RIFX';
  const long = family === 'RF64' ? 36 : 0;
  const bytes = new Uint8Array(44 + long + values.length * container);
  const view = new DataView(bytes.buffer);
  const put = (at: number, text: string) => [...text].forEach((c, i) => view.setUint8(at + i, c.charCodeAt(0)));
  put(0, family);
  view.setUint32(4, long ? 0xffffffff : bytes.length - 8, little);
  put(8, 'WAVE');
  if (long) {
    put(12, 'ds64');
    view.setUint32(16, 28, little);
    view.setBigUint64(20, BigInt(bytes.length - 8), little);
    view.setBigUint64(28, BigInt(values.length * container), little);
  }
  const at = 12 + long;
  put(at, 'fmt ');
  view.setUint32(at + 4, 16, little);
  view.setUint16(at + 8, 1, little);
  view.setUint16(at + 10, 1, little);
  view.setUint32(at + 12, 8000, little);
  view.setUint32(at + 16, 8000 * container, little);
  view.setUint16(at + 20, container, little);
  view.setUint16(at + 22, bits, little);
  put(at + 24, 'data');
  view.setUint32(at + 28, long ? 0xffffffff : values.length * container, little);
  values.forEach((value, i) => {
    const from = at + 32 + i * container;
    for (let k = 0; k < container; k++) {
      view.setUint8(from + k, (value >> (8 * (little ? k : container - 1 - k))) & 0xff);
    }
  });
  return bytes;
}

describe('WAV of every make', () => {
  const sixteenBits = Array.from({ length: 40 }, (_, i) => (i - 20) * 1600);
  it.each([
    ['RF64', { family: 'RF64', values: sixteenBits }, 32768],
    ['big-endian', { family: 'RIFX', values: sixteenBits }, 32768],
    ['12 bits in 16', { bits: 12, values: sixteenBits }, 32768],
    ['20 bits in 24', { bits: 20, container: 3, values: sixteenBits.map((v) => v * 256) }, 8388608],
    [
      'big-endian 24 bits',
      { family: 'RIFX', bits: 24, container: 3, values: sixteenBits.map((v) => v * 256) },
      8388608,
    ],
  ])('%s', (_name, spec, fullScale) => {
    const { channels, sampleRateHz, notes } = readCapture('a.wav', wavOf(spec));
    expect(sampleRateHz).toBe(8000);
    expect(notes).toEqual([]);
    expect([...channels[0].samples]).toEqual(spec.values.map((value) => Math.fround(value / fullScale)));
  });
});

describe('round trips', () => {
  it('CSV and WAV give back what was written', () => {
    fc.assert(
      fc.property(
        fc.array(fc.float({ min: -50, max: 50, noNaN: true }), { minLength: 20, maxLength: 60 }),
        fc.integer({ min: 100, max: 500_000 }),
        (values, sampleRateHz) => {
          const samples = Float32Array.from(values);
          const capture = {
            sampleRateHz,
            startS: 0,
            channels: [{ name: 'Pump, "the" clamp', unit: 'A' as const, fileFactor: 1, samples }],
            notes: [],
          };
          const parts = [...csvBlocks(capture)].map((part) => Buffer.from(part));
          const csv = readCsv(Buffer.concat(parts));
          expect(csv.channels[0].name).toBe('Pump, "the" clamp');
          expect(csv.sampleRateHz / sampleRateHz).toBeCloseTo(1, 4);
          csv.channels[0].samples.forEach((value, i) => expect(value).toBeCloseTo(samples[i], 5));
          expect(readWav(writeWav(capture)).channels[0].samples).toEqual(samples);
        },
      ),
      { numRuns: 60 },
    );
  });

  it('scans numbers exactly as the language does', () => {
    const check = (text: string) => scanNumber(encodeText(text), 0, text.length, 46);
    fc.assert(
      fc.property(fc.double({ noNaN: true, noDefaultInfinity: true }), (x) => check(String(x)) === Number(String(x))),
    );
    fc.assert(
      fc.property(fc.integer(), fc.nat(99999), fc.integer({ min: -30, max: 30 }), (a, b, e) => {
        const text = `${a}.${b}e${e}`;
        return check(text) === Number(text);
      }),
    );
    for (const bad of ['', '-', '1e', '1.2.3', 'e5', '1 2', '0x10', '--1']) expect(check(bad)).toBeNaN();
  });

  it('decodes 8, 16 and 24 bit PCM at full scale', () => {
    for (const [bits, lowest] of [
      [8, [0]],
      [16, [0, 0x80]],
      [24, [0, 0, 0x80]],
    ] as const) {
      const width = bits / 8;
      const data = new Uint8Array(44 + 20 * width);
      data.set(writeWav({ sampleRateHz: 8000, startS: 0, channels: [], notes: [] }).subarray(0, 44));
      const view = new DataView(data.buffer);
      view.setUint16(20, 1, true);
      view.setUint16(22, 1, true);
      view.setUint16(34, bits, true);
      view.setUint32(40, 20 * width, true);
      for (let i = 0; i < 20; i++) data.set(lowest, 44 + i * width);
      expect([...readWav(data).channels[0].samples]).toEqual(new Array(20).fill(-1));
    }
  });
});

describe('a capture as JSON', () => {
  const written = (capture: Capture) => Buffer.concat([...jsonBlocks(capture)]);

  it('comes back to the bit, whatever it holds', () => {
    const sample = fc.float({ noNaN: true, noDefaultInfinity: true });
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 400 }).chain((length) =>
          fc.array(fc.float32Array({ minLength: length, maxLength: length, noNaN: true, noDefaultInfinity: true }), {
            minLength: 1,
            maxLength: 4,
          }),
        ),
        fc.string(),
        sample,
        (signals, name, startS) => {
          const channels = signals.map((samples, i) => ({
            name: `${name}${i}`,
            unit: 'A' as const,
            fileFactor: 1,
            samples,
          }));
          const capture = { sampleRateHz: 10_000, startS, channels, notes: [] };
          if (signals.every((samples) => samples.every((value) => value === 0))) return;
          const back = readCapture('x.json', written(capture));
          // JSON knows no minus zero.
          expect(back.startS).toBe(startS + 0);
          back.channels.forEach(({ samples }, i) =>
            expect([...samples].map((v) => v + 0)).toEqual([...signals[i]].map((v) => v + 0)),
          );
        },
      ),
      { numRuns: 60 },
    );
  });

  it.each([
    ['{"format":"jarro.case/1"}', /"format" must be "jarro.capture\/1"/],
    ['{"format"', /not valid JSON/],
    ['{"format":"jarro.capture/1","sampleRateHz":0}', /sampleRateHz/],
    ['{"format":"jarro.capture/1","sampleRateHz":10,"channels":[]}', /one channel/],
    ['{"format":"jarro.capture/1","sampleRateHz":10,"channels":[{"name":"a","samples":["1"]}]}', /list of numbers/],
    [
      '{"format":"jarro.capture/1","sampleRateHz":10,"channels":[{"name":"a","unit":"furlong","samples":[1]}]}',
      /must be in one of/,
    ],
  ])('%s is refused in one line', (text, why) => {
    expect(() => readCapture('x.json', Buffer.from(text))).toThrow(why);
  });
});
