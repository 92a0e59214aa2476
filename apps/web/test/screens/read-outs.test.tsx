import {
  presentEvidence,
  weighCase,
  type BalanceResult,
  type CaptureEntry,
  type Finding,
  type RampResult,
  type SequenceIncident,
} from '@jarro/core';
import { screen, waitFor, within } from '@testing-library/react';
import { useMemo } from 'react';
import { useTheBench } from '../../src/features/case/bench';
import type { LinkedCapture } from '../../src/features/case/evidence';
import { TakeOver } from '../../src/features/case/take-over';
import { Findings, ToActOn } from '../../src/features/capture/findings';
import { Incidents } from '../../src/features/capture/incidents';
import { Injections } from '../../src/features/capture/injections';
import { LoadCloudView } from '../../src/features/capture/load-cloud';
import { Runs } from '../../src/features/capture/runs';
import { FellFirst } from '../../src/features/control/fell-first';
import { TakeOut } from '../../src/features/evidence/take-out';
import { NextTestCard } from '../../src/features/scale/next-test';
import { Suspects } from '../../src/features/scale/suspects';
import { ShelfPage } from '../../src/features/shelf/shelf-page';
import { OneCase, somebody } from '../support/one-case';
import { BAD_CONTACT } from '../support/readings';
import { show, showOnBench } from '../support/screen';

// What was measured and weighed, as it is read: in order, in words, with the number that matters and what may be done.

afterEach(() => localStorage.clear());

describe('what fell first', () => {
  const departure = (channel: string, timeS: number, rose = false) => ({
    channel,
    timeS,
    rose,
    role: 'x',
    uncertaintyS: 0.001,
  });
  const incident = (startS: number, more: object = {}) =>
    ({
      startS,
      because: 'The contact opened.',
      departures: [departure('Feed', startS)],
      ...more,
    }) as unknown as SequenceIncident;
  const of = (incidents: readonly SequenceIncident[], cause = 'upstream') =>
    ({ cause, incidents, events: [] }) as unknown as Parameters<typeof Incidents>[0]['sequence'];

  it('says the order, how much later each went, and what went together', async () => {
    const order = [
      departure('Feed', 2),
      departure('Current', 2.0015),
      departure('Rail', 2.25),
      departure('Ground', 2.3, true),
    ];
    const shown = jest.fn();
    const { hand } = await show(
      new OneCase(),
      <Incidents sequence={of([incident(2, { departures: order, endS: 2.4 })])} source={undefined} onShow={shown} />,
    );
    expect(screen.getByText('The supply fell, not the pump')).toBeVisible();
    const row = screen.getByRole('listitem');
    expect(row).toHaveTextContent(
      'Feed fell first, Current fell with it, Rail fell 250 ms later, Ground rose 300 ms later',
    );
    expect(row).toHaveTextContent('for 400 ms');
    await hand.click(within(row).getByRole('button', { name: 'Show' }));
    expect(shown).toHaveBeenCalledWith(expect.objectContaining({ startS: 2 }));
  });

  it('counts what it doesn’t list, and gives the resistance with what it may be off by', async () => {
    const many = Array.from({ length: 15 }, (_, i) => incident(i));
    const source = { resistanceOhm: 0.42, interval: [0.4, 0.44], side: 'upstream' } as never;
    await show(new OneCase(), <Incidents sequence={of(many, 'undetermined')} source={source} />);
    expect(screen.getByText('And 3 more.')).toBeVisible();
    expect(screen.getByText('Can’t tell which side')).toBeVisible();
    expect(screen.getByText(/0\.420 Ω/)).toHaveTextContent('± 0.020');
    expect(screen.getAllByText('to the end')).toHaveLength(12);
    expect(screen.queryByRole('button', { name: 'Show' })).toBeNull();
  });
});

it('explains the load line beside its cloud, once it is asked for', async () => {
  const points = [
    [5, 12],
    [20, 6],
  ] as const;
  const source = { resistanceOhm: 0.4, side: 'load' } as const;
  const { hand, leave } = await show(new OneCase(), <LoadCloudView cloud={{ points, openV: 14 }} source={source} />);
  expect(screen.queryByRole('img')).toBeNull();
  await hand.click(screen.getByText(/^Volts against current/));
  expect(await screen.findByRole('img', { name: /over the pump’s current/ })).toBeVisible();
  expect(screen.getByText(/stand at 14\.00 V; every ampere takes 0\.400 V/)).toBeVisible();
  leave();
  await show(new OneCase(), <LoadCloudView cloud={{ points, openV: 14 }} source={{ side: 'load' }} />);
  expect(screen.queryByText(/^Volts against current/)).toBeNull();
});

it('lists the runs of a record only where there are several, the longest in bold', async () => {
  const run = (fromS: number, toS: number, more: object = {}) => ({ fromS, toS, pattern: 'even', ...more });
  const one = { runs: [run(0, 1)] } as unknown as RampResult;
  const { leave } = await show(new OneCase(), <Runs ramp={one} />);
  expect(screen.queryByRole('table')).toBeNull();
  leave();
  const two = { runs: [run(0, 1, { rpm: 5400, basis: 'assumed' }), run(2, 9, { steady: { meanA: 5.5 } })] };
  await show(new OneCase(), <Runs ramp={two as unknown as RampResult} />);
  const [, first, second] = screen.getAllByRole('row');
  expect(first).toHaveTextContent('rpm, assumed');
  expect(second).toHaveTextContent('5.50 A');
  expect(second).toHaveClass('font-semibold');
  expect(first).not.toHaveClass('font-semibold');
});

it('says plainly that nothing stands out, or what does, and what can’t be told', async () => {
  const { leave } = await show(new OneCase(), <Findings findings={[]} cannotTell={[]} />);
  expect(screen.getByText(/^Nothing stands out/)).toBeVisible();
  leave();
  const said = (severity: Finding['severity'], text: string): Finding => ({
    code: text,
    severity,
    text,
    rule: 'A rule',
    source: 'a source',
  });
  const findings = [said('keep-in-mind', 'The clamp is on backwards.'), said('act', 'Two bars are open.')];
  const { leave: leaveBoth } = await show(
    new OneCase(),
    <>
      <ToActOn findings={findings} />
      <Findings findings={findings} cannotTell={[{ what: 'rpm', because: 'it stands' }]} />
    </>,
  );
  const [acts, others] = screen.getAllByRole('list').map((list) => within(list));
  expect(acts.getByText(/Two bars are open\./)).toHaveTextContent('A rule (a source)');
  expect(others.queryByText(/Two bars are open/)).toBeNull();
  expect(others.getByText(/on backwards/)).toHaveTextContent('A rule (a source)');
  expect(others.getByText('it stands.')).toBeVisible();
  leaveBoth();
  // Nothing but an act leaves nothing to say below, and not that nothing stands out.
  await show(new OneCase(), <Findings findings={findings.slice(1)} cannotTell={[]} />);
  expect(screen.queryByRole('list')).toBeNull();
});

it('names the injector that takes less, with what its share may be off by, in the shop’s unit', async () => {
  const injection = (order: number, share: number, unlike = false) => ({
    order,
    share,
    unlike,
    interval: [share - 0.04, share + 0.04],
  });
  const balance = {
    ...{ cycles: 240, fall: 20_000, unit: 'Pa', pumpOff: true },
    injections: [injection(1, 1), injection(2, 0.55, true), injection(3, 1.01)],
  } as unknown as BalanceResult;
  await show(new OneCase(somebody('technician', { pressureUnit: 'kPa' })), <Injections balance={balance} />);
  expect(screen.getByText('No. 2 takes 55 % of the others')).toBeVisible();
  expect(screen.getAllByRole('listitem')[1]).toHaveTextContent('55 % ± 4');
  expect(screen.getByText(/240 engine cycles, with the pump off; an injection takes 20 kPa/)).toBeVisible();
});

it('takes what somebody saw fall first, with the key as it stood', async () => {
  const server = new OneCase().hasSeenCautions();
  const { hand } = await showOnBench(server, (item) => <FellFirst item={item} editable />);
  await hand.click(screen.getByRole('radio', { name: 'Cranking' }));
  await hand.click(screen.getByRole('button', { name: 'Volts first, then pressure' }));
  await waitFor(() =>
    expect(server.sent[0].body).toMatchObject({
      kind: 'fell-first',
      at: 'stall',
      value: 'voltage',
      keyState: 'cranking',
    }),
  );
});

describe('what the evidence amounts to', () => {
  const [onReading, onStage] = [jest.fn(), jest.fn()];
  function Amount() {
    const { item, evidence, rules } = useTheBench();
    const diagnosis = useMemo(() => weighCase(evidence, rules), [evidence, rules]);
    return (
      <>
        <Suspects item={item} diagnosis={diagnosis} />
        <NextTestCard {...{ caseId: 'c', diagnosis, moduleId: undefined, onReading, onStage }} />
      </>
    );
  }
  const amount = (server: OneCase) => showOnBench(server, () => <Amount />);

  it('names the heaviest suspect first, with the readings that moved it', async () => {
    await amount(new OneCase().has(...BAD_CONTACT));
    const [first] = within(screen.getByRole('region', { name: 'Suspects' })).getAllByRole('listitem');
    expect(first).toHaveTextContent(/relay/i);
    expect(within(first).getAllByLabelText('for').length).toBeGreaterThan(0);
    expect(first).toHaveTextContent('4.20 V');
    expect(first).not.toHaveTextContent('100 %');
  });

  it('leads to where the next test is entered, or takes that it can’t be done', async () => {
    const server = new OneCase().has(...BAD_CONTACT.slice(0, 3));
    const ground = { complaint: '', links: server.links, goods: [], measuredOf: () => undefined };
    const { nextTests } = weighCase(presentEvidence(ground, 'open'), server.me.shop.rules);
    const { hand } = await amount(server);
    const card = within(screen.getByRole('region', { name: 'Next test' }));
    await hand.click(card.getAllByRole('button')[0]);
    expect(onReading.mock.calls.length + onStage.mock.calls.length).toBe(1);
    await hand.click(card.getByRole('button', { name: `Can’t be done here: ${nextTests[0].title}` }));
    await waitFor(() => expect(server.sent[0].body.value).toBe('not-possible'));
    expect(await card.findByText('Do next')).toBeVisible();
    await waitFor(() =>
      expect(card.queryByRole('button', { name: `Can’t be done here: ${nextTests[0].title}` })).toBeNull(),
    );
  });
});

it('takes what was read between incidents as read while the fault was away, whatever was said of the capture', async () => {
  const server = new OneCase();
  const capture = {
    id: 'cap',
    label: 'Idling until it stumbles',
    link: { keyState: 'idle', faultPresent: true },
  } as unknown as LinkedCapture;
  const entries: CaptureEntry[] = [
    { kind: 'source', at: 'feed', value: 0.26, keyState: 'idle', faultPresent: false },
    { kind: 'fell-first', at: 'stall', value: 'voltage', keyState: 'idle' },
  ];
  const { hand } = await showOnBench(server, (item) => (
    <TakeOver item={item} {...{ capture, entries }} said="two things" editable />
  ));
  await hand.click(screen.getByRole('button', { name: 'Take into the sheet' }));
  await waitFor(() => expect(server.sent).toHaveLength(2));
  expect(server.sent.map(({ body }) => [body.kind, body.faultPresent])).toEqual([
    ['source', false],
    ['fell-first', true],
  ]);
});

describe('the shelf of known-goods', () => {
  const good = (id: string, label: string, retired = false) => ({
    ...{ id, label, systemName: 'Brindle, relay', captureId: `cap-${id}`, caseId: 'c', caseNumber: 7, retired },
    ...{ addedBy: 'Jem', addedAt: '2026-03-02T08:00:00Z' },
    numbers: { keyState: 'prime', meanA: 5.5, ripplePercent: 12, rpm: 6100, pumpV: 12.1, pressurePa: 400_000 },
  });

  it('is searched by every word, and gives back what was taken off it', async () => {
    const server = new OneCase();
    server.pages.set('shelf', [good('a', 'Brindle Rook'), good('b', 'Tolva Corrie', true)]);
    const { hand } = await show(server, <ShelfPage />);
    expect(await screen.findAllByRole('listitem')).toHaveLength(2);
    expect(screen.getAllByText(/12\.10 V at the pump, 58\.0 psi/)).toHaveLength(2);
    await hand.type(screen.getByRole('searchbox'), 'corrie prime');
    expect(screen.getAllByRole('listitem')).toHaveLength(1);
    await hand.click(screen.getByRole('button', { name: 'Use it again' }));
    await waitFor(() => expect(server.sent[0]).toMatchObject({ path: 'shelf/b/retire', body: { retired: false } }));
    await hand.type(screen.getByRole('searchbox'), ' nowhere');
    expect(screen.getByText('No known-good fits what you look for.')).toBeVisible();
  });
});

it('takes a customer’s data out only for a reason, and only what was named', async () => {
  const server = new OneCase(somebody('lead')).has({ kind: 'note', at: 'intake', value: 'Mrs Harrow called.' });
  const { hand } = await showOnBench(server, (item) => <TakeOut item={item} />);
  await hand.click(screen.getByRole('button', { name: 'Take customer data out' }));
  const sheet = within(screen.getByRole('dialog'));
  const go = sheet.getByRole('button', { name: 'Take it out for good' });
  await hand.click(sheet.getByRole('checkbox', { name: /^The plate, BR16 ROK/ }));
  expect(go).toBeDisabled();
  await hand.type(sheet.getByRole('textbox', { name: /^Names and other words/ }), 'Harrow, , x');
  await hand.click(go);
  expect(server.sent).toEqual([]);
  await hand.type(sheet.getByRole('textbox', { name: /^Why/ }), 'Asked for by letter');
  await hand.click(go);
  await waitFor(() => expect(server.sent).toHaveLength(1));
  expect(server.sent[0]).toMatchObject({
    path: 'cases/c/removals',
    body: { plate: false, photos: [], words: ['Harrow'], reason: 'Asked for by letter' },
  });
});
