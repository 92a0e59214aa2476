import { fireEvent, screen, waitFor } from '@testing-library/react';
import { DutySweep } from '../../src/features/control/duty-sweep';
import { WatchSheet } from '../../src/features/control/watch-sheet';
import { OneCase } from '../support/one-case';
import { showOnBench } from '../support/screen';

// What is watched by eye and swept by scan tool: kept with its order and its steps, over a reload too.

const at = { ms: 0 };
beforeEach(() => {
  at.ms = 1_700_000_000_000;
  jest.spyOn(Date, 'now').mockImplementation(() => at.ms);
});
afterEach(() => {
  jest.restoreAllMocks();
  localStorage.clear();
});

describe('watching for what falls first', () => {
  const close = jest.fn();
  const sheet = (server: OneCase) =>
    showOnBench(server, () => <WatchSheet caseId="c" keyState="idle" onClose={close} />);
  const after = (s: number) => {
    at.ms += 1000 * s;
  };

  it('stamps each press, by key or by hand, and keeps what their order means with the presses', async () => {
    const server = new OneCase();
    const { hand } = await sheet(server);
    await hand.click(await screen.findByRole('button', { name: 'Begin' }));
    after(12);
    await hand.keyboard('v');
    after(1.5);
    await hand.click(screen.getByRole('button', { name: 'Pressure falling' }));
    after(2);
    await hand.keyboard('e');
    await hand.click(screen.getByRole('button', { name: 'Stop watching' }));
    expect(screen.getByRole('status')).toHaveTextContent('The volts went first: relay, wiring, switch or command');
    await hand.click(screen.getByRole('button', { name: 'Keep what was seen' }));
    await waitFor(() => expect(server.sent).toHaveLength(2));
    expect(server.sent[0].body).toMatchObject({ kind: 'fell-first', at: 'stall', value: 'voltage', keyState: 'idle' });
    expect(server.sent[1].body.text).toContain('12.0 s volts gone, 13.5 s pressure falling, 15.5 s engine died');
  });

  it('goes on after a reload, and says what nobody watched', async () => {
    const server = new OneCase();
    const first = await sheet(server);
    await first.hand.click(await screen.findByRole('button', { name: 'Volts are watched' }));
    await first.hand.click(screen.getByRole('button', { name: 'Begin' }));
    expect(screen.getByRole('button', { name: 'Volts gone' })).toBeDisabled();
    first.leave();

    const { hand } = await sheet(server);
    after(40);
    // A key for what isn’t watched does nothing.
    await hand.keyboard('v');
    await hand.keyboard('p');
    await hand.click(screen.getByRole('button', { name: 'Stop watching' }));
    expect(screen.getByRole('status')).toHaveTextContent('the volts weren’t watched, so the side isn’t known');
    await hand.click(screen.getByRole('button', { name: 'Keep what was seen' }));
    await waitFor(() => expect(server.sent).toHaveLength(1));
    // Without a side there is nothing to weigh: only the note.
    expect(server.sent[0].path).toBe('cases/c/notes');
  });

  it('keeps letters out of the way of what is disturbed, and takes the last press back', async () => {
    const { hand } = await sheet(new OneCase());
    await hand.click(await screen.findByRole('button', { name: 'Begin' }));
    await hand.type(screen.getByRole('textbox', { name: 'What is disturbed' }), 'the plug bent');
    after(3);
    await hand.click(screen.getByRole('button', { name: 'Disturbed' }));
    expect(screen.getByText('3.0 s disturbed (the plug bent)')).toBeVisible();
    fireEvent.blur(screen.getByRole('textbox', { name: 'What is disturbed' }));
    await hand.click(screen.getByRole('button', { name: 'Engine died' }));
    await hand.click(screen.getByRole('button', { name: 'Take the last back' }));
    expect(screen.getByText('3.0 s disturbed (the plug bent)')).toBeVisible();
  });
});

describe('the duty sweep', () => {
  const sheet = (server: OneCase) => showOnBench(server, (item) => <DutySweep item={item} editable />);
  const step = (i: number, what: string) => screen.getByRole('textbox', { name: `Step ${i}, ${what}` });

  it('keeps every step’s numbers in SI, leaves out what wasn’t read, and begins empty again', async () => {
    const server = new OneCase();
    const { hand } = await sheet(server);
    await hand.type(await screen.findByRole('textbox', { name: 'Step 1, Command, %' }), '53');
    await hand.type(step(1, 'Current, A'), '5,6');
    await hand.type(step(1, 'Pressure, psi'), '58');
    await hand.click(screen.getByRole('button', { name: 'Another step' }));
    await hand.type(step(2, 'Command, %'), '66');
    await hand.click(screen.getByRole('radio', { name: 'Prime' }));
    await hand.click(screen.getByRole('button', { name: 'Keep this sweep' }));
    await waitFor(() => expect(server.sent).toHaveLength(1));
    const { value, keyState } = server.sent[0].body as { value: { steps: Record<string, number>[] }; keyState: string };
    expect(keyState).toBe('prime');
    expect(value.steps[0]).toMatchObject({ commandPercent: 53, currentA: 5.6 });
    expect(value.steps[0].pressurePa / 6894.757).toBeCloseTo(58, 4);
    expect(value.steps[1]).toEqual({ commandPercent: 66 });
    await waitFor(() => expect(step(1, 'Command, %')).toHaveValue(''));
  });

  it('holds what is typed over a reload, and refuses a step without its command or with a word in it', async () => {
    const server = new OneCase();
    const first = await sheet(server);
    await first.hand.type(await screen.findByRole('textbox', { name: 'Step 1, Current, A' }), '5.6');
    first.leave();
    const { hand } = await sheet(server);
    expect(await screen.findByRole('textbox', { name: 'Step 1, Current, A' })).toHaveValue('5.6');
    await hand.click(screen.getByRole('button', { name: 'Keep this sweep' }));
    expect(screen.getByRole('alert')).toHaveTextContent('Give every step its command');
    await hand.type(step(1, 'Command, %'), 'half');
    await hand.click(screen.getByRole('button', { name: 'Keep this sweep' }));
    expect(screen.getByRole('alert')).toHaveTextContent('numbers only');
    expect(server.sent).toEqual([]);
  });
});
