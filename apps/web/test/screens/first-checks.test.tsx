import { FIRST_CHECKS } from '@jarro/core';
import { screen, waitFor, within } from '@testing-library/react';
import { ChecksStage } from '../../src/features/checks/checks-stage';
import { LearnedPage } from '../../src/features/learned/learned-page';
import { SumsButton } from '../../src/features/sums/sums-drawer';
import { OneCase, somebody } from '../support/one-case';
import { show, showOnBench } from '../support/screen';

// What takes seconds: a check answered by one press, a sum one key away, and what the shop's own cases amount to.

afterEach(() => localStorage.clear());

describe('the first checks', () => {
  const bench = () => new OneCase().hasSeenCautions();
  const checkOf = (at: string) => FIRST_CHECKS.find((one) => one.at === at)!;
  const rowOf = (at: string) => within(screen.getByRole('region', { name: checkOf(at).title }));
  const shown = (server: OneCase) => showOnBench(server, (item) => <ChecksStage item={item} />);

  it('keep an answer at one press, in the check’s own key state, and say at once what it means', async () => {
    const server = bench();
    const { hand } = await shown(server);
    const row = rowOf('fuel_in_tank');
    expect(row.queryByText(/explains the complaint/)).toBeNull();
    await hand.click(row.getByRole('button', { name: 'Empty' }));
    expect(server.sent.at(-1)).toMatchObject({
      path: 'cases/c/evidence',
      body: { kind: 'check', at: 'fuel_in_tank', value: 'no', keyState: 'off', faultPresent: true },
    });
    expect(await row.findByText('An empty tank explains the complaint by itself.')).toBeVisible();
    await waitFor(() => expect(row.getByRole('button', { name: 'Empty' })).toHaveAttribute('aria-pressed', 'true'));
  });

  it('send nothing where the answer that stands is pressed again, and put another in its place', async () => {
    const server = bench().has({ kind: 'check', at: 'fuel_in_tank', value: 'gauge', keyState: 'off' });
    const { hand } = await shown(server);
    const row = rowOf('fuel_in_tank');
    await hand.click(row.getByRole('button', { name: 'Gauge says so' }));
    expect(server.sent).toEqual([]);
    await hand.click(row.getByRole('button', { name: 'Yes, seen' }));
    await waitFor(() => expect(row.getByRole('button', { name: 'Yes, seen' })).toHaveAttribute('aria-pressed', 'true'));
    expect(row.getByRole('button', { name: 'Gauge says so' })).toHaveAttribute('aria-pressed', 'false');
    expect(server.links.filter(({ kind }) => kind === 'check').map(({ value }) => value)).toEqual(['gauge', 'yes']);
  });

  it('take an answer read while the fault is away as such', async () => {
    const server = bench();
    const { hand } = await shown(server);
    await hand.click(screen.getByRole('radio', { name: 'No, it is gone for now' }));
    await hand.click(rowOf('fuel_fresh').getByRole('button', { name: 'Stale' }));
    expect(server.sent.at(-1)?.body).toMatchObject({ at: 'fuel_fresh', value: 'stale', faultPresent: false });
  });

  it('tell how to do one where asked, and no longer where asked again', async () => {
    const { hand } = await shown(bench());
    const row = rowOf('fuel_fresh');
    const help = row.getByRole('button', { name: 'How to: Fuel quality' });
    await hand.click(help);
    expect(row.getByText(checkOf('fuel_fresh').howTo)).toBeVisible();
    await hand.click(help);
    expect(row.queryByText(checkOf('fuel_fresh').howTo)).toBeNull();
  });

  it('say why an answer wasn’t kept, and leave the row as it stood', async () => {
    const server = bench();
    server.refusal = 'The case was closed meanwhile.';
    const { hand } = await shown(server);
    const row = rowOf('fuel_in_tank');
    await hand.click(row.getByRole('button', { name: 'Empty' }));
    expect(await row.findByText('The case was closed meanwhile.')).toBeVisible();
    await waitFor(() => expect(row.getByRole('button', { name: 'Empty' })).toHaveAttribute('aria-pressed', 'false'));
  });

  it.each([
    ['to somebody who only looks on', (server: OneCase) => server, somebody('adviser')],
    ['once a verdict stands', (server: OneCase) => Object.assign(server, { stage: 'decided' as const }), somebody()],
  ])('are shown and not asked %s', async (_, prepare, who) => {
    const server = prepare(new OneCase(who).hasSeenCautions());
    await shown(server);
    for (const button of rowOf('fuel_in_tank').getAllByRole('button', { name: /seen|Empty|Gauge/ }))
      expect(button).toBeDisabled();
  });
});

describe('the sums', () => {
  it('come and go by their key, and a result goes into the case with what it was worked from', async () => {
    const server = new OneCase();
    const { hand } = await show(server, <SumsButton />, '/cases/c/pump-current');
    expect(screen.queryByRole('dialog')).toBeNull();
    await hand.keyboard('{F2}');
    const drawer = within(screen.getByRole('dialog', { name: 'Sums' }));
    const tabs = drawer.getAllByRole('tab');
    expect(tabs[0]).toHaveAttribute('aria-selected', 'true');
    const keep = () => drawer.getByRole('button', { name: /Keep in the case|Kept in the case/ });
    const [first, second] = drawer.getAllByRole('textbox');
    await hand.clear(first);
    await hand.type(first, '12x');
    expect(drawer.getByText(/“12x” is not a number/)).toBeVisible();
    expect(keep()).toBeDisabled();
    await hand.clear(first);
    await hand.type(first, '12');
    if (second) {
      await hand.clear(second);
      await hand.type(second, '8');
    }
    await waitFor(() => expect(keep()).toBeEnabled());
    const answer = drawer.getByRole('status').querySelector('.text-3xl')?.textContent ?? '';
    expect(answer).not.toBe('');
    await hand.click(keep());
    await waitFor(() => expect(keep()).toHaveTextContent('Kept in the case'));
    expect(server.sent.at(-1)?.path).toBe('cases/c/notes');
    expect(server.sent.at(-1)?.body.text).toContain(answer);
    await hand.keyboard('{F2}');
    await waitFor(() => expect(screen.queryByRole('dialog')).toBeNull());
  });

  it('keep nothing where no case is open', async () => {
    const { hand } = await show(new OneCase(), <SumsButton />, '/systems');
    await hand.click(screen.getByRole('button', { name: /Sums/ }));
    expect(screen.getByRole('dialog', { name: 'Sums' })).toBeVisible();
    expect(screen.queryByRole('button', { name: /Keep in the case/ })).toBeNull();
  });
});

describe('what the shop learned', () => {
  const nothing = {
    ...{ found: {}, closed: 0, overridden: 0, comebacks: 0, quoted: 0, saved: 0, decided: 0 },
    ...{ medianReadings: null, medianMinutes: null, counted: true },
  };
  const shown = async (learned: object) => {
    const server = new OneCase();
    server.pages.set('learned', { ...nothing, ...learned });
    await show(server, <LearnedPage />);
    return within(await screen.findByRole('region', { name: 'What was found' }));
  };
  const figure = (text: RegExp) => screen.getByText(text).parentElement;

  it('is told by what was found most, and what a verdict took', async () => {
    const found = await shown({
      ...{ found: { 'replace-relay': 2, 'replace-pump': 5 }, closed: 7, comebacks: 1, quoted: 4, saved: 3, decided: 9 },
      ...{ medianReadings: 11, medianMinutes: 38.4, overridden: 1, counted: false },
    });
    expect(found.getAllByRole('listitem').map((row) => row.textContent)).toEqual([
      'Pump condemned5',
      'Relay condemned2',
    ]);
    expect(figure(/pumps saved/)).toHaveTextContent('3 of 4');
    expect(figure(/readings to a verdict, the middle of 9/)).toHaveTextContent('11');
    expect(figure(/from the first reading/)).toHaveTextContent('38 min');
    expect(figure(/comebacks among 7/)).toHaveTextContent('1');
    expect(found.getByText(/^One more was closed on a lead’s word/)).toBeVisible();
    expect(found.getByText(/The weights don’t count these cases/)).toBeVisible();
  });

  it('is nothing yet in a new shop, and says so', async () => {
    const found = await shown({});
    expect(found.getByText(/No case is closed yet/)).toBeVisible();
    expect(figure(/from the first reading/)).toHaveTextContent('–');
    expect(found.queryByText(/lead’s word/)).toBeNull();
    expect(found.getByText(/what is found often here weighs more/)).toBeVisible();
  });
});
