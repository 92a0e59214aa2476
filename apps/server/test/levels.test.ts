import { mkdtempSync, rmSync, truncateSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { asRecord, buildPyramid, signalOf } from '@jarro/core';
import { levelsInFile, levelsInMemory, writeLevels, type ChannelLevels } from '../src/captures/levels.js';

const folder = mkdtempSync(join(tmpdir(), 'jarro-levels-'));
afterAll(() => rmSync(folder, { recursive: true }));

/** Two channels of other lengths of levels, one of them scaled while it is read. */
function channels(samples: number): ChannelLevels[] {
  const numbers = Float32Array.from({ length: samples }, (_, i) => Math.sin(i) * (i % 97));
  const common = { unit: 'V' as const, fileFactor: 1, samples: numbers };
  const record = asRecord({
    sampleRateHz: 1000,
    startS: 0,
    notes: [],
    channels: [
      { ...common, name: 'a' },
      { ...common, name: 'b' },
    ],
  });
  const [plain, other] = record.channels;
  const scaled = signalOf(other, { role: 'pump_current', factor: 10, zero: 0.5 }).source;
  const above = [buildPyramid(plain.source.read(0, samples)).levels, buildPyramid(scaled.read(0, samples)).levels];
  return [
    { source: plain.source, above: above[0] },
    { source: scaled, above: above[1] },
  ];
}

it('stand in the file as they stand in memory, part by part', async () => {
  const written = channels(200_003);
  const path = join(folder, 'levels');
  const memory = levelsInMemory(written);
  await using file = await levelsInFile(path, writeLevels(path, written));
  expect(file.lengths).toEqual(memory.lengths);
  for (const [channel, levels] of file.lengths.entries()) {
    for (const [level, floats] of levels.entries()) {
      for (const [from, to] of [
        [0, floats],
        [Math.floor(floats / 3), Math.floor(floats / 2)],
        [floats - 1, floats],
      ]) {
        expect((await file.read(channel, level, from, to)).equals(await memory.read(channel, level, from, to))).toBe(
          true,
        );
      }
    }
  }
});

it('are not made up where the file ends too soon', async () => {
  const written = channels(5000);
  const path = join(folder, 'short');
  const lengths = writeLevels(path, written);
  truncateSync(path, 100);
  await using file = await levelsInFile(path, lengths);
  await expect(file.read(1, 0, 0, 5000)).rejects.toThrow('ends before its levels do');
});
