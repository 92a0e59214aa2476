import { expect, type Locator } from '@playwright/test';
import { crankRecord, csvBlocks, driveRecord, intermittentRecord, railRecord, sweepCapture } from '@jarro/core';
import { shopOf, test } from './shop.js';
import { addCapture, entries, file, goTo, openCase, openDrivenCase, passed, seenTo, signIn } from './support.js';

test.use(shopOf(import.meta.url));

// What a driven pump is asked and answers, and the order of a stall: kept where it is seen, weighed at once.

test('a duty sweep and what fell first are kept on a driven path, and move the weights', async ({ page }) => {
  await signIn(page, 'jem@fennick.demo');
  await openDrivenCase(page, 'Fallow Rook');
  await goTo(page, 'Control signals');
  const suspects = page.getByRole('region', { name: 'Suspects' });

  const sweep = page.getByRole('region', { name: 'Duty sweep' });
  const step = (n: number, what: string) => sweep.getByLabel(`Step ${n}, ${what}`);
  await step(1, 'Output, %').fill('26');
  await sweep.getByRole('button', { name: 'Keep this sweep' }).click();
  await expect(sweep.getByRole('alert')).toContainText('Give every step its command');
  await step(1, 'Command, %').fill('53');
  await step(1, 'Current, A').fill('1,5');
  await step(1, 'Pressure').fill('55');
  await step(1, 'Module supply, V').fill('13.8');
  await sweep.getByRole('button', { name: 'Another step' }).click();
  await step(2, 'Command, %').fill('66');
  await step(2, 'Output, %').fill('33');
  await step(2, 'Current, A').fill('1.9');
  await sweep.getByRole('button', { name: 'Keep this sweep' }).click();
  await expect(sweep.getByRole('table')).toContainText('1.5');
  await expect(step(1, 'Command, %')).toHaveValue('');
  await expect(suspects.getByRole('listitem').first()).toContainText(/module/i);

  const order = page.getByRole('group', { name: 'Volts and pressure' });
  await order.getByRole('button', { name: 'Volts first, then pressure' }).click();
  await expect(order.getByRole('button', { name: 'Volts first, then pressure' })).toHaveAttribute(
    'aria-pressed',
    'true',
  );
  await goTo(page, 'Evidence');
  await expect(entries(page).filter({ hasText: 'Duty sweep' })).toContainText('2 steps');
  await expect(entries(page).filter({ hasText: 'What fell first' })).toContainText('voltage');
});

test('what nobody wrote a number for is said in words, and how it was taken stays with it', async ({ page }) => {
  await signIn(page, 'jem@fennick.demo');
  await openCase(page, 'Fallow Teal');
  await page.getByRole('button', { name: /^Relay 87/ }).click();
  const sheet = page.getByRole('dialog');
  await sheet.getByRole('button', { name: 'Seen to it' }).click();

  // Beside the station: the coil's own pins.
  await sheet.getByRole('button', { name: 'Relay coil, feed' }).click();
  await expect(sheet.getByRole('heading', { name: 'Relay coil, feed' })).toBeVisible();
  await sheet.getByRole('button', { name: 'none', exact: true }).click();
  await expect(sheet).toBeHidden();
  await expect(page.getByRole('region', { name: 'Suspects' }).getByRole('listitem').first()).toContainText('Relay');

  // With a jump pack on for this one reading.
  await page.getByRole('button', { name: /^Battery \+/ }).click();
  await sheet.getByText(/Taken the usual way/).click();
  await sheet.getByRole('radio', { name: 'Jump pack or charger on' }).click();
  await page.getByRole('textbox').fill('12.9');
  await page.keyboard.press('Enter');
  await page.keyboard.press('Escape');
  await goTo(page, 'Evidence');
  await expect(entries(page).filter({ hasText: 'Relay coil, feed' })).toContainText('none');
  await expect(entries(page).filter({ hasText: 'Battery +' })).toContainText('battery helped');
});

test('a case is found among the others by words, stage and who opened it', async ({ page }) => {
  await signIn(page, 'jem@fennick.demo');
  await openCase(page, 'Sorrel Wigeon');
  await page.getByRole('link', { name: 'Cases', exact: true }).click();
  const search = page.getByRole('searchbox', { name: 'Find a case' });
  await search.fill('wigeon hot');
  const found = page.getByRole('link', { name: /Sorrel Wigeon/ });
  await expect(found).toBeVisible();
  await expect(page.getByRole('link', { name: /No\. \d+/ })).toHaveCount(1);
  await page.getByLabel('Stage').selectOption('closed');
  await expect(page.getByText('No case here fits what you look for.').first()).toBeVisible();
  await page.getByLabel('Stage').selectOption('open');
  await page.getByLabel('Opened by me').check();
  await found.click();
  await expect(page.getByRole('heading', { name: 'The scale' })).toBeVisible();
});

/** Columns of one record as a scope exports them. */
function recordOf(name: string, sampleRateHz: number, columns: Readonly<Record<string, [string, Float32Array?]>>) {
  const channels = Object.entries(columns).flatMap(([column, [unit, samples]]) =>
    samples ? [{ name: column, unit: unit as 'V', fileFactor: 1, samples }] : [],
  );
  return file(name, Buffer.concat([...csvBlocks({ sampleRateHz, startS: 0, channels, notes: [] })]));
}

test('a module that drops pulses is found in a capture, and its duties are taken over as evidence', async ({
  page,
}) => {
  const drops = driveRecord(12, 'output-drops');
  await signIn(page, 'jem@fennick.demo');
  await openDrivenCase(page, 'Fallow Wren');
  await goTo(page, 'Pump current');
  const path = recordOf('module.csv', drops.sampleRateHz, {
    Command: ['V', drops.commandV],
    'Module output': ['V', drops.outputV],
  });
  await addCapture(page, path);
  const lines = page.getByRole('region', { name: 'Switched lines' });
  await expect(lines).toContainText('Breaks at the module');
  await expect(lines.getByRole('row', { name: /^Module output/ })).toContainText(
    String(drops.truth.output.missing.length),
  );
  const trace = page.getByRole('application');
  await expect(trace).toHaveAccessibleName(/^Command, Module output over time/);
  await page.getByRole('button', { name: 'First missing pulse' }).click();
  await page.mouse.click(...(await middleOf(trace)));
  await expect(page.locator('figcaption')).toContainText(/Command [-\d.]+ V · Module output [-\d.]+ V/);

  await goTo(page, 'Control signals');
  const offer = page.getByRole('region', { name: 'From a capture' });
  await expect(offer).toContainText(/Duty, asked, at its pin: \d+ %/);
  await offer.getByRole('button', { name: 'Take into the sheet' }).click();
  await expect(offer).toContainText('in the sheet');
  await goTo(page, 'Evidence');
  await expect(entries(page).filter({ hasText: 'Duty, given out' })).toHaveCount(1);
});

test('a sweep is cut out of one long capture, and taken over step by step', async ({ page }) => {
  const { sampleRateHz, commandV, currentA, truth } = sweepCapture(34, 'stepped');
  await signIn(page, 'jem@fennick.demo');
  await openDrivenCase(page, 'Fallow Crake');
  await goTo(page, 'Pump current');
  await addCapture(
    page,
    recordOf('sweep.csv', sampleRateHz, { Command: ['V', commandV], 'Pump current': ['A', currentA] }),
  );
  await expect(page.getByText(`${truth.length} stretches in which the pump ran`)).toBeVisible();
  await expect(page.getByText(/runs at 3 levels of current/)).toBeVisible();
  await goTo(page, 'Control signals');
  const offer = page.getByRole('region', { name: 'From a capture' });
  await expect(offer).toContainText('3 steps');
  await offer.getByRole('button', { name: 'Take into the sheet' }).click();
  await expect(offer).toContainText('in the sheet');
  const sweep = page.getByRole('region', { name: 'Duty sweep' });
  const steps = sweep.getByRole('table').getByRole('rowheader');
  await expect(steps).toHaveCount(truth.length);
  const commands = (await steps.allTextContents()).map(Number);
  truth.forEach(({ commandPercent }, i) => expect(Math.abs(commands[i] - commandPercent)).toBeLessThan(0.3));
  await expect(sweep.getByRole('img', { name: 'Pump current over the commanded duty' })).toBeVisible();
});

test('an intermittent shows which side let go, and each time is a press away', async ({ page }) => {
  const opens = intermittentRecord(1104, 'contact-open');
  await signIn(page, 'jem@fennick.demo');
  await openCase(page, 'Fallow Pipit');
  await goTo(page, 'Power path');
  await seenTo(page);
  await goTo(page, 'Pump current');
  const path = recordOf('stall.csv', opens.sampleRateHz, {
    'Pump current': ['A', opens.currentA],
    'Feed voltage': ['V', opens.feedV],
  });
  await addCapture(page, path);
  const fell = page.getByRole('region', { name: 'What fell first' });
  await expect(fell).toContainText('The supply fell, not the pump');
  await expect(fell).toContainText(`${opens.truth.sourceOhm.toFixed(2)}`);
  await expect(fell.getByRole('listitem')).toHaveCount(opens.truth.incidents.length);
  await fell.getByRole('button', { name: 'Show' }).click();
  const trace = page.getByRole('application');
  await expect(trace).toHaveAccessibleName(/^Pump current, Feed voltage over time/);
  // From one to the next, by press or by key; there is none before the first and after the last.
  const many = opens.truth.incidents.length;
  const events = page.getByRole('group', { name: 'Events' });
  await events.getByRole('button', { name: 'Previous event' }).click();
  await expect(events).toContainText(`incident, 1 of ${many}`);
  await trace.focus();
  for (let i = 1; i <= many; i++) await page.keyboard.press('n');
  await expect(events).toContainText(`incident, ${many} of ${many}`);

  // What somebody knows of a moment is marked at the cursor, and stands among the events.
  await page.mouse.click(...(await middleOf(trace)));
  await page.getByRole('button', { name: 'Mark A' }).click();
  const sheet = page.getByRole('dialog');
  await sheet.getByRole('radio', { name: 'disturbed' }).click();
  await sheet.getByLabel('What was moved, heated or tapped').fill('plug at the tank');
  await sheet.getByRole('button', { name: 'Keep this mark' }).click();
  await expect(page.getByRole('region', { name: 'Marks' })).toContainText('disturbed: plug at the tank');
  await expect(fell).toContainText(/Marked: disturbed: plug at the tank \d+\.\d s (before|after)/);
  await expect(events).toContainText(`of ${many + 1}`);

  // Volts over amperes in one lane, and what the two make.
  await page.getByRole('button', { name: 'Lanes' }).click();
  await sheet.getByLabel('Where Feed voltage is drawn').selectOption('over Pump current');
  await sheet.getByRole('radio', { name: 'A × B' }).click();
  await sheet.getByRole('combobox', { name: 'B', exact: true }).selectOption('Feed voltage, V');
  await sheet.getByRole('button', { name: 'Work it out' }).click();
  await expect(sheet.getByRole('row', { name: /Pump current × Feed voltage, W/ })).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(trace).toHaveAccessibleName(/Pump current × Feed voltage/);
  await expect(page.locator('figcaption')).toContainText(/Pump current × Feed voltage [-\d.]+ W/);

  await goTo(page, 'Control signals');
  await page
    .getByRole('region', { name: 'From a capture' })
    .getByRole('button', { name: 'Take into the sheet' })
    .click();
  await goTo(page, 'Evidence');
  await expect(entries(page).filter({ hasText: 'What fell first' })).toContainText('voltage');
  await expect(entries(page).filter({ hasText: 'Mark on a record' })).toContainText('plug at the tank');
});

test('a prime and a start in one record: what the starter pulls down is no fault, and the battery’s volts are kept', async ({
  page,
}) => {
  const { sampleRateHz, currentA, feedV, batteryV } = crankRecord(109);
  await signIn(page, 'jem@fennick.demo');
  await openCase(page, 'Linnet Sprig');
  const path = recordOf('start.csv', sampleRateHz, {
    'Pump current': ['A', currentA],
    'Feed voltage': ['V', feedV!],
    'Battery voltage': ['V', batteryV!],
  });
  await addCapture(page, path);
  const fell = page.getByRole('region', { name: 'What fell first' });
  await expect(fell.getByRole('listitem')).toHaveCount(1);
  await expect(fell).toContainText('the pump itself opened');
  await expect(page.getByText(/The engine cranks from 3\.9\d to 5\.\d\d s/)).toBeVisible();
  await page.getByRole('button', { name: 'Where the engine cranks' }).click();
  await goTo(page, 'Control signals');
  await seenTo(page);
  await expect(page.getByText(/Battery while cranking: \d+\.\d+ V/)).toBeVisible();
  await page.getByRole('button', { name: 'Take into the sheet' }).click();
  await goTo(page, 'First checks');
  await seenTo(page);
  await expect(page.getByRole('button', { name: /^Battery while cranking \d/ })).toBeVisible();
});

test('what is seen by eye is stamped by large keys, judged by its order, and kept with it', async ({ page }) => {
  await signIn(page, 'jem@fennick.demo');
  await openCase(page, 'Fallow Siskin');
  await goTo(page, 'Power path');
  await seenTo(page);
  await goTo(page, 'Control signals');
  await page.getByRole('button', { name: 'Watch for it' }).click();
  const sheet = page.getByRole('dialog', { name: 'Watch for it' });
  await sheet.getByRole('button', { name: 'Begin' }).click();
  await sheet.getByLabel('What is disturbed').fill('heat on the relay');
  await sheet.getByRole('button', { name: 'Disturbed' }).click();
  await page.reload();
  await page.getByRole('button', { name: 'Go on watching' }).click();
  await sheet.getByRole('button', { name: 'Volts gone' }).click();
  await passed(page, 600);
  await page.keyboard.press('p');
  await expect(sheet).toContainText('pressure falling');
  await sheet.getByRole('button', { name: 'Stop watching' }).click();
  await expect(sheet.getByRole('status')).toContainText('The volts went first, after heat on the relay');
  await sheet.getByRole('button', { name: 'Keep what was seen' }).click();
  await expect(sheet).toBeHidden();
  await goTo(page, 'Evidence');
  await expect(entries(page).filter({ hasText: 'What fell first: voltage' })).toHaveCount(1);
  await expect(entries(page).filter({ hasText: 'Watched: The volts went first' })).toContainText('volts gone');
});

async function middleOf(target: Locator): Promise<[number, number]> {
  const box = await target.boundingBox();
  if (!box) throw new Error('It has no box.');
  return [box.x + box.width / 2, box.y + box.height / 4];
}

test('injectors are compared by what each takes from the rail, and the odd one is named', async ({ page }) => {
  const { sampleRateHz, railPa, injectorV, truth } = railRecord(1002, 'weak');
  await signIn(page, 'jem@fennick.demo');
  await openCase(page, 'Fallow Dunlin');
  await goTo(page, 'Pump current');
  await addCapture(
    page,
    recordOf('rail.csv', sampleRateHz, { 'Rail pressure': ['Pa', railPa], 'Injector 1': ['V', injectorV] }),
  );
  // An engine that injects runs, whatever key state a capture is usually of.
  await expect(page.getByRole('region', { name: 'From a capture' })).toContainText('rail, idle, measured Injectors');
  const balance = page.getByRole('region', { name: 'Injections, one by one' });
  const odd = truth.shares.indexOf(Math.min(...truth.shares)) + 1;
  await expect(balance).toContainText(new RegExp(`No\\. ${odd} takes \\d+ % of the others`));
  await expect(balance.getByRole('listitem')).toHaveCount(truth.cylinders);
  await expect(page.getByText(/look at its injector before the pump/)).toBeVisible();
});
