import { expect } from '@playwright/test';
import { shopOf, test } from './shop.js';
import { entries, goTo, openCase, PIXEL, seenTo, signIn } from './support.js';

test.use(shopOf(import.meta.url));

// A tablet that several share, in a bay where the network comes and goes, with a camera.

test('a reading taken while the server is away waits on the device and is sent once, with its own time', async ({
  page,
}) => {
  await signIn(page, 'jem@fennick.demo');
  await openCase(page, 'Dunnock Vale');
  await goTo(page, 'Power path');
  await seenTo(page);
  const away = /\/api\/cases\/[^/]+\/(evidence|notes|photos)(\?|$)/;
  await page.route(away, (route) => route.abort());
  await page.getByRole('button', { name: /^Battery \+/ }).click();
  const sheet = page.getByRole('dialog', { name: 'Battery +' });
  await expect(sheet.getByRole('textbox')).toBeFocused();
  await page.keyboard.type('12.61');
  await page.keyboard.press('Enter');
  await expect(sheet).toBeHidden();
  const waits = page.getByRole('status').filter({ hasText: /waits? on this device/ });
  await expect(waits).toContainText('One entry waits');
  // A note waits as well.
  await goTo(page, 'Control signals');
  await page.getByLabel(/^Write down what was done or seen/).fill('Post green under its clamp.');
  await page.getByRole('button', { name: 'Keep this note' }).click();
  await expect(waits).toContainText('2 entries wait');
  // So does a photo, with its picture.
  await page.getByLabel('What does the picture show?').fill('The post');
  await page.getByLabel('Photo file').setInputFiles({ name: 'post.png', mimeType: 'image/png', buffer: PIXEL });
  await expect(waits).toContainText('3 entries wait');
  const kept = page.getByRole('list', { name: 'Photos that wait on this device' });
  await expect(kept.getByRole('img', { name: 'The post' })).toBeVisible();
  // They outlive a reload, and are there once the server answers.
  await page.reload();
  await expect(waits).toBeVisible();
  await page.unroute(away);
  await expect(waits).toBeHidden();
  await goTo(page, 'Evidence');
  await expect(entries(page).filter({ hasText: '12.61 V' })).toHaveCount(1);
  await expect(entries(page).filter({ hasText: 'Post green under its clamp.' })).toHaveCount(1);
  await expect(entries(page).filter({ hasText: 'The post' })).toHaveCount(1);
});

test('what the server refuses afterwards says why, and can be given up', async ({ page }) => {
  await signIn(page, 'jem@fennick.demo');
  await openCase(page, 'Dunnock Moor');
  await goTo(page, 'Power path');
  await seenTo(page);
  const away = /\/api\/cases\/[^/]+\/evidence$/;
  await page.route(away, (route) => route.abort());
  await page.getByRole('button', { name: /^Fuse/ }).click();
  await expect(page.getByRole('textbox', { name: 'Fuse in V' })).toBeFocused();
  await page.keyboard.type('12.5');
  await page.keyboard.press('Enter');
  await expect(page.getByText('One entry waits')).toBeVisible();
  // Meanwhile the case was decided by somebody else.
  await page.unroute(away);
  await page.route(away, (route) =>
    route.fulfill({
      status: 409,
      contentType: 'application/problem+json',
      body: JSON.stringify({
        status: 409,
        title: 'Conflict',
        detail: 'This case is decided. Reopen it to add evidence.',
      }),
    }),
  );
  const refused = page.getByRole('status').filter({ hasText: 'was not kept' });
  await expect(refused).toContainText('This case is decided.');
  await refused.getByRole('button', { name: 'Discard it' }).click();
  await expect(refused).toBeHidden();
});

test('a colleague takes the tablet over with four digits, and what is measured then is theirs', async ({ page }) => {
  await signIn(page, 'jem@fennick.demo');
  await openCase(page, 'Dunnock Fell');
  await page.getByRole('button', { name: /^Jem Wackett/ }).click();
  const sheet = page.getByRole('dialog');
  await sheet.getByRole('button', { name: /^Orsa Tindle/ }).click();
  await page.keyboard.type('1111');
  await expect(sheet.getByRole('alert')).toHaveText('That is not the code.');
  for (const digit of '2580') await sheet.getByRole('button', { name: digit, exact: true }).click();
  await expect(sheet).toBeHidden();
  await expect(page.getByRole('button', { name: /^Orsa Tindle/ })).toBeVisible();
  await goTo(page, 'Power path');
  await seenTo(page);
  await page.getByRole('button', { name: /^Battery \+/ }).click();
  await expect(page.getByRole('textbox', { name: 'Battery + in V' })).toBeFocused();
  await page.keyboard.type('12.4');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('dialog', { name: 'Battery +' })).toBeHidden();
  await goTo(page, 'Evidence');
  await expect(entries(page).filter({ hasText: '12.40 V' })).toContainText('Orsa Tindle');
});

test('a photo hangs on a station and on a reading', async ({ page }) => {
  await signIn(page, 'jem@fennick.demo');
  await openCase(page, 'Dunnock Holt');
  await goTo(page, 'Power path');
  await seenTo(page);
  await page.getByRole('button', { name: /^Fuse/ }).click();
  const sheet = page.getByRole('dialog', { name: 'Fuse' });
  await sheet.getByText('Photos of Fuse (0)').click();
  await sheet.getByLabel('What does the picture show?').fill('Browned leg');
  const png = { name: 'fuse.png', mimeType: 'image/png', buffer: PIXEL };
  await sheet.getByLabel('Photo file').setInputFiles(png);
  await expect(sheet.getByText('Photos of Fuse (1)')).toBeVisible();
  await sheet.getByRole('textbox', { name: 'Fuse in V' }).fill('12.2');
  await page.keyboard.press('Enter');
  await page.keyboard.press('Escape');
  await goTo(page, 'Evidence');
  const reading = entries(page).filter({ hasText: '12.20 V' });
  await reading.getByRole('button', { name: /^Photos of Fuse/ }).click();
  const photos = page.getByRole('dialog', { name: /^Photos of Fuse/ });
  await photos.getByLabel('What does the picture show?').fill('The meter');
  await photos.getByLabel('Photo file').setInputFiles(png);
  await expect(photos.getByRole('img', { name: 'The meter' })).toBeVisible();
  await photos.getByRole('button', { name: 'Close' }).click();
  await expect(reading.getByRole('button', { name: /^Photos of Fuse/ })).toContainText('1');
});
