import type { CaptureItem } from '@jarro/api-types';
import type { ScaledTool } from '@jarro/core';
import { screen, waitFor, within } from '@testing-library/react';
import { useState } from 'react';
import type { LaneOrder, TraceSignal } from '../../src/charts/signals';
import { ChannelTable } from '../../src/features/capture/channel-table';
import type { ChannelForm } from '../../src/features/capture/channel-setup';
import { LanesSheet } from '../../src/features/capture/lanes-sheet';
import { MarkSheet } from '../../src/features/capture/mark-sheet';
import { mathId } from '../../src/features/capture/use-lanes';
import { WorkOut } from '../../src/features/capture/work-out';
import { OneCase } from '../support/one-case';
import { show } from '../support/screen';

// A capture's channels: what each was clipped to and with what, where each is drawn, what is worked out of them.

afterEach(() => localStorage.clear());

describe('the channels of a file', () => {
  const CHANNEL = { name: 'ch1', header: 'Pump current (mV)', unit: 'mV', guessed: 'pump_current', fileFactor: 0.001 };
  const opened = { channels: [CHANNEL] } as unknown as Parameters<typeof ChannelTable>[0]['opened'];
  const question = { channel: 'ch1', role: 'pump_current', unit: 'mV' } as unknown as Parameters<
    typeof ChannelTable
  >[0]['questions'][number];
  let forms: readonly ChannelForm[] = [];
  function Table() {
    const [own, set] = useState<readonly ChannelForm[]>([{ role: 'pump_current', tool: undefined, invert: false }]);
    forms = own;
    return <ChannelTable opened={opened} forms={own} questions={own[0].tool ? [] : [question]} onChange={set} />;
  }
  const shops: ScaledTool & { id: string } = {
    id: 't1',
    kind: 'clamp',
    name: 'Blue clamp',
    voltsPerUnit: 0.02,
  } as never;

  it('asks which clamp it was where the file’s unit can’t be amperes, the shop’s own first', async () => {
    const server = new OneCase();
    server.pages.set('tools', [shops]);
    const { hand } = await show(server, <Table />);
    expect(screen.getByText('The file gives mV. Which clamp was it?')).toBeVisible();
    const scales = within(screen.getByRole('group', { name: 'Usual scales' }));
    await waitFor(() => expect(scales.getAllByRole('button')[0]).toHaveTextContent('Blue clamp'));
    await hand.click(scales.getByRole('button', { name: 'Blue clamp' }));
    expect(forms[0].tool).toMatchObject({ name: 'Blue clamp', voltsPerUnit: 0.02 });
    expect(screen.queryByText(/Which clamp/)).toBeNull();
    // It comes first next time.
    await waitFor(() => expect(server.sent[0].path).toBe('tools/t1/used'));
  });

  it('takes a clamp of one’s own, checked, and keeps it for the shop where that is asked', async () => {
    const server = new OneCase();
    const { hand } = await show(server, <Table />);
    await hand.selectOptions(screen.getByRole('combobox', { name: 'ch1 was taken with' }), 'own');
    const own = within(screen.getByRole('group', { name: 'Another clamp' }));
    const scale = own.getByRole('textbox', { name: 'Millivolts for an ampere' });
    await hand.type(scale, '0');
    await hand.click(own.getByRole('button', { name: 'Use it' }));
    expect(own.getByRole('alert')).toHaveTextContent('type a number above 0');
    await hand.clear(scale);
    await hand.type(scale, '2.5');
    await hand.type(own.getByRole('textbox', { name: 'What it is called' }), 'Old one');
    await hand.click(own.getByRole('button', { name: 'Use it and keep it for the shop' }));
    await waitFor(() => expect(forms[0].tool).toMatchObject({ kind: 'clamp', name: 'Old one', voltsPerUnit: 0.0025 }));
    expect(server.sent[0]).toMatchObject({ path: 'tools', body: { name: 'Old one', voltsPerUnit: 0.0025 } });
  });

  it('takes what the clamp showed with the pump off, zeroed or read off it, for a current only', async () => {
    const { hand } = await show(new OneCase(), <Table />);
    const zero = () => screen.queryByRole('combobox', { name: 'ch1: clamp’s zero' });
    expect(zero()).toHaveDisplayValue('find it in the record');
    await hand.selectOptions(zero()!, 'it was zeroed');
    expect(forms[0].zeroA).toBe(0);
    await hand.selectOptions(zero()!, 'it showed …');
    expect(forms[0].zeroA).toBeUndefined();
    await hand.type(screen.getByRole('spinbutton', { name: 'A with the pump off' }), '-0.3');
    expect(forms[0].zeroA).toBe(-0.3);
    await hand.selectOptions(screen.getByRole('combobox', { name: 'ch1 is clipped to' }), 'rail_pressure');
    expect(forms[0].zeroA).toBeUndefined();
    expect(zero()).toBeNull();
  });

  it('forgets a clamp where the channel is no current after all, and asks for the transducer', async () => {
    const { hand } = await show(new OneCase(), <Table />);
    await hand.click(within(screen.getByRole('group', { name: 'Usual scales' })).getAllByRole('button')[0]);
    expect(forms[0].tool?.kind).toBe('clamp');
    await hand.selectOptions(screen.getByRole('combobox', { name: 'ch1 is clipped to' }), 'rail_pressure');
    expect(forms[0]).toEqual({ role: 'rail_pressure', tool: undefined, invert: false });
    expect(screen.getByText('The file gives mV. Which transducer was it?')).toBeVisible();
    await hand.selectOptions(screen.getByRole('combobox', { name: 'ch1 was taken with' }), 'own');
    const own = within(screen.getByRole('group', { name: 'Another transducer' }));
    await hand.type(own.getByRole('textbox', { name: 'Full scale, psi' }), '150');
    const full = own.getByRole('textbox', { name: 'V at full scale' });
    await hand.clear(full);
    await hand.type(full, '0.2');
    await hand.click(own.getByRole('button', { name: 'Use it' }));
    expect(own.getByRole('alert')).toHaveTextContent('the first the lower');
    await hand.click(screen.getByRole('checkbox', { name: 'ch1 is backwards' }));
    expect(forms[0].invert).toBe(true);
  });
});

const capture = {
  id: 'cap',
  label: 'Prime',
  math: [{ channel: 0, name: 'Feed × Current', unit: 'W', kind: 'product', of: 0, with: 1 }],
  channels: [
    { name: 'Feed', role: 'pump_feed_voltage', unit: 'V' },
    { name: 'Current', role: 'pump_current', unit: 'A' },
    { name: 'Ground', role: 'pump_ground_voltage', unit: 'V' },
  ],
} as unknown as CaptureItem;

describe('what is worked out of a capture', () => {
  const form = (server: OneCase, of: CaptureItem = capture) => show(server, <WorkOut caseId="c" capture={of} />);

  it('offers to subtract alike units only', async () => {
    const server = new OneCase();
    const { hand } = await form(server);
    await hand.click(screen.getByRole('radio', { name: 'A − B' }));
    const second = screen.getByRole('combobox', { name: 'B' });
    expect(
      within(second)
        .getAllByRole('option')
        .map(({ textContent }) => textContent),
    ).toEqual(['Ground, V']);
    await hand.click(screen.getByRole('button', { name: 'Work it out' }));
    await waitFor(() => expect(server.sent[0].body).toEqual({ kind: 'difference', of: 0, with: 2 }));
    await hand.selectOptions(screen.getByRole('combobox', { name: 'A' }), '1');
    expect(screen.getByText(/No other channel is in the unit of A/)).toBeVisible();
    expect(screen.getByRole('button', { name: 'Work it out' })).toBeDisabled();
  });

  it('smooths one channel, by a number of hertz and by nothing else', async () => {
    const server = new OneCase();
    const { hand } = await form(server, { ...capture, channels: [capture.channels[1]] });
    expect(screen.queryByRole('radio', { name: 'A × B' })).toBeNull();
    const cutoff = screen.getByRole('textbox', { name: /^Filters out/ });
    await hand.clear(cutoff);
    await hand.type(cutoff, 'slow');
    await hand.click(screen.getByRole('button', { name: 'Work it out' }));
    expect(server.sent).toEqual([]);
    await hand.clear(cutoff);
    await hand.type(cutoff, '2.5');
    await hand.click(screen.getByRole('button', { name: 'Work it out' }));
    await waitFor(() => expect(server.sent[0].body).toEqual({ kind: 'low-pass', of: 0, cutoffHz: 2.5 }));
    server.refusal = 'At 1000 samples a second a low-pass lies between 1 and 100 Hz.';
    await hand.click(await screen.findByRole('button', { name: 'Work it out' }));
    expect(await screen.findByRole('alert')).toHaveTextContent('lies between 1 and 100 Hz');
  });
});

describe('where signals are drawn', () => {
  const signal = (id: string, name: string, unit: string): TraceSignal => ({
    ...{ id, name, unit },
    source: () => Promise.resolve(new Float32Array()),
  });
  const SIGNALS = [
    signal('0', 'Feed', 'V'),
    signal('1', 'Current', 'A'),
    signal('2', 'Ground', 'V'),
    signal(mathId(0), 'Feed × Current', 'W'),
  ];
  let order: LaneOrder = { over: {}, hidden: [] };
  function Lanes() {
    const [own, set] = useState<LaneOrder>({ over: {}, hidden: [] });
    order = own;
    return (
      <LanesSheet
        {...{ caseId: 'c', capture, signals: SIGNALS, order: own, onOrder: set, besides: [], beside: undefined }}
        onBeside={() => undefined}
        mayMeasure
        onClose={() => undefined}
      />
    );
  }
  const where = (name: string) => screen.getByRole('combobox', { name: `Where ${name} is drawn` });
  const offered = (name: string) =>
    within(where(name))
      .getAllByRole('option')
      .map(({ textContent }) => textContent);

  it('lays one over another while two scales are enough, hides one, and never lays a lane that others lie on', async () => {
    const { hand } = await show(new OneCase(), <Lanes />);
    // A lane has a scale on its left and one on its right.
    expect(offered('Ground')).toEqual([
      ...['in a lane of its own', 'over Feed', 'over Current', 'over Feed × Current', 'not at all'],
    ]);
    await hand.selectOptions(where('Ground'), 'over Feed');
    expect(order).toEqual({ over: { '2': '0' }, hidden: [] });
    expect(offered('Feed')).toEqual(['in a lane of its own', 'not at all']);
    await hand.selectOptions(where('Current'), 'over Feed');
    expect(offered('Feed × Current')).toEqual(['in a lane of its own', 'not at all']);
    await hand.selectOptions(where('Current'), 'not at all');
    expect(order.hidden).toEqual(['1']);
    await hand.selectOptions(where('Ground'), 'in a lane of its own');
    expect(order).toEqual({ over: {}, hidden: ['1'] });
  });

  it('takes away what was worked out, and nothing that was recorded', async () => {
    const server = new OneCase();
    const { hand } = await show(server, <Lanes />);
    expect(screen.getAllByRole('button', { name: /^Take .* away$/ })).toHaveLength(1);
    await hand.click(screen.getByRole('button', { name: 'Take Feed × Current away' }));
    await waitFor(() => expect(server.sent[0]).toMatchObject({ method: 'DELETE', path: 'captures/cap/math/0' }));
  });
});

it('marks a moment with what happened, in words where no word is offered', async () => {
  const server = new OneCase();
  const close = jest.fn();
  const { hand } = await show(server, <MarkSheet caseId="c" captureId="cap" atS={1.2345} onClose={close} />);
  expect(screen.getByRole('heading', { name: 'Mark 1.234 s' })).toBeVisible();
  const keep = screen.getByRole('button', { name: 'Keep this mark' });
  expect(keep).toBeDisabled();
  await hand.click(screen.getByRole('radio', { name: 'something else' }));
  expect(keep).toBeDisabled();
  await hand.type(screen.getByRole('textbox', { name: 'In words' }), '  Door slammed ');
  await hand.click(keep);
  await waitFor(() => expect(close).toHaveBeenCalled());
  expect(server.sent[0]).toMatchObject({
    path: 'cases/c/marks',
    body: { captureId: 'cap', mark: 'other', atS: 1.2345, what: 'Door slammed' },
  });
});
