import { EMPTY_INTAKE } from '@jarro/core';
import { screen, waitFor, within } from '@testing-library/react';
import { HoldTest } from '../../src/features/pressure/hold-test';
import { PressureStage } from '../../src/features/pressure/pressure-stage';
import { VolumeTest } from '../../src/features/pressure/volume-test';
import { OneCase, somebody, type Link } from '../support/one-case';
import { showOnBench } from '../support/screen';

// Gauge, clock and jar: what is typed in the unit of whoever reads is kept in SI, and what can't be is refused in words.

const BLED: Link = { kind: 'check', at: 'gauge_bled', value: 'yes' };
/** 1 psi = 6894.757 Pa (NIST SP 811, appendix B.8). */
const PSI = 6894.757;

afterEach(() => {
  jest.restoreAllMocks();
  localStorage.clear();
});

const stage = (server: OneCase) => showOnBench(server, (item) => <PressureStage item={item} />);

it('asks for a bled gauge first, and shows at once that it is', async () => {
  const server = new OneCase().hasSeenCautions();
  const { hand } = await stage(server);
  await hand.click(await screen.findByRole('button', { name: 'The gauge is bled' }));
  expect(await screen.findByText('The gauge is bled.')).toBeVisible();
  expect(server.sent[0].body).toMatchObject({ kind: 'check', at: 'gauge_bled', value: 'yes', faultPresent: true });
});

it('keeps a gauge reading in pascals, whatever unit it is read in', async () => {
  const server = new OneCase(somebody('technician', { pressureUnit: 'bar' })).hasSeenCautions().has(BLED);
  const { hand } = await stage(server);
  await hand.click(await screen.findByRole('button', { name: /^Idle: / }));
  await hand.type(screen.getByRole('textbox', { name: /in bar$/ }), '2,5{Enter}');
  await waitFor(() => expect(screen.queryByRole('dialog')).toBeNull());
  expect(server.sent[0].body).toMatchObject({ kind: 'pressure', at: 'rail', keyState: 'idle' });
  expect(server.sent[0].body.value).toBeCloseTo(250_000, 3);
  expect(await screen.findByRole('button', { name: /^Idle: 2\.50 bar/ })).toBeVisible();
});

it('refuses what is no number, and says what the server refuses, with the number still in its field', async () => {
  const server = new OneCase().hasSeenCautions().has(BLED);
  const { hand } = await stage(server);
  await hand.click(await screen.findByRole('button', { name: /^Prime/ }));
  const field = screen.getByRole('textbox', { name: /in psi$/ });
  await hand.type(field, '58..{Enter}');
  expect(screen.getByRole('alert')).toHaveTextContent('“58..” is not a number. Type the reading in psi.');
  expect(server.sent).toEqual([]);
  server.refusal = 'The case was closed meanwhile.';
  await hand.clear(field);
  await hand.type(field, '58{Enter}');
  expect(await screen.findByText('The case was closed meanwhile.')).toBeVisible();
  expect(field).toHaveValue('58');
});

it('offers no key to whoever may only read', async () => {
  await stage(new OneCase(somebody('adviser')).hasSeenCautions().has(BLED));
  expect(await screen.findByRole('button', { name: /^Prime/ })).toBeDisabled();
  expect(screen.queryByRole('button', { name: 'Time a hold test' })).toBeNull();
});

it('shows cautions in place of the work until somebody has seen to them', async () => {
  const server = new OneCase();
  const { hand } = await stage(server);
  expect(screen.queryByRole('button', { name: /^Prime/ })).toBeNull();
  await hand.click(screen.getByRole('button', { name: 'Seen to it' }));
  expect(await screen.findByRole('button', { name: /^Prime/ })).toBeVisible();
  expect(server.sent.map(({ path }) => path)).toContain('cases/c/cautions');
});

it('says of a reading taken while the fault is away that it proves little', async () => {
  const server = new OneCase().hasSeenCautions().has(BLED);
  const { hand } = await stage(server);
  await hand.click(await screen.findByRole('radio', { name: 'No, it is gone for now' }));
  expect(screen.getByText(/proves little of it/)).toBeVisible();
  await hand.click(screen.getByRole('button', { name: /^Idle: / }));
  await hand.type(screen.getByRole('textbox', { name: /in psi$/ }), '40{Enter}');
  await waitFor(() => expect(server.sent).toHaveLength(1));
  expect(server.sent[0].body.faultPresent).toBe(false);
});

describe('the hold test', () => {
  const sheet = (server: OneCase) => showOnBench(server, (item) => <HoldTest item={item} editable />);
  /** The clock of the wall; a test turns it. */
  const clock = (at: { ms: number }) => jest.spyOn(Date, 'now').mockImplementation(() => at.ms);

  it('times each number by its Enter, over a reload, and keeps the fall in pascals and seconds', async () => {
    const at = { ms: 1_700_000_000_000 };
    clock(at);
    const server = new OneCase().has(BLED);
    const first = await sheet(server);
    await first.hand.click(screen.getByRole('button', { name: 'Time a hold test' }));
    await first.hand.click(screen.getByRole('button', { name: 'Key off' }));
    await first.hand.type(screen.getByRole('textbox', { name: /Pressure now/ }), '50{Enter}');
    at.ms += 60_000;
    await first.hand.type(screen.getByRole('textbox', { name: /Pressure now/ }), '45{Enter}');
    expect(screen.getByText('1 more until it can be judged.')).toBeVisible();
    expect(screen.getByRole('button', { name: 'Keep this test' })).toBeDisabled();
    first.leave();

    const { hand } = await sheet(server);
    await hand.click(screen.getByRole('button', { name: /^Go on with the hold test/ }));
    at.ms += 60_000;
    await hand.type(screen.getByRole('textbox', { name: /Pressure now/ }), '40{Enter}');
    await hand.click(screen.getByRole('radio', { name: /Return/ }));
    await hand.click(screen.getByRole('button', { name: 'Keep this test' }));
    await waitFor(() => expect(screen.queryByRole('dialog')).toBeNull());
    const { value, keyState } = server.sent[0].body as {
      value: { points: number[][]; blocked: string };
      keyState: string;
    };
    expect(keyState).toBe('after-off');
    expect(value.blocked).toBe('return');
    expect(value.points.map(([s]) => s)).toEqual([0, 60, 120]);
    value.points.forEach(([, pascal], i) => expect(pascal / PSI).toBeCloseTo(50 - 5 * i, 4));
    // 5 psi a minute, as they were typed.
    expect(await screen.findByText('5.0')).toBeVisible();
    expect(screen.getByRole('button', { name: 'Time a hold test' })).toBeVisible();
  });

  it('refuses what no gauge shows, takes the last one back, and forgets a test that is dropped', async () => {
    const server = new OneCase().has(BLED);
    const { hand } = await sheet(server);
    await hand.click(screen.getByRole('button', { name: 'Time a hold test' }));
    const field = screen.getByRole('textbox', { name: /Pressure now/ });
    await hand.type(field, '99999{Enter}');
    expect(screen.getByRole('alert')).toBeVisible();
    await hand.clear(field);
    await hand.type(field, '50{Enter}');
    expect(screen.getByText('2 more until it can be judged.')).toBeVisible();
    await hand.click(screen.getByRole('button', { name: 'Take the last one out' }));
    expect(screen.getByText('3 more until it can be judged.')).toBeVisible();
    await hand.click(screen.getByRole('button', { name: 'Drop this test' }));
    expect(screen.getByRole('button', { name: 'Time a hold test' })).toBeVisible();
    expect(server.sent).toEqual([]);
  });

  it('takes a word where nobody timed it', async () => {
    const server = new OneCase().has(BLED);
    const { hand } = await sheet(server);
    const words = screen.getByRole('group', { name: 'Seen without timing it' });
    const [first] = within(words).getAllByRole('button');
    await hand.click(first);
    await waitFor(() => expect(first).toHaveAttribute('aria-pressed', 'true'));
    expect(server.sent[0].body).toMatchObject({ kind: 'hold', at: 'rail', keyState: 'after-off' });
  });
});

describe('the volume test', () => {
  const sheet = (server: OneCase) => showOnBench(server, (item) => <VolumeTest item={item} editable />);

  it('keeps cubic metres and seconds, and shows litres an hour', async () => {
    const server = new OneCase();
    const { hand } = await sheet(server);
    await hand.type(screen.getByRole('textbox', { name: 'Litres' }), '0.5');
    await hand.type(screen.getByRole('textbox', { name: 'Seconds' }), '15');
    await hand.click(screen.getByRole('button', { name: 'Keep' }));
    // Half a litre in a quarter of a minute: 120 L/h.
    expect(await screen.findByText('120')).toBeVisible();
    expect(server.sent[0].body.value).toEqual({ volumeM3: 0.0005, durationS: 15 });
    expect(screen.getByRole('textbox', { name: 'Litres' })).toHaveValue('');
  });

  it('times it by one key, pressed twice', async () => {
    const at = { ms: 1_700_000_000_000 };
    jest.spyOn(Date, 'now').mockImplementation(() => at.ms);
    const { hand } = await sheet(new OneCase());
    await hand.click(screen.getByRole('button', { name: 'Time it' }));
    await hand.click(screen.getByRole('button', { name: 'It runs' }));
    at.ms += 14_960;
    await hand.click(screen.getByRole('button', { name: 'It stops' }));
    await hand.click(screen.getByRole('button', { name: 'Keep this time' }));
    expect(screen.getByRole('textbox', { name: 'Seconds' })).toHaveValue('15');
  });

  it('refuses one half without the other', async () => {
    const server = new OneCase();
    const { hand } = await sheet(server);
    await hand.type(screen.getByRole('textbox', { name: 'Litres' }), '0.5');
    await hand.click(screen.getByRole('button', { name: 'Keep' }));
    expect(screen.getByRole('alert')).toHaveTextContent('Type the litres and the seconds as numbers.');
    expect(server.sent).toEqual([]);
  });
});

describe('gauge, scan value and sensor, held against each other', () => {
  // A sensor of 0.5 V at nothing and 4.5 V at 700 kPa: 400 kPa are 2.786 V, 300 kPa are 2.214 V.
  const TABLE = [
    [0.5, 0],
    [4.5, 7e5],
  ];
  const intake: Link = {
    ...{ kind: 'intake', at: 'case' },
    value: { ...EMPTY_INTAKE, features: { ...EMPTY_INTAKE.features, railSensor: 'yes' }, sensorTable: TABLE },
  };
  const at = (keyState: 'idle', gaugePa: number, scanPa: number, volts: number): Link[] => [
    { kind: 'pressure', at: 'rail', value: gaugePa, keyState },
    { kind: 'scan', at: 'actual_pressure', value: scanPa, keyState },
    { kind: 'scan', at: 'sensor_volts', value: volts, keyState },
  ];
  const shown = async (...links: readonly Link[]) => {
    const server = new OneCase(somebody('technician', { pressureUnit: 'kPa' })).has(BLED, intake, ...links);
    await stage(server.hasSeenCautions());
    return within(screen.getByRole('region', { name: 'Scan values' }));
  };

  it('wants all three, and says which', async () => {
    const values = await shown({ kind: 'pressure', at: 'rail', value: 4e5, keyState: 'idle' });
    expect(values.getByText(/^Three-way check: needs the gauge, the scan value and the sensor’s volts/)).toBeVisible();
  });

  it.each([
    ['the sensor, where scan and volts agree against the gauge', 3e5, 2.214, /The sensor reads lower than the gauge/],
    ['the scan value, where gauge and volts agree', 3e5, 2.786, /The sensor’s volts are right/],
  ])('names %s', async (_, scanPa, volts, text) => {
    const values = await shown(...at('idle', 4e5, scanPa, volts));
    expect(values.getByText(text)).toBeVisible();
    const liar = values.getByText('differs').parentElement!;
    expect(liar).toHaveTextContent(volts === 2.786 ? /^Scan300/ : /^Sensor, by its volts300/);
  });

  it('names none where all agree', async () => {
    const values = await shown(...at('idle', 4e5, 4e5, 2.786));
    expect(values.getByText('Gauge, scan and sensor agree.')).toBeVisible();
    expect(values.queryByText('differs')).toBeNull();
  });
});
