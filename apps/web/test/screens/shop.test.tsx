import type { BackupState } from '@jarro/api-types';
import { SUMS } from '@jarro/core';
import { screen, waitFor, within } from '@testing-library/react';
import { Board } from '../../src/features/board/board';
import { RulesPage } from '../../src/features/rules/rules-page';
import { PersonSheet } from '../../src/features/session/person-sheet';
import { AccountPage } from '../../src/features/shop/account-page';
import { ShopPage } from '../../src/features/shop/shop-page';
import { SumForm } from '../../src/features/sums/sum-form';
import { OneCase, somebody } from '../support/one-case';
import { show } from '../support/screen';

// The shop's pages: cases found, sums worked out as they are typed, rules in the shop's units, people changed by a code.

afterEach(() => localStorage.clear());

describe('the board', () => {
  const aCase = (number: number, more: object = {}) => ({
    ...{ id: `case-${number}`, version: 1, number, complaint: `Complaint ${number}`, stage: 'open' },
    ...{ openedAt: '2026-03-02T08:00:00Z', openedBy: 'Jem', captures: 0, readings: 0, verdict: null, suspect: null },
    ...{ repaired: false, isComeback: false },
    vehicle: { model: `Model ${number}`, year: null, engine: '', plate: `PL${number}` },
    ...more,
  });
  const withCases = (server: OneCase, cases: readonly object[], pages = 1) => {
    server.pages.set('cases', { cases, total: cases.length, pages });
    server.pages.set('people', [{ id: 'ana', name: 'Ana', email: 'a@b.test', role: 'lead', active: true }]);
    return server;
  };

  it('puts each case under how far its proof has come', async () => {
    const cases = [
      aCase(1),
      aCase(2, { readings: 3, suspect: 'relay-contact' }),
      aCase(3, { stage: 'decided', verdict: 'replace-pump' }),
      aCase(4, { stage: 'decided', verdict: 'replace-relay', repaired: true, isComeback: true }),
    ];
    await show(withCases(new OneCase(), cases), <Board />);
    const under = (title: string) => within(screen.getByRole('region', { name: title })).getAllByRole('link');
    await screen.findByText('Model 1');
    expect(under('Nothing proven').map((one) => one.getAttribute('href'))).toEqual(['/cases/case-1']);
    expect(under('On the bench')[0]).toHaveTextContent('suspect: ');
    expect(under('Decided')).toHaveLength(2);
    expect(under('Decided')[0]).toHaveTextContent('to repair');
    expect(under('Decided')[1]).toHaveTextContent(/comeback.*in recheck/);
  });

  it('asks the server for what was chosen, and begins at its first page', async () => {
    const server = withCases(new OneCase(somebody('lead')), [aCase(1)], 3);
    const { hand } = await show(server, <Board />);
    await hand.click(await screen.findByRole('button', { name: /Older/ }));
    await waitFor(() => expect(server.asked.at(-1)).toBe('cases?page=2'));
    await hand.selectOptions(screen.getByRole('combobox', { name: 'Leading suspect' }), 'module');
    await hand.selectOptions(screen.getByRole('combobox', { name: 'Age' }), '7');
    await hand.selectOptions(await screen.findByRole('combobox', { name: 'Opened by' }), 'ana');
    await hand.click(screen.getByRole('checkbox', { name: 'Opened by me' }));
    await hand.type(screen.getByRole('searchbox'), 'BR16');
    await waitFor(() =>
      expect(Object.fromEntries(new URLSearchParams(server.asked.at(-1)?.split('?')[1]))).toEqual({
        ...{ page: '1', search: 'BR16', mine: 'true', suspect: 'module', olderDays: '7', by: 'ana' },
      }),
    );
  });

  it('says of an empty column whether nothing is there, or nothing that was looked for', async () => {
    const server = withCases(new OneCase(), []);
    const { hand } = await show(server, <Board />);
    expect(await screen.findByText('New cases wait here. Open one when a vehicle comes in.')).toBeVisible();
    await hand.type(screen.getByRole('searchbox'), 'nothing');
    expect((await screen.findAllByText('No case here fits what you look for.')).length).toBe(3);
    expect(screen.queryByRole('combobox', { name: 'Opened by' })).toBeNull();
  });

  it('links a plate that was here before to its case', async () => {
    const before = aCase(4, { vehicle: { model: 'Model 4', year: null, engine: '', plate: 'PL44' } });
    const server = withCases(new OneCase(), [before]);
    const { hand } = await show(server, <Board />);
    await hand.click(screen.getByRole('button', { name: 'Open a case' }));
    await hand.type(screen.getByRole('textbox', { name: 'Vehicle' }), 'Model 4');
    await hand.type(screen.getByRole('textbox', { name: 'Plate' }), 'pl44');
    await hand.type(screen.getByRole('textbox', { name: /^Complaint/ }), 'Stalls again');
    const visits = await screen.findByRole('combobox', { name: 'This plate was here before' });
    await hand.selectOptions(visits, 'case-4');
    const dialog = screen.getByRole('dialog');
    await hand.click(within(dialog).getByRole('button', { name: 'Open the case' }));
    await waitFor(() => expect(server.sent).toHaveLength(1));
    expect(server.sent[0]).toMatchObject({ path: 'cases', body: { model: 'Model 4', comebackOf: 'case-4' } });
    expect(server.sent[0].body).not.toHaveProperty('year');
  });
});

describe('a sum', () => {
  const form = (server: OneCase, id: string) => {
    const sum = SUMS.find((one) => one.id === id);
    if (!sum) throw new Error(`There is no sum ${id}.`);
    return show(server, <SumForm sum={sum} caseId="c" />);
  };
  const answer = () => screen.getByRole('status');

  it('is worked out as it is typed, and kept with its formula', async () => {
    const server = new OneCase();
    const { hand } = await form(server, 'speed');
    expect(answer()).toHaveTextContent('Fill in what you have; the rest follows.');
    await hand.type(screen.getByRole('textbox', { name: 'One turn' }), '10');
    // 60 000 ms a minute over 10 ms a turn.
    expect(answer()).toHaveTextContent('6000');
    await hand.click(screen.getByRole('button', { name: 'Keep in the case, with its formula' }));
    expect(await screen.findByRole('button', { name: 'Kept in the case' })).toBeDisabled();
    expect(server.sent[0].body.text).toMatch(/^Sum, .*One turn 10 ms.*6000.*By .+\.$/);
    // Another number is another sum.
    await hand.type(screen.getByRole('textbox', { name: 'One turn' }), '0');
    expect(screen.getByRole('button', { name: 'Keep in the case, with its formula' })).toBeEnabled();
  });

  it('follows the unit that is chosen', async () => {
    const { hand } = await form(new OneCase(), 'pressure');
    await hand.type(screen.getByRole('textbox', { name: 'Pressure' }), '58');
    // 1 bar = 14.5038 psi (NIST SP 811, appendix B.8).
    expect(answer().parentElement).toHaveTextContent('4.0');
    await hand.selectOptions(screen.getByRole('combobox', { name: 'Unit of Pressure' }), 'bar');
    expect(answer().parentElement).toHaveTextContent('841');
  });

  it.each([
    ['speed', 'One turn', 'ten', 'One turn: “ten” is not a number.'],
    ['duty', 'Duty', '140', /./],
  ])('says of %s what is wrong with a number that can’t be', async (id, field, text, says) => {
    const { hand } = await form(new OneCase(), id);
    await hand.type(screen.getByRole('textbox', { name: field }), text);
    for (const other of screen.getAllByRole('textbox')) {
      if (other !== screen.getByRole('textbox', { name: field })) await hand.type(other, '5');
    }
    expect(await screen.findByRole('alert')).toHaveTextContent(says);
    expect(screen.getByRole('button', { name: /^Keep/ })).toBeDisabled();
  });
});

describe('the house rules', () => {
  it('are set in the units of whoever reads them, and kept in SI', async () => {
    const server = new OneCase(somebody('lead'));
    const { hand } = await show(server, <RulesPage />);
    const save = screen.getByRole('button', { name: 'Save the house rules' });
    expect(save).toBeDisabled();
    const loss = screen.getByRole('spinbutton', { name: /psi\/min$/ });
    await hand.clear(loss);
    await hand.type(loss, '4');
    const contact = within(screen.getByRole('region', { name: 'One contact' }));
    await hand.click(contact.getByRole('button', { name: '0.1 V' }));
    await hand.click(save);
    await waitFor(() => expect(server.sent).toHaveLength(1));
    const { rules, version } = server.sent[0].body as { rules: Record<string, number>; version: number };
    expect(rules.holdLossPaPerMin / 6894.757).toBeCloseTo(4, 4);
    expect(rules.contactDropV).toBe(0.1);
    // Of the shop as it was read, so that a colleague's change meanwhile isn't written over.
    expect(version).toBe(3);
  });

  it('come back to what is usual, and are only read by a technician', async () => {
    const lead = somebody('lead');
    const strict = { ...lead, shop: { ...lead.shop, rules: { ...lead.shop.rules, pumpWeight: 0.99 } } };
    const { hand, leave } = await show(new OneCase(strict), <RulesPage />);
    const weight = () => screen.getByRole('spinbutton', { name: 'Weight to condemn a pump in %' });
    expect(weight()).toHaveValue(99);
    await hand.click(screen.getByRole('button', { name: 'What is usual' }));
    expect(weight()).toHaveValue(95);
    leave();
    await show(new OneCase(), <RulesPage />);
    expect(weight()).toBeDisabled();
    expect(screen.getByText('A lead sets these.')).toBeVisible();
  });
});

describe('who is at the bench', () => {
  const ANA = { id: 'ana', name: 'Ana', role: 'lead' };

  it('changes by a tap and four digits, without an Enter', async () => {
    const server = new OneCase();
    server.pages.set('session/colleagues', [ANA]);
    const done = jest.fn();
    const { hand } = await show(server, <PersonSheet onClose={done} />);
    await hand.click(await screen.findByRole('button', { name: /^Ana/ }));
    await hand.click(screen.getByRole('button', { name: '4' }));
    await hand.keyboard('7');
    await hand.click(screen.getByRole('button', { name: 'Take one back' }));
    await hand.keyboard('212');
    await waitFor(() => expect(done).toHaveBeenCalled());
    expect(server.sent).toEqual([{ method: 'POST', path: 'session/person', body: { to: 'ana', pin: '4212' } }]);
  });

  it('stays who it was at a wrong code, and asks once more', async () => {
    const server = new OneCase();
    server.pages.set('session/colleagues', [ANA]);
    server.refusal = 'That isn’t the code.';
    const { hand } = await show(server, <PersonSheet onClose={() => undefined} />);
    await hand.click(await screen.findByRole('button', { name: /^Ana/ }));
    await hand.keyboard('1111');
    expect(await screen.findByText('That isn’t the code.')).toBeVisible();
    expect(screen.getByLabelText('0 of 4 digits')).toBeVisible();
  });

  it('says how to come to a code where nobody has one', async () => {
    await show(new OneCase(), <PersonSheet onClose={() => undefined} />);
    expect(await screen.findByText(/No colleague has a code yet/)).toBeVisible();
  });
});

describe('one’s own account', () => {
  it('takes a unit, a code and a password, and says what came of each', async () => {
    const server = new OneCase();
    const { hand } = await show(server, <AccountPage />);
    await hand.click(screen.getByRole('radio', { name: 'bar' }));
    await waitFor(() => expect(server.sent[0]).toMatchObject({ path: 'session/units', body: { pressureUnit: 'bar' } }));
    await hand.type(screen.getByLabelText('Password'), 'my password');
    await hand.type(screen.getByLabelText(/^Code/), '12');
    await hand.click(screen.getByRole('button', { name: 'Keep the code' }));
    expect(server.sent).toHaveLength(1);
    await hand.type(screen.getByLabelText(/^Code/), '34');
    await hand.click(screen.getByRole('button', { name: 'Keep the code' }));
    expect(await screen.findByText('Kept.')).toBeVisible();
    expect(server.sent[1].body).toEqual({ password: 'my password', pin: '1234' });
    await hand.type(screen.getByLabelText('Present password'), 'my password');
    await hand.type(screen.getByLabelText(/^New password/), 'four unrelated words');
    await hand.click(screen.getByRole('button', { name: 'Change the password' }));
    expect(await screen.findByText(/Your other browsers were signed out/)).toBeVisible();
    expect(screen.getByLabelText('Present password')).toHaveValue('');
  });
});

describe('the shop’s settings', () => {
  const NO_BACKUPS: BackupState = { folder: null, kept: 0, files: [], running: null, problem: null };
  const PEOPLE = [
    { id: 'ana', name: 'Ana', email: 'a@b.test', role: 'lead', active: true },
    { id: 'tom', name: 'Tom', email: 't@b.test', role: 'technician', active: false },
  ];
  const page = (server: OneCase) => {
    server.pages.set('people', PEOPLE);
    server.pages.set('backups', NO_BACKUPS);
    server.pages.set('audit', [
      { id: 9, action: 'verdict.override', target: 'case 4', at: '2026-03-02T08:00:00Z', by: 'Ana' },
    ]);
    return show(server, <ShopPage />);
  };

  it('are a lead’s alone', async () => {
    await page(new OneCase());
    expect(screen.getByText('Only a lead keeps the shop’s settings.')).toBeVisible();
    expect(screen.queryByRole('region', { name: 'People' })).toBeNull();
  });

  it('change with the version they were read at', async () => {
    const server = new OneCase(somebody('lead'));
    const { hand } = await page(server);
    const rate = screen.getByRole('spinbutton', { name: 'An hour’s labour' });
    await hand.clear(rate);
    await hand.click(screen.getByRole('button', { name: 'Save the shop' }));
    expect(server.sent).toEqual([]);
    await hand.type(rate, '110');
    await hand.click(screen.getByRole('radio', { name: 'kPa' }));
    await hand.click(screen.getByRole('button', { name: 'Save the shop' }));
    await waitFor(() => expect(server.sent).toHaveLength(1));
    expect(server.sent[0].body).toMatchObject({ labourRate: 110, pressureUnit: 'kPa', version: 3, name: 'A shop' });
  });

  it('take people in, change them, and keep the names of those who left', async () => {
    const server = new OneCase(somebody('lead'));
    const { hand } = await page(server);
    const people = await screen.findByRole('region', { name: 'People' });
    expect(await within(people).findByText('left')).toBeVisible();
    await hand.click(within(people).getByRole('button', { name: 'Add a person' }));
    const sheet = screen.getByRole('dialog');
    await hand.type(within(sheet).getByRole('textbox', { name: 'Name' }), 'Bo');
    await hand.type(within(sheet).getByRole('textbox', { name: 'E-mail' }), 'bo@b.test');
    await hand.click(within(sheet).getByRole('radio', { name: 'Adviser' }));
    const password = within(sheet).getByRole('textbox', { name: 'First password' });
    await hand.type(password, 'long enough');
    await hand.click(within(sheet).getByRole('button', { name: 'Add' }));
    await waitFor(() => expect(screen.queryByRole('dialog')).toBeNull());
    expect(server.sent[0].body).toEqual({ name: 'Bo', email: 'bo@b.test', password: 'long enough', role: 'adviser' });
    await hand.click(screen.getByRole('button', { name: 'Change Tom' }));
    await hand.click(screen.getByRole('button', { name: 'Is back' }));
    await waitFor(() =>
      expect(server.sent[1]).toEqual({ method: 'PATCH', path: 'people/tom', body: { active: true } }),
    );
    expect(screen.getByText('overrode the gate')).toBeVisible();
  });

  it('say when all was last backed up, how far one under way is, and why one failed', async () => {
    const server = new OneCase(somebody('lead'));
    const { hand } = await page(server);
    const backups = await screen.findByRole('region', { name: 'Backups' });
    expect(await within(backups).findByText('JARRO_BACKUP_FOLDER')).toBeVisible();
    const kept: BackupState = {
      ...{ folder: '/other/disk', kept: 14, running: null, problem: 'Nothing was backed up. The disk is full.' },
      files: [{ name: 'jarro-2026-03-02T0200.sql.gz', sizeBytes: 3_140_000, at: '2026-03-02T02:00:00Z' }],
    };
    server.pages.set('backups', kept);
    const now = await within(backups).findByRole('button', { name: 'Back up now' });
    expect(backups).toHaveTextContent(/2, 2026.*3\.1 MB.*1 of at most 14/);
    expect(within(backups).getByRole('alert')).toHaveTextContent('The disk is full.');
    server.pages.set('backups', { ...kept, running: { stage: 'storing', share: 0.25 } });
    await hand.click(now);
    expect(await within(backups).findByText('Storing 25 %')).toBeVisible();
    await hand.click(within(backups).getByRole('button', { name: 'Stop' }));
    await waitFor(() =>
      expect(server.sent.map(({ method, path }) => `${method} ${path}`)).toEqual([
        'POST backups',
        'DELETE backups/running',
      ]),
    );
  });
});
