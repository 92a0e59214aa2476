import { expect, type Page } from '@playwright/test';
import { shopOf, test } from './shop.js';
import {
  answerRecheck,
  chooseFile,
  enter,
  entries,
  file,
  finishRepair,
  goTo,
  openCase,
  PIXEL,
  seenTo,
  signIn,
} from './support.js';

test.use(shopOf(import.meta.url));

// The whole pressure sheet of a fresh case, by hand: windows, table, regulator, filter, snap, scan values, three ways.

test('a fresh case’s pressure sheet, number by number', async ({ page }) => {
  await signIn(page, 'jem@fennick.demo');
  await openCase(page, 'Wicken Harrier');
  await goTo(page, 'Intake');
  await page.getByLabel('Pressure sensor on the rail?').getByRole('radio', { name: 'Yes', exact: true }).click();
  await page.getByText('Maker’s pressure windows').click();
  await page.getByLabel('Idle, lowest in kPa').fill('410');
  await page.getByLabel('Idle, highest in kPa').fill('290');
  const table = page.getByRole('region', { name: 'Rail sensor table' });
  await table.getByLabel('Full scale, kPa').fill('800');
  await table.getByRole('button', { name: '0.5 to 4.5 V sensor' }).click();
  await expect(table.getByText('4.50 V = 800 kPa')).toBeVisible();
  await table.getByLabel('Volts').fill('2,5');
  await table.getByLabel('Pressure, kPa').fill('900');
  await table.getByRole('button', { name: 'Add a point' }).click();

  // What is typed and not finished is asked for, not dropped; what is not saved outlives another stage and a reload.
  await page.getByLabel('Prime, lowest in kPa').fill('300');
  await save(page);
  await expect(page.getByRole('alert')).toContainText('Prime: give its lowest and highest as numbers in kPa');
  await page.getByLabel('Prime, lowest in kPa').fill('');
  await page.getByLabel(/Trouble code, or/).fill('P0191');
  await save(page);
  await expect(page.getByRole('alert')).toContainText('“P0191” is typed but not added');
  await page.getByRole('button', { name: 'Add', exact: true }).click();
  await expect(page.getByText('Fuel rail pressure sensor circuit range/performance')).toBeVisible();
  await table.getByRole('button', { name: 'Add a point' }).click();
  await expect(table.getByRole('alert')).toContainText('A point is two numbers');
  await goTo(page, 'Repair');
  await page.getByLabel(/Write down/).fill('Half a');
  await page.reload();
  await expect(page.getByLabel(/Write down/)).toHaveValue('Half a');
  await page.getByLabel(/Write down/).fill('');
  await expect(page.getByRole('link', { name: /^Intake/ }).getByLabel('not saved yet')).toBeVisible();
  await goTo(page, 'Intake');

  // A window and a table that can't be are refused in words, and everything typed stays.
  await save(page);
  await expect(page.getByRole('alert')).toContainText('goes from a lower to a higher pressure');
  await page.getByLabel('Idle, lowest in kPa').fill('290');
  await page.getByLabel('Idle, highest in kPa').fill('410');
  await save(page);
  await expect(page.getByRole('alert')).toContainText('table must rise from row to row');
  await table.getByText('2.50 V = 900 kPa').getByRole('button', { name: 'Remove' }).click();
  await save(page);
  await expect(page.getByText('Saved and sealed.')).toBeVisible();
  // What was mistyped when the case was opened is put right, on the record.
  await page.getByText('correct it').click();
  await page.getByLabel('Vehicle', { exact: true }).fill('');
  await save(page);
  await expect(page.getByRole('alert')).toContainText('Name the vehicle.');
  await page.getByLabel('Vehicle', { exact: true }).fill('Wicken Harrier');
  await page.getByLabel('Plate').fill('WH19 KLM');
  await save(page);
  await expect(page.getByText('Saved and sealed.')).toBeVisible();
  await expect(page.getByText(/1.8 petrol · WH19 KLM · Stalls when hot/)).toBeVisible();
  await page.getByLabel('Notes').fill('a slip');
  await page.getByRole('button', { name: 'Drop my changes' }).click();
  await expect(page.getByLabel('Notes')).toHaveValue('');
  await enter(page, /Battery at rest/, '12.6');
  await expect(page.getByRole('button', { name: /Battery at rest 12.60 V/ })).toBeVisible();

  // A station's sheet, opened from the ribbon, has its own cautions before it.
  await page.getByRole('button', { name: /^Fuse/ }).click();
  await expect(page.getByRole('dialog')).toContainText('Fused jumpers only');
  await expect(page.getByRole('dialog').getByRole('textbox')).toBeHidden();
  await page.keyboard.press('Escape');

  await goTo(page, 'Pressure');
  await seenTo(page);
  await page.getByRole('button', { name: 'The gauge is bled' }).click();
  await enter(page, /^Idle: not read/, '200');
  await expect(page.getByRole('button', { name: 'Idle: 200 kPa, low' })).toContainText('290 to 410 · maker’s');

  // 29 psi with the hose on, 40 psi off, 22 inHg: the regulator works; with fuel in the hose it doesn't.
  await page.getByRole('button', { name: 'Idle: 200 kPa, low' }).press('Enter');
  await page.keyboard.type('199.9');
  await page.keyboard.press('Enter');
  await enter(page, /Idle, regulator hose off/, '275.8');
  await enter(page, /Manifold vacuum/, '74.5');
  await expect(page.getByText('The regulator follows the vacuum.').first()).toBeVisible();
  await page.getByRole('button', { name: 'Wet' }).click();
  await expect(page.getByText(/diaphragm is torn/).first()).toBeVisible();
  await page.getByRole('button', { name: 'Dry' }).click();
  await expect(page.getByText('The regulator follows the vacuum.').first()).toBeVisible();

  await enter(page, /Lowest on snap throttle/, '150');
  await expect(page.getByText(/Sags on snap throttle/).first()).toBeVisible();
  await enter(page, /Before the filter/, '420');
  await enter(page, /After the filter/, '330');
  await expect(page.getByText(/filter loses too much/).first()).toBeVisible();

  // Scan values: the sensor reads low against the gauge, so the controller over-commands.
  await enter(page, /Pump duty, commanded/, '68');
  await enter(page, /Pump duty, feedback/, '67');
  await enter(page, /Rail pressure, desired/, '380');
  await enter(page, /Rail pressure, actual/, '150');
  await expect(page.getByText(/still off its target/).first()).toBeVisible();
  await expect(page.getByText(/Three-way check: needs/).first()).toBeVisible();
  await enter(page, /Rail sensor volts/, '1.25');
  await expect(page.getByText(/The sensor reads lower than the gauge/).first()).toBeVisible();
  await expect(page.getByText(/Asks for 68 % duty because the rail sensor reads low/).first()).toBeVisible();
  await enter(page, /Short-term trim/, '4');
  await enter(page, /Long-term trim/, '40');
  await expect(page.getByText(/After the fix reset the learned trims/).first()).toBeVisible();
  await page.getByRole('button', { name: /Long-term trim/ }).click();
  await page.keyboard.type('140');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('dialog').getByRole('alert')).toContainText('between -100 and +99.2 %');
  await page.keyboard.press('Escape');

  // The gauge was off: what is read from now on counts only once it is bled anew, and what was read must be read again.
  const verdict = page.getByRole('status').first();
  await expect(verdict).toHaveText(/^Low/);
  await page.getByRole('button', { name: 'The gauge was taken off since' }).click();
  await expect(verdict).toHaveText(/Bleed the gauge first/);
  await page.getByRole('button', { name: 'The gauge is bled' }).click();
  await expect(verdict).toHaveText(/Read it again/);

  await goTo(page, 'Evidence');
  const rows = entries(page);
  await expect(rows.filter({ hasText: 'Gauge at the rail' })).toHaveCount(2);
  await expect(rows.filter({ hasText: 'Rail sensor volts' })).toContainText('1.25 V');
  const versions = rows.filter({ hasText: 'Intake: saved' });
  await expect(versions.first()).toContainText('Vehicle: Wicken Harrier · 1.8 petrol · WH19 KLM (was Wicken Harrier');
  await expect(versions.last()).toContainText('0.5 V = 0 kPa, 4.5 V = 800 kPa');
});

test('two people edit one intake, and each field is settled by choice', async ({ page, browser }) => {
  await signIn(page, 'jem@fennick.demo');
  await openCase(page, 'Teasel Rook');
  await goTo(page, 'Intake');
  const other = await (await browser.newContext()).newPage();
  await signIn(other, 'pell@fennick.demo');
  await other.goto(page.url());
  await other.getByLabel('Since').fill('Tuesday');
  await other.getByLabel('Who condemned what').fill('the last shop: the pump');
  await page.getByLabel('Notes').fill('Noise from the left side');
  await page.getByLabel('Who condemned what').fill('nobody yet');
  await save(other);
  await expect(other.getByText('Saved and sealed.')).toBeVisible();
  // Theirs shows here without a reload, and nothing of mine goes over it.
  const meanwhile = page.getByRole('region', { name: 'Saved meanwhile' });
  await expect(meanwhile.getByRole('alert')).toContainText('Pell Harrow saved this intake while you wrote; nothing of');
  await expect(meanwhile).toContainText('Pell Harrow: Tuesday');
  // Theirs where only they wrote, mine where I did; then one of mine is given up.
  await expect(whose(meanwhile, 'Since', 'Theirs')).toBeChecked();
  await expect(whose(meanwhile, 'Notes', 'Mine')).toBeChecked();
  await expect(whose(meanwhile, 'Who condemned what', 'Mine')).toBeChecked();
  await whose(meanwhile, 'Who condemned what', 'Theirs').click();
  await meanwhile.getByRole('button', { name: 'Go on with these' }).click();
  await save(page);
  await expect(page.getByText('Saved and sealed.')).toBeVisible();
  await page.reload();
  await expect(page.getByLabel('Since')).toHaveValue('Tuesday');
  await expect(page.getByLabel('Notes')).toHaveValue('Noise from the left side');
  await expect(page.getByLabel('Who condemned what')).toHaveValue('the last shop: the pump');

  // Every earlier version stays to be read.
  await goTo(page, 'Evidence');
  const versions = entries(page).filter({ hasText: 'Intake: saved' });
  await expect(versions).toHaveCount(2);
  await expect(versions.first()).toContainText('Notes: Noise from the left side (was –)');
  await versions.first().getByText('The whole intake as saved then').click();
  await expect(versions.first().getByRole('definition').filter({ hasText: 'Tuesday' })).toBeVisible();
  await expect(versions.last()).toContainText('Since: Tuesday');

  // What one keeps appears at the other's, who does nothing.
  await other.goto(page.url());
  await expect(entries(other).first()).toContainText('Intake: saved');
  await goTo(page, 'Repair');
  await page.getByLabel(/Write down/).fill('Ring sealed');
  await page.getByRole('button', { name: 'Keep this note' }).click();
  await expect(entries(other).first()).toContainText('Ring sealed');
  await goTo(page, 'Evidence');

  // An adviser reads everything and measures nothing.
  await other.goto(page.url().replace('evidence', 'first-checks'));
  await expect(other.getByRole('group', { name: /really fuel/ }).getByRole('button', { name: 'Empty' })).toBeDisabled();
  await other.goto(page.url().replace('evidence', 'verdict'));
  await expect(other.getByText('Technicians and leads give the verdict.')).toBeVisible();
  await other.context().close();
});

test('a photo is voided, a case is closed after its recheck and reopened', async ({ page }) => {
  await signIn(page, 'orsa@fennick.demo');
  await openCase(page, 'Bracken Sprite');
  await goTo(page, 'Intake');
  await page.getByLabel('What does the picture show?').fill('Wrong vehicle');
  await chooseFile(page, file('wrong.png', PIXEL), 'Photo file');
  await expect(page.getByRole('img', { name: 'Wrong vehicle' })).toBeVisible();
  await goTo(page, 'Evidence');
  const photo = entries(page).filter({ hasText: 'Photo' });
  await photo.getByRole('button', { name: 'Void' }).click();
  await page.getByLabel('Why is it wrong?').fill('Taken of the vehicle beside');
  await page.getByRole('button', { name: 'Void it' }).click();
  await expect(photo).toContainText('voided by Orsa');
  await goTo(page, 'Intake');
  await expect(page.getByRole('img', { name: 'Wrong vehicle' })).toBeHidden();

  await goTo(page, 'Closed');
  await expect(page.getByRole('button', { name: 'Close the case' })).toBeDisabled();
  await goTo(page, 'Verdict');
  await page.getByRole('radio', { name: 'Clear the pump' }).click();
  // Nothing was proven, so a lead gives the reason, which stays.
  await page.getByLabel(/Override as lead/).fill('Fresh fuel in, it starts every time.');
  await page.getByLabel(/In a sentence/).fill('Fuel was stale; the pump delivers.');
  await page.getByRole('button', { name: 'Give the verdict' }).click();
  await expect(page.getByText('Fuel was stale; the pump delivers.')).toBeVisible();
  await expect(page.getByText(/Against the gate, by a lead: Fresh fuel in/)).toBeVisible();
  await finishRepair(page, 'Nothing to repair: fresh fuel is in.');
  await answerRecheck(page);
  await page.getByLabel(/Write down/).fill('Starts at once, pressure holds.');
  await page.getByRole('button', { name: 'Keep this note' }).click();
  await expect(page.getByText('Starts at once, pressure holds.')).toBeVisible();
  await goTo(page, 'Closed');
  await page.getByRole('button', { name: 'Close the case' }).click();
  await expect(page.getByText('this vehicle was handed back')).toBeVisible();
  await goTo(page, 'Intake');
  await expect(page.getByRole('button', { name: 'Save the intake' })).toBeHidden();
  await expect(page.getByLabel('not saved yet')).toHaveCount(0);
  await goTo(page, 'Closed');
  await page.getByLabel(/Why it is opened again/).fill('It stalled again on the way home.');
  await page.getByRole('button', { name: 'Reopen the case' }).click();
  await expect(page).toHaveURL(/power-path$/);
  await goTo(page, 'Intake');
  await expect(page.getByRole('button', { name: 'Save the intake' })).toBeVisible();
});

async function save(page: Page) {
  await page.getByRole('button', { name: 'Save the intake' }).click();
}

function whose(meanwhile: ReturnType<Page['getByRole']>, field: string, side: 'Theirs' | 'Mine') {
  return meanwhile.getByLabel(`${field}: whose holds`).getByRole('radio', { name: side });
}
