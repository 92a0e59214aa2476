import { truncateSync } from 'node:fs';
import { expect } from '@playwright/test';
import { simulateCapture } from '@jarro/core';
import { shopOf, test } from './shop.js';
import { capture, chooseFile, entries, file, goTo, openCase, picture, settled, signIn, walk } from './support.js';

test.use(shopOf(import.meta.url));

test('a technician takes a bad pump from the scope’s file to an allowed verdict', async ({ page }) => {
  const problems: string[] = [];
  page.on('pageerror', (error) => problems.push(error.message));
  await signIn(page, 'jem@fennick.demo');
  await openCase(page, 'Pewter Wren');

  await chooseFile(page, capture('wren.csv', { seed: 77, burnt: [{ bar: 3, extraOhm: 2 }] }));
  const sheet = page.getByRole('dialog');
  await expect(sheet.getByText('One notch, every turn')).toBeVisible();
  await expect(sheet.getByLabel('Pump current is clipped to')).toHaveValue('pump_current');
  await sheet.getByLabel('Pump current was taken with').selectOption({ label: 'another clamp …' });
  await sheet.getByLabel('Millivolts for an ampere').fill('10000');
  await sheet.getByRole('button', { name: 'Use it', exact: true }).click();
  await expect(sheet.getByText(/ten times too small/)).toBeVisible();
  await sheet.getByLabel('Pump current was taken with').selectOption({ label: 'as the file says, A' });
  await expect(sheet.getByText(/ten times too small/)).toBeHidden();
  await sheet.getByLabel('What is it of?').fill('Prime at the fuse');
  await sheet.getByRole('button', { name: 'Keep this capture' }).click();
  await expect(sheet).toBeHidden();
  await expect(page.getByRole('heading', { name: /Prime at the fuse/ })).toBeVisible();
  await expect(page.getByRole('img', { name: /Rotor map: 8 bars; bar \d open/ })).toBeVisible();

  // The gate holds the pump back until supply and ground are proven; nobody but a lead can pass it.
  await goTo(page, 'Verdict');
  await page.getByRole('radio', { name: 'Condemn the pump' }).click();
  await page.getByLabel(/In a sentence/).fill('Bar open on every turn, supply and ground proven.');
  await expect(page.getByRole('button', { name: 'Give the verdict' })).toBeDisabled();
  await expect(page.getByText('Only a lead may override')).toBeVisible();

  // Walk the path by keyboard alone: number, Enter, number, Enter.
  await page.getByRole('button', { name: 'Battery + not read' }).click();
  await walk(page, [
    ['Battery +', '12,6'],
    ['Fusible link', ''],
    ['Fuse', '12.55'],
    ['Relay 87', '12.5'],
    ['Cut-off switch', '12.45'],
    ['Tank connector, feed', ''],
    ['Pump', '12.4'],
    ['Tank connector, ground', '0.08'],
    ['Ground point', ''],
  ]);
  await expect(page.getByRole('dialog')).toBeHidden();
  await expect(page.getByRole('heading', { name: 'Gate: the pump may be condemned' })).toBeVisible();
  await page.getByRole('button', { name: 'Give the verdict' }).click();
  await expect(page.getByRole('heading', { name: 'Pump condemned' })).toBeVisible();

  await page.getByRole('link', { name: 'Summary' }).click();
  await expect(page.getByRole('button', { name: 'Print this page' })).toBeVisible();
  await expect(page.getByText('Supply proven: 0.20 V of 0.50 V allowed.')).toBeVisible();
  await expect(page.getByText(/seal [0-9a-f]{10}/).first()).toBeVisible();
  expect(problems).toEqual([]);
});

test('bad files are refused in one clear line, and nothing is kept', async ({ page }) => {
  await signIn(page, 'jem@fennick.demo');
  await openCase(page, 'Ember Kite');
  for (const [path, message] of [
    [file('photo.csv', Buffer.from([0xff, 0xd8, 0xff, 0xe0, 0, 16, 74, 70])), /not CSV text/],
    [file('short.csv', 'Time,A\n0,1\n1,1\n2,1\n'), /Only 3 rows/],
    [
      file('text.csv', `Time,A\n${Array.from({ length: 40 }, (_, i) => `${i},${i === 30 ? 'x' : 1}`).join('\n')}`),
      /Row 32/,
    ],
  ] as const) {
    await chooseFile(page, path);
    await expect(page.getByRole('dialog').getByRole('alert')).toHaveText(message);
    await page.getByRole('button', { name: 'Close' }).click();
  }
  // Too large a file is refused before a byte of it is sent. It is a hole: no disk is used.
  const large = file('large.csv', 'Time,A\n0,1\n');
  truncateSync(large, 300 * 1024 * 1024);
  await chooseFile(page, large);
  await expect(page.getByRole('alert')).toHaveText(/300 MiB, over the limit of 256 MiB/);
  // A file without a time column asks for the rate, and goes on with it.
  const body = Array.from({ length: 4000 }, (_, i) => (i < 400 ? 0 : 5 + Math.sin(i))).join('\n');
  await chooseFile(page, file('untimed.csv', `Clamp A\n${body}\n`));
  await page.getByLabel('Samples a second').fill('10000');
  await page.getByRole('button', { name: 'Read with this rate' }).click();
  await expect(page.getByText(/No time column/).first()).toBeVisible();
  await page.getByRole('button', { name: 'Close' }).click();
  await expect(page.getByText('Drop the scope’s file here')).toBeVisible();
});

test('a wrong clamp scale is asked about before the file is kept; kept all the same, it can be voided', async ({
  page,
}) => {
  await signIn(page, 'jem@fennick.demo');
  await openCase(page, 'Cobalt Heron');
  await chooseFile(page, capture('heron.csv', { seed: 5 }));
  const sheet = page.getByRole('dialog');
  const keep = sheet.getByRole('button', { name: 'Keep this capture' });
  const scale = sheet.getByLabel('Pump current was taken with');
  await scale.selectOption({ label: '10 mV/A' });
  await expect(keep).toBeDisabled();
  // Put right, there is nothing to ask.
  await scale.selectOption({ label: 'as the file says, A' });
  await expect(sheet.getByRole('checkbox', { name: /ten times too large/ })).toBeHidden();
  await expect(keep).toBeEnabled();
  await scale.selectOption({ label: '10 mV/A' });
  await sheet.getByRole('checkbox', { name: /ten times too large/ }).check();
  await keep.click();
  await expect(sheet).toBeHidden();

  await expect(page.getByText(/mean of \d+ A can't be/).first()).toBeVisible();
  await page.reload();
  await expect(page.getByText(/mean of \d+ A can't be/).first()).toBeVisible();
  await page.getByRole('link', { name: 'Evidence' }).click();
  await entries(page).filter({ hasText: 'heron' }).getByRole('button', { name: 'Void' }).click();
  await page.getByLabel(/Why/).fill('Clamp scale wrong');
  await page.getByRole('button', { name: 'Void it' }).click();
  await expect(page.getByText(/mean of \d+ A can't be/)).toBeHidden();
});

test('a clamp in millivolts is asked for its scale, and both runs of a broken-off current are read', async ({
  page,
}) => {
  await signIn(page, 'jem@fennick.demo');
  await openCase(page, 'Marl Teasel');
  const run = simulateCapture({ sampleRateHz: 20_000, onS: 0.15, durationS: 0.9 }).capture.channels[0].samples;
  const rows = [...run, ...run].map((ampere, i) => `${(i / 20_000).toFixed(5)},${(100 * ampere).toFixed(2)}`);
  await chooseFile(page, file('clamp.csv', `Time (s),Pump current (mV)\n${rows.join('\n')}\n`));
  const sheet = page.getByRole('dialog');
  await expect(sheet.getByText('The file gives mV. Which clamp was it?')).toBeVisible();
  await expect(sheet.getByText('Mean draw')).toBeHidden();
  await sheet.getByRole('button', { name: '100 mV/A', exact: true }).click();
  await expect(sheet.getByText('2 stretches in which the pump ran')).toBeVisible();
  await expect(sheet.getByText(/^The current breaks off once/)).toBeVisible();
  await sheet.getByRole('button', { name: 'Keep this capture' }).click();
  await expect(sheet).toBeHidden();
  await expect(page.getByText('2 stretches in which the pump ran')).toBeVisible();
  await page.getByRole('button', { name: 'Where it breaks off' }).click();
});

test('the trace moves by wheel, drag and keys, and measures between cursors', async ({ page }) => {
  await signIn(page, 'orsa@fennick.demo');
  await page.getByText('Marrow Finch').click();
  const trace = page.getByRole('application');
  await expect(trace).toBeVisible();
  const asked: string[] = [];
  page.on('request', (request) => {
    if (request.url().includes('/window')) asked.push(new URL(request.url()).search);
  });
  await trace.focus();
  for (const key of ['Home', 'ArrowUp', 'ArrowRight', '-']) {
    const before = asked.length;
    await page.keyboard.press(key);
    await expect.poll(() => asked.length).toBeGreaterThan(before);
  }
  await trace.hover();
  const before = asked.length;
  await page.mouse.wheel(0, -400);
  await expect.poll(() => asked.length).toBeGreaterThan(before);
  const box = await trace.boundingBox();
  if (!box) throw new Error('The trace has no box.');
  const beforeDrag = asked.length;
  await page.mouse.move(box.x + box.width * 0.7, box.y + 120);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width * 0.4, box.y + 120, { steps: 8 });
  await page.mouse.up();
  await expect.poll(() => asked.length).toBeGreaterThan(beforeDrag);
  // The strip above it shows the whole record: a press there goes there.
  const beforeStrip = asked.length;
  await page.getByRole('img', { name: /^The whole record/ }).click({ position: { x: 40, y: 20 } });
  await expect.poll(() => asked.length).toBeGreaterThan(beforeStrip);
  // A drag may end in a press that sets a cursor; each press below waits until the one before is on screen.
  await settled(page);
  await trace.focus();
  await page.keyboard.press('Escape');
  await expect(page.locator('figcaption')).toContainText('Press on a lane to set a cursor');
  await page.mouse.click(box.x + box.width * 0.4, box.y + 100);
  await expect(page.locator('figcaption')).toContainText(/A [\d.]+ ms/);
  await page.mouse.click(box.x + box.width * 0.6, box.y + 100);
  await expect(page.getByText(/A to B [\d.]+ ms · \d+ rpm if one turn/)).toBeVisible();

  // A stretch that can't be had is said, and had again as soon as it can.
  await page.route('**/window*', (route) => route.abort());
  await trace.focus();
  await page.keyboard.press('ArrowUp');
  const lost = page.getByText('This part of the trace can’t be loaded just now.');
  await expect(lost).toBeVisible();
  await page.unroute('**/window*');
  await page.keyboard.press('ArrowDown');
  await expect(lost).toBeHidden();
});

/** What a case's newest capture says on its own. */
const SAID: Readonly<Record<string, string>> = {
  'case-intermittent': 'The supply fell, not the pump',
  'case-module': 'By the system’s table the output should be 60 %, and it is 30 %.',
};

test('wrong passwords are told so, and the demo’s views are as in the pictures', async ({ page }) => {
  await page.goto('/');
  await expect(page.getByRole('heading', { name: 'jarro' })).toBeVisible();
  await page.getByLabel('E-mail').fill('orsa@fennick.demo');
  await page.getByLabel('Password').fill('guess');
  await page.getByRole('button', { name: 'Sign in' }).click();
  await expect(page.getByRole('alert')).toHaveText('The name or the password is wrong.');
  await signIn(page, 'orsa@fennick.demo');
  await expect(page.getByText('Quarrow Dart')).toBeVisible();
  await picture(page, 'board');
  for (const [model, name] of [
    ['Marrow Finch', 'case-resistive-feed'],
    ['Sable Orrin', 'case-burnt-bars'],
    ['Tolva Plover', 'case-intermittent'],
    ['Halvard Siskin', 'case-module'],
    ['Tolva Corrie', 'case-open-ground'],
  ] as const) {
    await page.goto('/');
    await page.getByText(model).click();
    await goTo(page, 'Pump current');
    await expect(page.getByRole('application')).toBeVisible();
    await expect(page.getByRole('region', { name: 'Suspects' })).toBeVisible();
    const said = SAID[name];
    if (said) await expect(page.getByText(said)).toBeVisible();
    if (name === 'case-resistive-feed') await page.getByRole('button', { name: /Open the path$/ }).click();
    await picture(page, name);
  }
  await expect(page.getByText(/ground is open/).first()).toBeVisible();

  await page.getByRole('link', { name: 'Summary' }).click();
  await expect(page.getByText('No verdict stands yet.')).toBeVisible();
  await page.goto('/');
  await page.getByText('Sable Orrin').click();
  await page.getByRole('link', { name: 'Summary' }).click();
  await expect(page.getByRole('heading', { name: 'Pump condemned' })).toBeVisible();
  await picture(page, 'summary');

  await page.goto('/');
  await page.getByText('Sable Ivel').click();
  await goTo(page, 'Recheck');
  await expect(page.getByRole('img', { name: /before and after on one angle/ })).toBeVisible();
  await expect(page.getByRole('region', { name: 'The failing tests again' })).toContainText('passes');
  await picture(page, 'recheck');

  await page.goto('/');
  await page.getByText('Marrow Finch').click();
  await goTo(page, 'Verdict');
  await page.getByRole('radio', { name: 'Condemn the pump' }).click();
  await expect(page.getByText('Condemn the pump: the evidence doesn’t allow it yet.')).toBeVisible();
  await picture(page, 'verdict-refused');
  await page.getByRole('button', { name: /^Relay 87/ }).click();
  await expect(page.getByRole('dialog')).toBeVisible();
  await picture(page, 'reading');

  await page.goto('/');
  await page.getByText('Quarrow Dart').click();
  await goTo(page, 'Pump current');
  await chooseFile(page, capture('dart-prime.csv', { seed: 5, barSpread: 0.02 }));
  await expect(page.getByRole('dialog').getByText('Even humps')).toBeVisible();
  await picture(page, 'add-capture');
});
