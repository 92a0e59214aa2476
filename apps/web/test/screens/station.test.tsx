import { screen, waitFor, within } from '@testing-library/react';
import { useState } from 'react';
import type { StationReading } from '../../src/features/path/station-kinds';
import { StationSheet } from '../../src/features/path/station-sheet';
import { OneCase, somebody } from '../support/one-case';
import { showOnBench } from '../support/screen';

// A reading at a station: number, Enter, and the next station comes up; with everything that makes a number mean something.

function Walk({ from }: { from: StationReading }) {
  const [reading, setReading] = useState<StationReading | undefined>(from);
  return reading ? (
    <StationSheet reading={reading} onReading={setReading} onClose={() => setReading(undefined)} />
  ) : (
    <p>The sheet is closed.</p>
  );
}

const sheet = (server: OneCase, from: StationReading = { station: 'battery', kind: 'voltage' }) =>
  showOnBench(server, () => <Walk from={from} />);
const volts = () => screen.getByRole('textbox', { name: /in V$/ });

it('walks down the path by number and Enter, in one state and from one reference', async () => {
  const server = new OneCase().hasSeenCautions();
  const { hand } = await sheet(server);
  const names: string[] = [];
  await hand.click(await screen.findByRole('radio', { name: 'Cranking' }));
  for (const number of ['12.6', '12,5', '12.4']) {
    names.push(screen.getByRole('heading', { level: 2 }).textContent ?? '');
    await hand.type(volts(), `${number}{Enter}`);
    await waitFor(() =>
      expect(screen.getByRole('heading', { level: 2 })).not.toHaveTextContent(names[names.length - 1]),
    );
    expect(volts()).toHaveValue('');
  }
  expect(new Set(names).size).toBe(3);
  expect(server.sent.map(({ body }) => body.value)).toEqual([12.6, 12.5, 12.4]);
  expect(new Set(server.sent.map(({ body }) => body.keyState))).toEqual(new Set(['cranking']));
  expect(new Set(server.sent.map(({ body }) => body.reference))).toEqual(new Set(['battery-']));
});

it('goes past a station by Enter on an empty field, and keeps nothing', async () => {
  const server = new OneCase().hasSeenCautions();
  const { hand } = await sheet(server);
  const first = (await screen.findByRole('heading', { level: 2 })).textContent;
  expect(screen.getByRole('button', { name: 'Skip to the next station' })).toBeVisible();
  await hand.type(volts(), '{Enter}');
  expect(screen.getByRole('heading', { level: 2 })).not.toHaveTextContent(first ?? '');
  expect(server.sent).toEqual([]);
});

it('refuses a word where a number is meant, and stays', async () => {
  const server = new OneCase().hasSeenCautions();
  const { hand } = await sheet(server);
  await hand.type(await screen.findByRole('textbox', { name: /in V$/ }), '12v{Enter}');
  expect(screen.getByRole('alert')).toHaveTextContent('“12v” is not a number. Type the reading in V.');
  expect(server.sent).toEqual([]);
});

it('stays with the number in its field where the server refuses it', async () => {
  const server = new OneCase().hasSeenCautions();
  server.refusal = 'A colleague decided this case meanwhile.';
  const { hand } = await sheet(server);
  await hand.type(await screen.findByRole('textbox', { name: /in V$/ }), '12.6{Enter}');
  expect(await screen.findByText('A colleague decided this case meanwhile.')).toBeVisible();
  expect(volts()).toHaveValue('12.6');
  expect(server.detail().evidence.some(({ kind }) => kind === 'voltage')).toBe(false);
});

it('keeps how a reading was taken only where it was unusual', async () => {
  const server = new OneCase().hasSeenCautions();
  const { hand } = await sheet(server, { station: 'pump', kind: 'voltage' });
  await hand.click(await screen.findByText(/^Taken the usual way/));
  await hand.click(screen.getByRole('radio', { name: 'Plug off' }));
  await hand.click(screen.getByRole('radio', { name: 'Insulation pierced' }));
  expect(screen.getByText(/^Plug off, Insulation pierced/)).toBeVisible();
  await hand.click(screen.getByRole('radio', { name: 'Fault absent' }));
  await hand.type(volts(), '12.4{Enter}');
  await waitFor(() => expect(server.sent).toHaveLength(1));
  expect(server.sent[0].body).toMatchObject({ unloaded: true, pierced: true, faultPresent: false, trust: 'normal' });
  expect(server.sent[0].body).not.toHaveProperty('helped');
  expect(server.sent[0].body).not.toHaveProperty('boosted');
});

it('says what a number ruled out, above the next station', async () => {
  const server = new OneCase().hasSeenCautions();
  const { hand } = await sheet(server);
  await hand.type(await screen.findByRole('textbox', { name: /in V$/ }), '12.6{Enter}');
  const news = await screen.findByRole('status');
  expect(news.textContent?.length).toBeGreaterThan(10);
});

it('offers at each station what can be read there, an answer in a word at one press', async () => {
  const server = new OneCase().hasSeenCautions();
  const { hand } = await sheet(server, { station: 'pump', kind: 'voltage' });
  const kinds = await screen.findByRole('radiogroup', { name: 'What is read' });
  await hand.click(within(kinds).getByRole('radio', { name: 'Heard' }));
  expect(screen.queryByRole('textbox', { name: /in V$/ })).toBeNull();
  const words = screen.getAllByRole('button').filter(({ className }) => className.includes('capitalize'));
  expect(words.length).toBeGreaterThan(1);
  await hand.click(words[0]);
  expect(await screen.findByText('The sheet is closed.')).toBeVisible();
  expect(server.sent[0].body).toMatchObject({ kind: 'heard', at: 'pump' });
});

it('holds the readings back until the path’s cautions are seen to', async () => {
  const server = new OneCase();
  const { hand } = await sheet(server);
  expect(await screen.findByText('Before you start')).toBeVisible();
  expect(screen.queryByRole('textbox')).toBeNull();
  await hand.click(screen.getByRole('button', { name: 'Seen to it' }));
  await waitFor(() => expect(volts()).toBeVisible());
});

it('lets a reading wait on the device where nobody answers, and goes on to the next station', async () => {
  const server = new OneCase(somebody('technician')).hasSeenCautions();
  const { hand } = await sheet(server);
  const { answer } = server;
  globalThis.fetch = (input) =>
    (input as Request).method === 'GET' ? answer(input as Request) : Promise.reject(new TypeError('fetch failed'));
  await hand.type(await screen.findByRole('textbox', { name: /in V$/ }), '12.6{Enter}');
  await waitFor(() => expect(volts()).toHaveValue(''));
  const kept = Object.keys(localStorage).find((name) => name.endsWith('/outbox')) ?? '';
  expect(JSON.parse(localStorage.getItem(kept) ?? '[]')).toEqual([
    expect.objectContaining({ userId: 'jem', entry: expect.objectContaining({ value: 12.6 }) as unknown }),
  ]);
});
