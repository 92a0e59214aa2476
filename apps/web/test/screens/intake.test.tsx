import { EMPTY_INTAKE, type Intake } from '@jarro/core';
import { act, screen, waitFor, within } from '@testing-library/react';
import { IntakeStage } from '../../src/features/intake/intake-stage';
import { OneCase, somebody, type Link } from '../support/one-case';
import { showOnBench } from '../support/screen';

// The intake: one form, saved as a whole; what two people write at once is settled field by field, and nothing is lost.

afterEach(() => localStorage.clear());

const VEHICLE = { model: 'Brindle Rook', engine: '1.4 petrol', plate: 'BR16 ROK' };
const saved = (intake: Partial<Intake>, takenBy = 'Jem'): Link => ({
  kind: 'intake',
  at: 'case',
  value: { ...EMPTY_INTAKE, vehicle: VEHICLE, ...intake },
  takenBy,
});
const stage = (server: OneCase) => showOnBench(server, (item) => <IntakeStage item={item} />);
const save = () => screen.getByRole('button', { name: 'Save the intake' });
const sentIntake = (server: OneCase) => (server.sent.at(-1)?.body as { intake: Intake }).intake;

it('saves what was pressed and typed as one version, with the one that it began from', async () => {
  const server = new OneCase().has(saved({ since: 'Easter' }));
  const { hand } = await stage(server);
  expect(save()).toBeDisabled();
  await hand.click(screen.getByRole('button', { name: 'Cranks, won’t start' }));
  await hand.type(screen.getByRole('textbox', { name: 'Who condemned what' }), 'The last shop, the pump');
  expect(screen.getByText('Not saved yet; kept on this device.')).toBeVisible();
  await hand.click(save());
  expect(await screen.findByText('Saved and sealed.')).toBeVisible();
  expect(server.sent).toHaveLength(1);
  expect(server.sent[0]).toMatchObject({ method: 'PUT', path: 'cases/c/intake', body: { basis: 1 } });
  const { symptoms, since, condemnedBy, vehicle } = sentIntake(server);
  expect(symptoms).toHaveLength(1);
  expect({ since, condemnedBy, vehicle }).toMatchObject({
    since: 'Easter',
    condemnedBy: 'The last shop, the pump',
    vehicle: VEHICLE,
  });
  expect(save()).toBeDisabled();
});

it('asks for the minutes only where it comes after minutes', async () => {
  const server = new OneCase().has(saved({}));
  const { hand } = await stage(server);
  expect(screen.queryByRole('spinbutton', { name: 'After how many minutes' })).toBeNull();
  await hand.click(screen.getByRole('button', { name: /^After .*minutes/i }));
  await hand.type(screen.getByRole('spinbutton', { name: 'After how many minutes' }), '25');
  await hand.click(save());
  await waitFor(() => expect(server.sent).toHaveLength(1));
  expect(sentIntake(server).afterMinutes).toBe(25);
});

it('holds what isn’t saved over a reload, and lets go of it when asked', async () => {
  const server = new OneCase().has(saved({ since: 'Easter' }));
  const first = await stage(server);
  const since = () => screen.getByRole('textbox', { name: 'Since' });
  await first.hand.clear(since());
  await first.hand.type(since(), 'Whitsun');
  first.leave();
  const { hand } = await stage(server);
  expect(since()).toHaveValue('Whitsun');
  await hand.click(screen.getByRole('button', { name: 'Drop my changes' }));
  expect(since()).toHaveValue('Easter');
  expect(save()).toBeDisabled();
  expect(Object.keys(localStorage).filter((name) => name.includes('intake'))).toEqual([]);
});

it('is one sheet in two tabs: what is written in the other stands here, and is saved with what is added to it', async () => {
  const server = new OneCase().has(saved({ since: 'Easter' }));
  const { hand } = await stage(server);
  const [since, condemnedBy] = ['Since', 'Who condemned what'].map((name) => screen.getByRole('textbox', { name }));
  await hand.type(condemnedBy, 'The last shop');
  const key = Object.keys(localStorage).find((name) => name.includes('intake'))!;
  const here = localStorage.getItem(key)!;
  const there = JSON.parse(here) as { intake: Intake };
  const writtenThere = (since: string) =>
    JSON.stringify({ ...there, intake: { ...there.intake, since }, page: 'another' });
  const [newValue, newer] = [writtenThere('Whitsun'), writtenThere('Whitsuntide')];
  localStorage.setItem(key, newer);
  act(() => void dispatchEvent(new StorageEvent('storage', { key, newValue })));
  expect(since).toHaveValue('Whitsun');
  expect(condemnedBy).toHaveValue('The last shop');
  // Nothing is written back: it may be older by now than what the other tab has, which would answer in its turn.
  expect(localStorage.getItem(key)).toBe(newer);
  await hand.type(condemnedBy, ', the pump');
  await hand.click(save());
  await waitFor(() => expect(server.sent).toHaveLength(1));
  expect(sentIntake(server)).toMatchObject({ since: 'Whitsun', condemnedBy: 'The last shop, the pump' });
});

it('shows what a colleague saved where nothing is being written', async () => {
  const server = new OneCase().has(saved({ since: 'Easter' }));
  const { hear } = await stage(server);
  server.has(saved({ since: 'Whitsun' }, 'Ana'));
  await hear();
  await waitFor(() => expect(screen.getByRole('textbox', { name: 'Since' })).toHaveValue('Whitsun'));
});

it('settles what two wrote at once by field: each begins at whoever changed it, and mine where both did', async () => {
  const server = new OneCase().has(saved({ since: 'Easter', notes: 'old', priorRepairs: '' }));
  const { hand, hear } = await stage(server);
  const since = screen.getByRole('textbox', { name: 'Since' });
  await hand.clear(since);
  await hand.type(since, 'Whitsun');
  server.has(saved({ since: 'Advent', notes: 'hers', priorRepairs: '' }, 'Ana'));
  await hear();
  const conflict = await screen.findByRole('region', { name: 'Saved meanwhile' });
  expect(conflict).toHaveTextContent('Ana saved this intake while you wrote; nothing of yours is lost.');
  expect(save()).toBeDisabled();
  const whose = (field: RegExp) => within(screen.getByRole('radiogroup', { name: field }));
  expect(whose(/^Since/).getByRole('radio', { name: 'Mine' })).toBeChecked();
  expect(whose(/^Notes/).getByRole('radio', { name: 'Theirs' })).toBeChecked();
  await hand.click(whose(/^Since/).getByRole('radio', { name: 'Theirs' }));
  await hand.click(whose(/^Since/).getByRole('radio', { name: 'Mine' }));
  await hand.click(screen.getByRole('button', { name: 'Go on with these' }));
  await hand.click(save());
  await waitFor(() => expect(server.sent).toHaveLength(1));
  expect(server.sent[0].body.basis).toBe(2);
  expect(sentIntake(server)).toMatchObject({ since: 'Whitsun', notes: 'hers' });
});

it('says why the server won’t have it, with everything still there', async () => {
  const server = new OneCase().has(saved({}));
  server.refusal = 'The case was closed meanwhile.';
  const { hand } = await stage(server);
  await hand.type(screen.getByRole('textbox', { name: 'Since' }), 'Easter');
  await hand.click(save());
  expect(await screen.findByText('The case was closed meanwhile.')).toBeVisible();
  expect(screen.getByRole('textbox', { name: 'Since' })).toHaveValue('Easter');
});

it('is written by an adviser, who measures nothing', async () => {
  await stage(new OneCase(somebody('adviser')).has(saved({})));
  expect(screen.getByRole('textbox', { name: 'Since' })).toBeEnabled();
  expect(screen.queryAllByRole('button', { name: /V$/ }).filter((tile) => !tile.hasAttribute('disabled'))).toEqual([]);
});
