import { railRecord } from '@jarro/core';
import { screen, waitFor, within } from '@testing-library/react';
import { AddCapture } from '../../src/features/capture/add-capture';
import { CaptureDesk } from '../../src/workers/capture-desk';
import type { Desk } from '../../src/workers/open-desk';
import { OneCase } from '../support/one-case';
import { showOnBench } from '../support/screen';

// A dropped file before it is kept. The desk works here in the page, and hands out a measurement when the test says so.

const waiting: (() => void)[] = [];

jest.mock('../../src/workers/open-desk', () => ({
  ...jest.requireActual<object>('../../src/workers/open-desk'),
  openDesk: (): Desk => {
    const desk = new CaptureDesk();
    const remote = {
      open: desk.open.bind(desk),
      window: (...of: Parameters<CaptureDesk['window']>) => Promise.resolve(desk.window(...of)),
      measure: async (...of: Parameters<CaptureDesk['measure']>) => {
        await new Promise<void>((resolve) => waiting.push(resolve));
        return desk.measure(...of);
      },
    } as unknown as Desk['remote'];
    return { remote, ask: (question) => question(remote), close: () => undefined };
  },
}));

const mockRefused = 'The disk is full. Free some space, then keep it again.';
jest.mock('../../src/app/send-file', () => ({
  ...jest.requireActual<object>('../../src/app/send-file'),
  sendFile: () => Promise.resolve({ problem: mockRefused }),
}));

// Nothing can be drawn here.
jest.mock('../../src/charts/trace', () => ({ Trace: () => null }));

const RATE_HZ = 5000;

/** A pump that is switched on after a tenth of a second, in the file's own unit. */
function fileOf(unit: string, amperes: number): File {
  const rows = Array.from({ length: RATE_HZ }, (_, i) => {
    const t = i / RATE_HZ;
    const humps = 1 + 0.08 * Math.abs(Math.sin(Math.PI * 640 * t)) + 0.02 * Math.sin(2 * Math.PI * 80 * t);
    const start = 1 + 2 * Math.exp(-(t - 0.1) / 0.02);
    return `${t.toFixed(4)},${(t < 0.1 ? 0 : amperes * humps * start).toFixed(3)}`;
  });
  return new File([[`Time (s),Pump current (${unit})`, ...rows].join('\n')], 'prime.csv');
}

/** Every tenth sample of a rail that injectors take fuel from, with the first injector's volts beside. */
function railFile(): File {
  const { sampleRateHz, railPa, injectorV } = railRecord(3, 'alike');
  const every = Math.round(sampleRateHz / RATE_HZ);
  const rows = Array.from({ length: Math.floor(railPa.length / every) }, (_, i) =>
    [i / RATE_HZ, railPa[i * every] / 1000, injectorV[i * every]].map((value) => value.toFixed(4)).join(','),
  );
  return new File([['Time (s),Rail pressure (kPa),Injector voltage (V)', ...rows].join('\n')], 'rail.csv');
}

const showFile = (file: File) =>
  showOnBench(new OneCase(), (item) => <AddCapture caseId={item.id} file={file} onClose={() => undefined} />);

const measureNext = async () => {
  await waitFor(() => expect(waiting).toHaveLength(1));
  waiting.pop()?.();
};
const keepKey = () => screen.findByRole('button', { name: 'Keep this capture' });

describe('a file that is added', () => {
  afterEach(() => waiting.splice(0));

  it('is kept only with what was measured of it as it is set up now', async () => {
    const { hand } = await showFile(fileOf('A', 5));
    expect(await screen.findByRole('button', { name: 'Measuring …' })).toBeDisabled();
    await measureNext();
    expect(await keepKey()).toBeEnabled();
    // Another role is another measurement: what was found of the first isn't kept as the second's.
    await hand.selectOptions(screen.getByRole('combobox', { name: /is clipped to/ }), 'rail_pressure');
    expect(screen.getByRole('button', { name: 'Measuring …' })).toBeDisabled();
    await measureNext();
    expect(await keepKey()).toBeEnabled();
  });

  it('that was refused is kept no sooner than it is measured as it was changed since', async () => {
    const { hand } = await showFile(fileOf('A', 5));
    await measureNext();
    await hand.click(await keepKey());
    expect(await screen.findByRole('alert')).toHaveTextContent(mockRefused);
    expect(await keepKey()).toBeEnabled();
    await hand.selectOptions(screen.getByRole('combobox', { name: /is clipped to/ }), 'rail_pressure');
    expect(screen.getByRole('button', { name: 'Measuring …' })).toBeDisabled();
  });

  it('takes the zero that somebody read off the clamp, and says what it goes by until that is typed', async () => {
    const { hand } = await showFile(fileOf('A', 5));
    await measureNext();
    await keepKey();
    await hand.selectOptions(screen.getByRole('combobox', { name: /clamp’s zero/ }), 'read');
    expect(screen.getByText(/found in the record/)).toBeVisible();
    await hand.type(screen.getByRole('spinbutton', { name: /A with the pump off/ }), '1');
    expect(screen.queryByText(/found in the record/)).toBeNull();
    await measureNext();
    // Of some 5.2 A one is the clamp's own.
    expect((await screen.findAllByText(/4\.[0-9]+ A/)).length).toBeGreaterThan(0);
  });

  it('of an engine that injects isn’t taken for a prime, unless somebody says so', async () => {
    const { hand } = await showFile(railFile());
    const state = (name: string) => screen.findByRole('radio', { name });
    expect(await state('Prime')).toBeChecked();
    await measureNext();
    await keepKey();
    expect(await state('Idle')).toBeChecked();
    await hand.click(await state('Prime'));
    await hand.type(screen.getByRole('spinbutton', { name: /Bars/ }), '8');
    await measureNext();
    await keepKey();
    expect(await state('Prime')).toBeChecked();
  });

  it('asks about a scale that no pump’s current goes with, before it can be kept', async () => {
    const { hand } = await showFile(fileOf('A', 500));
    await measureNext();
    const isRight = await screen.findByRole('checkbox', { name: /Choose the clamp/ });
    expect(await keepKey()).toBeDisabled();
    // What asks to be acted on stands by itself, before whatever else was found.
    const [acts, others] = [
      screen.getByRole('list', { name: 'To act on' }),
      screen.getByRole('list', { name: 'Findings' }),
    ];
    expect(within(acts).getByText('act')).toBeVisible();
    expect(within(others).queryByText('act')).toBeNull();
    await hand.click(isRight);
    expect(await keepKey()).toBeEnabled();
  });

  it('asks for the rate where the file has none, and takes its refusal back with it', async () => {
    const values = Array.from({ length: 400 }, (_, i) => (5 + Math.sin(i)).toFixed(3));
    const { hand } = await showFile(new File([['Pump current (A)', ...values].join('\n')], 'rate.csv'));
    expect(await screen.findByRole('alert')).toHaveTextContent(/samples a second/i);
    await hand.type(screen.getByRole('spinbutton', { name: 'Samples a second' }), '1000');
    await hand.click(screen.getByRole('button', { name: 'Read with this rate' }));
    expect(await screen.findByRole('combobox', { name: /is clipped to/ })).toHaveValue('pump_current');
    expect(screen.queryByRole('alert')).toBeNull();
  });
});
