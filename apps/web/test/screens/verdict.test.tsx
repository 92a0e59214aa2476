import { presentEvidence, weighCase } from '@jarro/core';
import { screen, waitFor } from '@testing-library/react';
import { useMemo } from 'react';
import { useTheBench } from '../../src/features/case/bench';
import { DecideForm } from '../../src/features/verdict/decide-form';
import { OneCase, somebody } from '../support/one-case';
import { BAD_CONTACT } from '../support/readings';
import { showOnBench } from '../support/screen';

// The verdict: the heaviest first, barred where the evidence doesn't bear it, and what being wrong would cost.

afterEach(() => localStorage.clear());

function Decide() {
  const { evidence, rules } = useTheBench();
  const diagnosis = useMemo(() => weighCase(evidence, rules), [evidence, rules]);
  return <DecideForm diagnosis={diagnosis} />;
}

const form = (server: OneCase) => showOnBench(server, () => <Decide />);
const give = () => screen.getByRole('button', { name: 'Give the verdict' });
const sentence = () => screen.getByRole('textbox', { name: /^In a sentence/ });

it('the core’s weights fit the readings of this suite', () => {
  const { evidence } = new OneCase().has(...BAD_CONTACT).detail();
  const ground = { complaint: '', links: evidence, goods: [], measuredOf: () => undefined };
  const { families } = weighCase(presentEvidence(ground, 'open'), somebody().shop.rules);
  expect([...families].sort((a, b) => b.probability - a.probability)[0].family).toBe('relay-contact');
});

it('bars a verdict that nothing speaks for, with what is missing, from everybody but a lead', async () => {
  const server = new OneCase();
  const { hand } = await form(server);
  await hand.click(await screen.findByRole('radio', { name: 'Condemn the pump' }));
  expect(screen.getByText('Condemn the pump: the evidence doesn’t allow it yet.')).toBeVisible();
  expect(screen.getAllByRole('listitem').length).toBeGreaterThan(0);
  expect(screen.getByText(/Only a lead may override this/)).toBeVisible();
  await hand.type(sentence(), 'I am sure.');
  expect(give()).toBeDisabled();
});

it('lets a lead override with a reason of some length, and sends that reason', async () => {
  const server = new OneCase(somebody('lead'));
  const { hand } = await form(server);
  await hand.click(await screen.findByRole('radio', { name: 'Condemn the pump' }));
  await hand.type(sentence(), 'Seized, seen through the port.');
  const reason = screen.getByRole('textbox', { name: /^Override as lead/ });
  await hand.type(reason, 'Seen');
  expect(give()).toBeDisabled();
  await hand.type(reason, ' by two of us');
  await hand.click(give());
  await waitFor(() => expect(server.sent).toHaveLength(1));
  expect(server.sent[0]).toMatchObject({
    path: 'cases/c/verdicts',
    body: { kind: 'replace-pump', statement: 'Seized, seen through the port.', overrideReason: 'Seen by two of us' },
  });
});

it('holds the sentence over a reload, and over a refusal', async () => {
  const server = new OneCase(somebody('lead'));
  const first = await form(server);
  await first.hand.type(await screen.findByRole('textbox', { name: /^In a sentence/ }), 'The contact.');
  first.leave();
  const { hand } = await form(server);
  expect(await screen.findByRole('textbox', { name: /^In a sentence/ })).toHaveValue('The contact.');
  await hand.type(screen.getByRole('textbox', { name: /^Override as lead/ }), 'Because it is so.');
  server.refusal = 'This case has a verdict already.';
  await hand.click(give());
  expect(await screen.findByText('This case has a verdict already.')).toBeVisible();
  expect(sentence()).toHaveValue('The contact.');
});

describe('what being wrong would cost', () => {
  it('is said in one sentence for the front desk, and kept as it stands', async () => {
    const server = new OneCase().has(...BAD_CONTACT);
    const { hand } = await form(server);
    await hand.click(await screen.findByRole('radio', { name: 'Condemn the relay' }));
    await hand.click(screen.getByText('What being wrong would cost'));
    expect(screen.getByText('Type what the parts cost; the rest follows.')).toBeVisible();
    await hand.type(screen.getByRole('textbox', { name: /^Parts/ }), '24');
    const said = screen.getByText(/^Replacing the relay now is the wrong repair in/).textContent;
    expect(said).toContain('€');
    await hand.click(screen.getByRole('button', { name: 'Keep this sentence in the case' }));
    expect(await screen.findByRole('button', { name: 'Kept in the case' })).toBeDisabled();
    expect(server.sent[0].body).toMatchObject({ stage: 'verdict', text: said });
  });

  it('follows what is typed, and falls silent at what is no number', async () => {
    const { hand } = await form(new OneCase());
    await hand.click(await screen.findByRole('radio', { name: 'Condemn the pump' }));
    await hand.click(screen.getByText('What being wrong would cost'));
    const parts = screen.getByRole('textbox', { name: /^Parts/ });
    const loss = () =>
      Number(screen.getByText('Replacing now, expected loss').nextElementSibling?.textContent?.match(/\d+/)?.[0]);
    await hand.type(parts, '100');
    const cheap = loss();
    await hand.clear(parts);
    await hand.type(parts, '500');
    expect(loss()).toBeGreaterThan(cheap);
    await hand.type(parts, 'x');
    expect(screen.getByText('Type what the parts cost; the rest follows.')).toBeVisible();
  });
});
