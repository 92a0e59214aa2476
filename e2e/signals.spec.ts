import { expect, test } from '@playwright/test';
import { entries, goTo, openCase, signIn } from './support.js';

// What a driven pump is asked and answers, and the order of a stall: kept where it is seen, weighed at once.

test('a duty sweep and what fell first are kept on a driven path, and move the weights', async ({ page }) => {
  await signIn(page, 'jem@fennick.demo');
  await openCase(page, 'Fallow Rook');
  await goTo(page, 'Power path');
  await page.getByRole('button', { name: 'Seen to it' }).click();
  await page
    .getByLabel('This vehicle’s path')
    .selectOption({ label: 'Relay and driver module, regulated by the control unit' });
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

  const order = page.getByRole('group', { name: 'What fell first' });
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
