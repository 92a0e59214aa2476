import { csvBlocks, simulateCapture, writeWav } from '@jarro/core';
import { CaptureDesk } from '../src/workers/capture-desk';

const { capture } = simulateCapture({ sampleRateHz: 20_000, durationS: 0.8, barSpread: 0.03 });
const csv = new File([...csvBlocks(capture)] as BlobPart[], 'a.csv');
const wav = new File([writeWav(capture) as BlobPart], 'a.wav');

describe('the desk that reads a dropped file', () => {
  it.each([
    ['CSV', csv, 'Pump current'],
    ['WAV', wav, 'ch1'],
  ])('opens %s, guesses its channel, measures and draws it', async (_kind, file, name) => {
    const desk = new CaptureDesk();
    const opened = await desk.open(file, undefined);
    expect(opened).toMatchObject({ ok: { samples: 16_000, channels: [{ name, role: 'pump_current' }] } });
    const measured = await desk.measure({ [name]: { role: 'pump_current' } }, undefined);
    expect(measured).toMatchObject({
      ok: { ramp: { pattern: 'even', humps: { basis: 'measured', perRevolution: 8 } } },
    });
    expect(desk.window(0, 0, 16_000, 50)).toHaveLength(100);
  });

  it('refuses in words, as data', async () => {
    const desk = new CaptureDesk();
    expect(await desk.open(new File([], 'a.csv'), undefined)).toEqual({
      refused: expect.stringMatching(/empty/) as string,
    });
    expect(await desk.open(new File(['Time,A\n'], 'a.csv'), undefined)).toHaveProperty('refused');
    await expect(desk.measure({}, undefined)).rejects.toThrow('No file is open');
  });

  it('asks for the rate of an untimed file, and goes on with it', async () => {
    const desk = new CaptureDesk();
    const file = new File(['Clamp A\n', Array.from({ length: 50 }, (_, i) => i % 7).join('\n')], 'b.csv');
    const unread = { refused: expect.stringMatching(/sample rate/) as string, code: 'rate-unknown' };
    expect(await desk.open(file, undefined)).toEqual(unread);
    expect(await desk.open(file, 500)).toMatchObject({ ok: { sampleRateHz: 500 } });
  });
});
