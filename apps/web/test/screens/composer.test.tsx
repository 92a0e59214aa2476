import { templateProfile, type SystemProfile } from '@jarro/core';
import { screen, waitFor, within } from '@testing-library/react';
import { ComposerPage } from '../../src/features/systems/composer-page';
import { SystemsPage } from '../../src/features/systems/systems-page';
import { OneCase, somebody } from '../support/one-case';
import { show } from '../support/screen';

// A system is put together out of parts, named, filled in, and kept once nothing is wrong with it.

afterEach(() => localStorage.clear());

const page = (server: OneCase, from = 'P1') => show(server, <ComposerPage />, `/systems/new?from=${from}`);
const keep = () => screen.getByRole('button', { name: 'Keep this system' });
const name = () => screen.getByRole('textbox', { name: /name of this one$/ });
const path = () => within(screen.getByRole('region', { name: 'Path' }));
const keptProfile = (server: OneCase) => server.sent[0].body.profile as SystemProfile;

// A second way to the pump, a module with its tables, two pumps, the longest path: what the others have too.
it.each(['P2', 'P6', 'P8', 'P9'] as const)(
  'keeps the template of path %s as it is, but never without a name',
  async (kind) => {
    const server = new OneCase();
    const { hand } = await page(server, kind);
    await hand.clear(name());
    expect(keep()).toBeDisabled();
    expect(screen.getByText(/^Not ready to keep: Name the system/)).toBeVisible();
    await hand.type(name(), 'Brindle Rook');
    await hand.click(keep());
    await waitFor(() => expect(server.sent).toHaveLength(1));
    expect(keptProfile(server)).toEqual({ ...templateProfile(kind), name: 'Brindle Rook' });
  },
);

it('puts a part behind the station that is chosen, and opens its fields', async () => {
  const server = new OneCase();
  const { hand } = await page(server);
  const stations = () => path().getAllByRole('listitem');
  const before = stations().length;
  await hand.click(within(stations()[1]).getAllByRole('button')[1]);
  await hand.click(within(screen.getByRole('region', { name: 'Parts' })).getByRole('button', { name: 'Connector' }));
  expect(stations()).toHaveLength(before + 1);
  expect(within(stations()[2]).getAllByRole('button')[1]).toHaveAttribute('aria-pressed', 'true');
  const field = screen.getByRole('textbox', { name: 'Called' });
  await hand.clear(field);
  await hand.type(field, 'Under the seat');
  expect(stations()[2]).toHaveTextContent('Under the seat');
  await hand.click(keep());
  await waitFor(() => expect(server.sent).toHaveLength(1));
  expect(keptProfile(server).stations[2]).toMatchObject({ kind: 'connector', name: 'Under the seat' });
});

it('says what is wrong where it is, and keeps nothing until it is right', async () => {
  const server = new OneCase();
  const { hand } = await page(server);
  const draw = screen.getByRole('textbox', { name: /^Draws/ });
  await hand.clear(draw);
  await hand.type(draw, 'five');
  expect(keep()).toBeDisabled();
  expect(screen.getByText(/^Not ready to keep: /)).toBeVisible();
  expect(screen.getAllByRole('alert').length).toBeGreaterThan(0);
  await hand.clear(draw);
  await hand.type(draw, '5,5');
  await hand.click(keep());
  await waitFor(() => expect(server.sent).toHaveLength(1));
  expect(keptProfile(server).pump.amperes).toBe(5.5);
});

it('holds what is written over a reload, for its writer, until it is dropped', async () => {
  const server = new OneCase();
  const first = await page(server);
  await first.hand.clear(name());
  await first.hand.type(name(), 'Half a name');
  expect(screen.getByText(/Not kept yet; it stays on this device/)).toBeVisible();
  first.leave();

  const other = await page(new OneCase(somebody('technician', { id: 'ana' })));
  expect(name()).toHaveValue(templateProfile('P1').name);
  other.leave();

  const { hand } = await page(server);
  expect(name()).toHaveValue('Half a name');
  await hand.click(screen.getByRole('button', { name: 'Drop my changes' }));
  expect(name()).toHaveValue(templateProfile('P1').name);
  expect(Object.keys(localStorage).filter((key) => key.includes('system-form'))).toEqual([]);
});

it('shows a system to an adviser without a key to keep it', async () => {
  await page(new OneCase(somebody('adviser')));
  expect(screen.queryByRole('button', { name: 'Keep this system' })).toBeNull();
});

describe('the list of systems', () => {
  const list = (server: OneCase, systems: readonly object[] = []) => {
    server.pages.set('systems', systems);
    return show(server, <SystemsPage />);
  };
  const file = (text: string, called = 'a.json') => new File([text], called, { type: 'application/json' });

  it('takes one from a file, and says of another what is wrong with it', async () => {
    const server = new OneCase();
    const { hand } = await list(server);
    const input = screen.getByLabelText('Take one from a file');
    await hand.upload(input, file('{'));
    expect(await screen.findByText('a.json is not JSON. Choose a file that Jarro exported.')).toBeVisible();
    await hand.upload(input, file('{"schema": "jarro.system/1"}'));
    expect(await screen.findByText(/^a\.json can’t be taken\. /)).toBeVisible();
    expect(server.sent).toEqual([]);
    const profile = { ...templateProfile('P4'), name: 'From a file' };
    await hand.upload(input, file(JSON.stringify(profile)));
    await waitFor(() => expect(server.sent).toHaveLength(1));
    expect(keptProfile(server)).toEqual(profile);
  });

  it('keeps retired ones apart', async () => {
    const of = (id: string, retired: boolean) => ({
      ...{ id, version: 1, retired, madeBy: 'Jem', madeAt: '2026-03-02T08:00:00Z' },
      profile: { ...templateProfile('P1'), name: `System ${id}` },
    });
    await list(new OneCase(), [of('one', false), of('two', true)]);
    const retired = (await screen.findByRole('heading', { name: 'Retired' })).closest('section');
    expect(retired).toHaveTextContent('System two');
    expect(retired).not.toHaveTextContent('System one');
  });
});
