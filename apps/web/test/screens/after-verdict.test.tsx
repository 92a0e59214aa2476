import { recheck, recheckQuestion, templateProfile, type Recheck } from '@jarro/core';
import { screen, waitFor, within } from '@testing-library/react';
import { useMemo } from 'react';
import { useTheBench } from '../../src/features/case/bench';
import { FaultBar } from '../../src/features/case/fault-bar';
import { ChainSheet } from '../../src/features/control/chain-sheet';
import { DropLedgerTable } from '../../src/features/path/drop-ledger';
import { FoldedPath } from '../../src/features/path/folded-path';
import { PrimeTimer } from '../../src/features/pressure/prime-timer';
import { Repeats } from '../../src/features/recheck/repeats';
import { Reopen } from '../../src/features/recheck/reopen';
import { SetUp } from '../../src/features/session/set-up';
import { SignIn } from '../../src/features/session/sign-in';
import { OneCase, somebody, type Link } from '../support/one-case';
import { BAD_CONTACT } from '../support/readings';
import { show, showOnBench } from '../support/screen';

// The path as it folds, the repair proven by the same tests, the first start, and the door.

afterEach(() => {
  jest.restoreAllMocks();
  localStorage.clear();
});

describe('the path in a line', () => {
  const onStation = jest.fn();
  function Line() {
    const bench = useTheBench();
    return <FoldedPath ladder={bench.ladders[0]} bench={bench} onStation={onStation} onOpen={() => undefined} />;
  }

  it('names the suspect and the worst drop, and opens a station at a touch', async () => {
    const { hand } = await showOnBench(new OneCase().has(...BAD_CONTACT), () => <Line />);
    const path = within(screen.getByRole('region', { name: 'Supply path' }));
    // 12.45 V before the relay, 4.20 V behind it.
    expect(path.getByText(/8\.25 V too much/)).toBeVisible();
    expect(path.getByText('up to Relay 87')).toBeVisible();
    // 4.10 V at the pump’s feed, less the 0.02 V that its ground rises by.
    expect(path.getByText('4.08 V')).toBeVisible();
    await hand.click(path.getByRole('button', { name: /^Relay 87 .*4\.20$/ }));
    expect(onStation).toHaveBeenCalledWith('relay');
  });

  it('says that nothing was read yet', async () => {
    await showOnBench(new OneCase(), () => <Line />);
    expect(screen.getByText('No drop read yet')).toBeVisible();
  });

  it('has a ledger of both sides, with the limit of each', async () => {
    const { leave } = await showOnBench(new OneCase().has(...BAD_CONTACT), (item) => (
      <DropLedgerTable ledger={item.ledger} />
    ));
    const [, supply, ground] = screen.getAllByRole('row');
    expect(supply).toHaveTextContent(/Supply.*8\.40 V.*over/);
    expect(ground).toHaveTextContent(/Ground.*0\.02 V.*within/);
    leave();
    await showOnBench(new OneCase(), (item) => <DropLedgerTable ledger={item.ledger} />);
    expect(screen.getByText(/^Read the battery, the pump feed and the pump ground/)).toBeVisible();
  });
});

describe('the same tests after the repair', () => {
  const repaired = (server: OneCase, ...after: readonly Link[]) => {
    server.stage = 'decided';
    return server
      .hasSeenCautions()
      .has(...BAD_CONTACT, { kind: 'verdict', at: 'case', value: { kind: 'replace-relay', statement: 'It.' } })
      .has({ kind: 'repair', at: 'done', value: { what: 'Relay replaced.', changed: true } }, ...after);
  };
  const volts = (at: string, value: number): Link => ({
    ...{ kind: 'voltage', at, value, how: { reference: 'battery-' }, faultPresent: false },
  });
  const onReading = jest.fn();
  function Again() {
    const { item } = useTheBench();
    const compared = useMemo(() => {
      const ground = { complaint: item.complaint, links: item.evidence, goods: [], measuredOf: () => undefined };
      const question = recheckQuestion(ground, item.stage);
      return question && recheck(question);
    }, [item]);
    return <Repeats item={item} recheck={compared as Recheck} editable onReading={onReading} />;
  }
  const again = (server: OneCase) => showOnBench(server, () => <Again />);
  const rowOf = (name: RegExp) => screen.getByRole('listitem', { name });

  it('stand beside what they were, each to be taken again where it was taken', async () => {
    const { hand } = await again(repaired(new OneCase()));
    const row = rowOf(/Relay 87/);
    expect(row).toHaveTextContent('4.20 V');
    expect(row).toHaveTextContent('to be repeated');
    await hand.click(within(row).getByRole('button', { name: /^Take again/ }));
    expect(onReading).toHaveBeenCalledWith(expect.objectContaining({ station: 'relay', kind: 'voltage' }));
  });

  it('pass where the volts are there now, and still fail where they aren’t', async () => {
    const { leave } = await again(repaired(new OneCase(), volts('battery', 12.5), volts('relay', 12.3)));
    expect(rowOf(/Relay 87/)).toHaveTextContent(/12\.30 V.*passes/);
    leave();
    await again(repaired(new OneCase(), volts('battery', 12.5), volts('relay', 4.4)));
    expect(rowOf(/Relay 87/)).toHaveTextContent(/4\.40 V.*still fails/);
  });

  it('can be said to be out of reach, which is kept', async () => {
    const server = repaired(new OneCase());
    const { hand } = await again(server);
    await hand.click(within(rowOf(/Relay 87/)).getByRole('button', { name: /^Can’t be repeated/ }));
    await waitFor(() =>
      expect(server.sent[0].body).toMatchObject({ kind: 'voltage', at: 'relay', value: 'not-possible' }),
    );
    expect(await within(rowOf(/Relay 87/)).findByText('can’t be repeated')).toBeVisible();
  });

  it('bring the case back for a reason', async () => {
    const server = repaired(new OneCase());
    const { hand } = await show(server, <Reopen caseId="c" suggested="Relay 87 still reads 4.40 V." />);
    const why = screen.getByRole('textbox', { name: /^Why it is opened again/ });
    await hand.clear(why);
    await hand.click(screen.getByRole('button', { name: 'Reopen the case' }));
    expect(server.sent).toEqual([]);
    await hand.type(why, 'The new relay reads as the old one did.');
    await hand.click(screen.getByRole('button', { name: 'Reopen the case' }));
    await waitFor(() =>
      expect(server.sent[0]).toMatchObject({
        path: 'cases/c/reopen',
        body: { reason: 'The new relay reads as the old one did.' },
      }),
    );
  });
});

it('takes a vehicle to be sound after its repair, until somebody says that the fault shows', async () => {
  const server = new OneCase().has({ kind: 'verdict', at: 'case', value: { kind: 'replace-relay', statement: 'It.' } });
  server.stage = 'decided';
  server.has({ kind: 'repair', at: 'done', value: { what: 'Relay replaced.', changed: true } });
  const { hand } = await showOnBench(server, () => <FaultBar caseId="c" />);
  expect(screen.getByRole('radio', { name: 'No, it is gone for now' })).toBeChecked();
  await hand.click(screen.getByRole('radio', { name: 'Yes, it shows now' }));
  expect(screen.getByRole('radio', { name: 'Yes, it shows now' })).toBeChecked();
  expect(screen.queryByText(/proves little of it/)).toBeNull();
});

it('times the prime by two presses, by hand or by key, and keeps tenths', async () => {
  const at = { ms: 1_700_000_000_000 };
  jest.spyOn(Date, 'now').mockImplementation(() => at.ms);
  const server = new OneCase();
  const { hand } = await showOnBench(server, () => <PrimeTimer caseId="c" entry={undefined} editable />);
  await hand.click(screen.getByRole('button', { name: /^Rise to prime pressure/ }));
  const sheet = within(screen.getByRole('dialog'));
  await hand.keyboard('[Space]');
  at.ms += 1740;
  await hand.keyboard('[Space]');
  await hand.click(sheet.getByRole('button', { name: 'Keep this time' }));
  await waitFor(() => expect(server.sent[0].body).toMatchObject({ kind: 'timing', at: 'rise_time', value: 1.7 }));
});

it('says at which link a driven pump’s chain breaks, and takes the number that is missing', async () => {
  const profile = {
    ...templateProfile('P5'),
    commandTable: [
      [0, 0],
      [100, 100],
    ] as const,
  };
  const duty = (at: string, value: number): Link => ({ kind: 'duty', at, value, keyState: 'idle' });
  const server = new OneCase()
    .hasSeenCautions()
    .has({ kind: 'system', at: 'case', value: { shipped: true, name: profile.name, profile } });
  const { hand, hear } = await showOnBench(server, (item) => <ChainSheet item={item} editable />);
  const says = () => screen.getAllByRole('status')[0];
  expect(says()).toHaveTextContent('Not known yet');
  server.has(duty('command', 50));
  await hear();
  await hand.click(screen.getByRole('button', { name: /^Duty, given out/ }));
  await hand.type(screen.getByRole('textbox', { name: /in %$/ }), '0{Enter}');
  await waitFor(() => expect(says()).toHaveTextContent('Asked, and not passed on'));
  expect(server.sent[0].body).toMatchObject({ kind: 'duty', at: 'output', value: 0 });
});

describe('the first start, and the door', () => {
  it('makes an owner of whoever reads the code, however it is typed, and signs them in', async () => {
    const server = new OneCase();
    server.pages.set('set-up', { needed: true });
    const { hand } = await show(server, <SetUp />, '/set-up');
    const type = async (label: RegExp, text: string) => hand.type(screen.getByLabelText(label), text);
    await type(/^Code/, ' abcd-efgh-jklm ');
    await type(/^Name of the shop/, 'A shop');
    await type(/^Town/, 'A town');
    await type(/^Your name/, 'Ana');
    await type(/^Your e-mail/, 'ana@shop.test');
    await hand.click(screen.getByRole('button', { name: 'Become the owner' }));
    expect(server.sent).toEqual([]);
    await type(/^Password/, 'four unrelated words');
    await hand.click(screen.getByRole('button', { name: 'Become the owner' }));
    await waitFor(() => expect(server.sent).toHaveLength(2));
    expect(server.sent[0]).toMatchObject({ path: 'set-up', body: { code: 'ABCD-EFGH-JKLM', name: 'Ana' } });
    expect(server.sent[1]).toMatchObject({ path: 'session', body: { email: 'ana@shop.test' } });
  });

  it('says in the server’s words why somebody doesn’t get in', async () => {
    const server = new OneCase(somebody());
    server.pages.set('set-up', { needed: false });
    server.refusal = 'The e-mail or the password is wrong.';
    const { hand } = await show(server, <SignIn />);
    await hand.type(screen.getByLabelText('E-mail'), 'jem@shop.test');
    await hand.type(screen.getByLabelText('Password'), 'wrong');
    await hand.click(screen.getByRole('button', { name: 'Sign in' }));
    expect(await screen.findByText('The e-mail or the password is wrong.')).toBeVisible();
  });
});
