import { expect, type Page } from '@playwright/test';
import { shopOf, test } from './shop.js';
import { entries, goTo, openCase, signIn, walk } from './support.js';

test.use(shopOf(import.meta.url));

// The scale: every suspect's weight, what moved it, what to do next, and what to repeat.

/** A relay that loses 1.3 V, read down the path by keyboard. */
async function walkToALowRelay(page: Page) {
  await page.getByRole('button', { name: 'Battery + not read' }).click();
  await walk(page, [
    ['Battery +', '12.4'],
    ['Fusible link', ''],
    ['Fuse', '12.36'],
    ['Relay 87', '11.1'],
  ]);
}

test('the weights follow the readings, and the next test is answered where it is proposed', async ({ page }) => {
  await signIn(page, 'jem@fennick.demo');
  await openCase(page, 'Fallow Heron');
  await walkToALowRelay(page);
  // What one number rules out stands there before the next is typed.
  await expect(page.getByRole('dialog').getByRole('status')).toHaveText('11.10 V: what is lost lies in Relay 87.');
  await page.keyboard.press('Escape');
  await expect(page.getByRole('button', { name: /^Fusible link cleared/ })).toBeVisible();
  await expect(page.getByRole('button', { name: /^Relay 87 suspect/ })).toBeVisible();

  const suspects = page.getByRole('region', { name: 'Suspects' });
  await expect(suspects.getByRole('listitem').first()).toContainText('Relay 87: contact');
  await expect(suspects).toContainText('Relay 87 11.10 V');
  const next = page.getByRole('region', { name: 'Next test' });
  await next.getByRole('button', { name: /Swap the relay/ }).click();
  const sheet = page.getByRole('dialog');
  await expect(sheet.getByText(/Only a relay of the same terminal layout/)).toBeVisible();
  await sheet.getByRole('button', { name: 'changed', exact: true }).click();
  await expect(sheet).toBeHidden();
  await expect(suspects).toContainText('Swapped: Relay 87 changed');
  await expect(next.getByRole('button', { name: /Swap the relay/ })).toBeHidden();

  // A reading that contradicts all the rest is asked for again, and convicts nobody.
  await page.getByRole('button', { name: /^Tank connector, ground/ }).click();
  await page.keyboard.type('9.5');
  await page.keyboard.press('Enter');
  await page.keyboard.press('Escape');
  await expect(page.getByRole('region', { name: 'Repeat first' })).toContainText('Tank connector, ground 9.50 V');
  await expect(suspects.getByRole('listitem').first()).toContainText('Relay 87: contact');

  await goTo(page, 'Evidence');
  await expect(entries(page).filter({ hasText: 'Swapped: Relay 87' })).toContainText('Jem Wackett');
});

test('a test that can’t be done here is answered so, isn’t asked again, and stands in the evidence', async ({
  page,
}) => {
  await signIn(page, 'jem@fennick.demo');
  await openCase(page, 'Fallow Wren');
  await walkToALowRelay(page);
  await page.keyboard.press('Escape');
  const next = page.getByRole('region', { name: 'Next test' });
  const skip = next.getByRole('button', { name: /^Can’t be done here/ });
  const title = ((await skip.getAttribute('aria-label')) ?? '').replace('Can’t be done here: ', '');
  await skip.click();
  await expect(next.getByText(title, { exact: true })).toBeHidden();
  await expect(page.getByRole('region', { name: 'Suspects' })).toContainText('Relay 87: contact');
  await goTo(page, 'Evidence');
  await expect(entries(page).filter({ hasText: 'not possible here' })).toHaveCount(1);
});

test('the demo’s cases are weighed', async ({ page }) => {
  await signIn(page, 'orsa@fennick.demo');
  await page.getByText('Marrow Finch').click();
  const first = page.getByRole('region', { name: 'Suspects' }).getByRole('listitem').first();
  await expect(first).toContainText('Relay 87: contact');
  await page.goto('/');
  await page.getByText('Halvard Tern').click();
  await expect(first).toContainText('Rail sensor lies');
});
