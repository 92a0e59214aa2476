import { expect, type Page } from '@playwright/test';
import { shopOf, test } from './shop.js';
import { answer, goTo, readAt, signIn, walk } from './support.js';

test.use(shopOf(import.meta.url));

// The demo's vehicles whose signals tell it, each worked to its verdict on screen alone.

const leading = (page: Page) => page.getByRole('region', { name: 'Suspects' }).getByRole('listitem').first();

/** What the newest capture says, taken over as evidence. */
async function takeOver(page: Page, said: RegExp | string) {
  await goTo(page, 'Control signals');
  const cautions = page.getByRole('button', { name: 'Seen to it' });
  const offer = page.getByRole('region', { name: 'From a capture' });
  await expect(cautions.or(offer)).toBeVisible();
  if (await cautions.isVisible()) await cautions.click();
  await expect(offer).toContainText(said);
  await offer.getByRole('button', { name: 'Take into the sheet' }).click();
  await expect(offer).toContainText('in the sheet');
}

/** Nothing flows through the pump although feed and ground each light a lamp. */
async function noCurrentOnSoundPins(page: Page) {
  await readAt(page, /^Pump /, 'Amps');
  await page.getByRole('textbox', { name: 'Pump in A' }).fill('0');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('dialog')).toBeHidden();
  await readAt(page, /^Tank connector, ground/, 'Lamp');
  await page.getByRole('dialog').getByRole('radio', { name: 'Battery +' }).click();
  await answer(page, 'bright');
}

async function decide(page: Page, verdict: string, because: string, found: string) {
  await goTo(page, 'Verdict');
  await expect(page.getByRole('radio', { name: verdict })).toHaveAttribute('aria-checked', 'true');
  await page.getByLabel(/In a sentence/).fill(because);
  await page.getByRole('button', { name: 'Give the verdict' }).click();
  await expect(page.getByRole('heading', { name: found })).toBeVisible();
}

test('a pump that opens when hot: its current goes with the volts there, and stays away on sound pins', async ({
  page,
}) => {
  await signIn(page, 'jem@fennick.demo');
  await page.getByText('Marrow Teal').click();
  await takeOver(page, 'Current while it faltered: gone');
  await goTo(page, 'Power path');
  await noCurrentOnSoundPins(page);
  await readAt(page, /^Pump /, 'Lamp');
  await answer(page, 'bright');
  await expect(leading(page)).toContainText('Pump open inside');
  await decide(page, 'Condemn the pump', 'Hot, nothing flows on a lit feed and ground.', 'Pump condemned');
});

test('a split hose: the pump turns fast, draws little and delivers little, and is good', async ({ page }) => {
  await signIn(page, 'orsa@fennick.demo');
  await page.getByText('Brindle Stint').click();
  await goTo(page, 'Pressure');
  await page.getByLabel('Litres').fill('0,3');
  await page.getByLabel('Seconds').fill('15');
  await page.getByRole('button', { name: 'Keep', exact: true }).click();
  await goTo(page, 'Power path');
  await page.getByRole('button', { name: /^Pump / }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Hose in the tank' }).click();
  await answer(page, 'broken');
  await expect(leading(page)).toContainText('Split hose');
  await decide(
    page,
    'Repair the fuel side',
    'The hose is split at the spigot; the pump is good.',
    'Fuel side to repair',
  );
});

test('an old module on two speeds says itself which side is at fault, and full on is no fault of its own', async ({
  page,
}) => {
  await signIn(page, 'jem@fennick.demo');
  await page.getByText('Quarrow Knot').click();
  await takeOver(page, /Duty, given out: 100 %.*Duty, answered: 75 %/);
  await goTo(page, 'Power path');
  await noCurrentOnSoundPins(page);
  await readAt(page, /^Pump /, 'Fed directly');
  await answer(page, 'dead');
  await expect(leading(page)).toContainText('Pump open inside');
  await decide(page, 'Condemn the pump', 'Dead when fed and grounded directly; the module said so.', 'Pump condemned');
});

test('a driver module that passes half of what its table makes of the command', async ({ page }) => {
  await signIn(page, 'jem@fennick.demo');
  await page.getByText('Halvard Siskin').click();
  await takeOver(page, /Duty, asked, at its pin: 34.*Duty, given out: 30/);
  await goTo(page, 'Power path');
  const idling = page.getByRole('dialog').getByRole('radio', { name: 'Idle', exact: true });
  await readAt(page, /^Driver module, supply pin/, 'Volts');
  await idling.click();
  await page.getByRole('textbox', { name: 'Driver module, supply pin in V' }).fill('13.7');
  await page.keyboard.press('Enter');
  await readAt(page, /^Pump /, 'Amps');
  await idling.click();
  await page.getByRole('textbox', { name: 'Pump in A' }).fill('2.4');
  await page.keyboard.press('Enter');
  // A sweep stands beside that of a vehicle whose module was proven good.
  await goTo(page, 'Control signals');
  const sheet = page.getByRole('region', { name: 'Duty sweep' });
  const steps = [
    ['34', '30', '2.4'],
    ['45', '43', '3.2'],
  ];
  for (const [i, numbers] of steps.entries()) {
    if (i > 0) await sheet.getByRole('button', { name: 'Another step' }).click();
    for (const [k, what] of ['Command, %', 'Output, %', 'Current, A'].entries()) {
      await sheet.getByLabel(`Step ${i + 1}, ${what}`).fill(numbers[k]);
    }
  }
  await sheet.getByRole('button', { name: 'Keep this sweep' }).click();
  await expect(sheet.getByText(/^It draws 38 to 42 % of the known-good’s current at every step/)).toBeVisible();
  await expect(sheet.getByRole('row', { name: /^34 30 2.4 6.33/ })).toBeVisible();
  await expect(leading(page)).toContainText('Driver module passes too little');
  await decide(page, 'Condemn the driver module', 'Asked and supplied, it passes half.', 'Driver module condemned');
});

test('a relay contact that lets go after minutes: seen falling first, found at the relay, changed by another', async ({
  page,
}) => {
  await signIn(page, 'jem@fennick.demo');
  await page.getByText('Tolva Plover').click();
  await goTo(page, 'Pump current');
  await expect(page.getByRole('region', { name: 'What fell first' })).toContainText('The supply fell, not the pump');
  await goTo(page, 'Power path');
  await page.getByRole('button', { name: /^Battery \+/ }).click();
  await walk(page, [
    ['Battery +', '12.4'],
    ['Fusible link', ''],
    ['Fuse', '12.35'],
    ['Relay 87', '6.1'],
    ['Cut-off switch', '6'],
    ['Tank connector, feed', ''],
    ['Pump', '5.9'],
  ]);
  await page.keyboard.press('Escape');
  await readAt(page, /^Relay 87/, 'Swapped');
  await answer(page, 'changed');
  await expect(leading(page)).toContainText('Relay 87: contact');
  await decide(page, 'Condemn the relay', 'Its contact loses 6 V; another in its place changes it.', 'Relay condemned');
});

test('a rail sensor that lies is told by three numbers that are there', async ({ page }) => {
  await signIn(page, 'orsa@fennick.demo');
  await page.getByText('Halvard Tern').click();
  await decide(page, 'Condemn the sensor', 'A gauge beside it reads a third more.', 'Sensor condemned');
});
