import { expect, test, type Page } from '@playwright/test';
import { addCapture, answerRecheck, capture, finishRepair, goTo, openCase, settled, signIn, walk } from './support.js';

// From a capture to a vehicle that is handed back, by what stands on the screen alone.

/** The whole feed read from the battery down, by keyboard. */
async function readPath(page: Page) {
  await goTo(page, 'Power path');
  const cautions = page.getByRole('button', { name: 'Seen to it' });
  const start = page.getByRole('button', { name: 'Walk the path' });
  await expect(cautions.or(start)).toBeVisible();
  if (await cautions.isVisible()) await cautions.click();
  await start.click();
  await walk(page, [
    ['Battery +', '12.5'],
    ['Fusible link', ''],
    ['Fuse', '12.45'],
    ['Relay 87', '12.39'],
    ['Cut-off switch', '12.35'],
    ['Tank connector, feed', ''],
    ['Pump', '12.2'],
    ['Tank connector, ground', '0.07'],
  ]);
  await page.keyboard.press('Escape');
}

async function condemnPump(page: Page) {
  await goTo(page, 'Verdict');
  await page.getByRole('radio', { name: 'Condemn the pump' }).click();
  await page.getByLabel(/In a sentence/).fill('One bar burnt, supply and ground proven.');
  await page.getByRole('button', { name: 'Give the verdict' }).click();
  await expect(page.getByRole('heading', { name: 'Pump condemned' })).toBeVisible();
}

test('a pump from intake to closed, with the failing test taken again beside the first', async ({ page }) => {
  test.setTimeout(120_000);
  await signIn(page, 'jem@fennick.demo');
  await openCase(page, 'Corvane Heath');
  await addCapture(page, capture('burnt.csv', { burnt: [{ bar: 3, extraOhm: 2 }], durationS: 0.8 }));
  await readPath(page);
  await condemnPump(page);
  await expect(page.getByText('The capture that decided')).toBeVisible();
  // Nothing is read between the verdict and the repair.
  await goTo(page, 'Pump current');
  await expect(page.getByRole('button', { name: 'Add a capture' })).toBeHidden();

  await finishRepair(page, 'Pump assembly and strainer replaced.');
  await page.getByRole('link', { name: 'Go on to the recheck' }).click();
  const again = page.getByRole('region', { name: 'The failing tests again' });
  const current = again.getByRole('listitem', { name: /capture of the pump current/ });
  await expect(current).toContainText('to be repeated');
  await current.getByRole('button', { name: /^Take again/ }).click();
  await addCapture(page, capture('after.csv', { durationS: 0.8 }));
  await readPath(page);
  await answerRecheck(page);
  await expect(current).toContainText('passes');
  await expect(page.getByRole('img', { name: /before and after on one angle/ })).toBeVisible();
  await settled(page);
  for (const open of await again.getByRole('button', { name: /^Can’t be repeated/ }).all()) await open.click();
  await goTo(page, 'Closed');
  await page.getByRole('button', { name: 'Close the case' }).click();
  await expect(page.getByText('this vehicle was handed back')).toBeVisible();
});

test('a recheck that fails brings the case back, weighed by what was read since', async ({ page }) => {
  test.setTimeout(120_000);
  await signIn(page, 'jem@fennick.demo');
  await openCase(page, 'Corvane Mere');
  await addCapture(page, capture('first.csv', { burnt: [{ bar: 3, extraOhm: 2 }], durationS: 0.8 }));
  await readPath(page);
  await condemnPump(page);
  await finishRepair(page, 'Pump replaced.');
  await goTo(page, 'Pump current');
  await addCapture(page, capture('same.csv', { burnt: [{ bar: 6, extraOhm: 2 }], durationS: 0.8 }));
  await goTo(page, 'Recheck');
  const failed = page.getByRole('region', { name: 'The recheck fails' });
  await expect(failed).toContainText('still fails');
  await goTo(page, 'Closed');
  await expect(page.getByRole('button', { name: 'Close the case' })).toBeDisabled();
  await goTo(page, 'Recheck');
  await failed.getByLabel(/what was learned/).fill('The new pump shows the same notch.');
  await failed.getByRole('button', { name: 'Reopen the case' }).click();
  await expect(page.getByRole('button', { name: 'Walk the path' })).toBeVisible();
  await goTo(page, 'Evidence');
  await expect(page.getByText('The new pump shows the same notch.')).toBeVisible();
});

test('what a test left in the vehicle must come out before it is handed back', async ({ page }) => {
  await signIn(page, 'orsa@fennick.demo');
  await openCase(page, 'Corvane Rill');
  await goTo(page, 'Repair');
  await page.getByRole('button', { name: 'Something stays in for a while' }).click();
  await page.getByLabel('Which one, and where').fill('Relay from the drawer, in the box under the bonnet');
  await page.getByRole('button', { name: 'Write it down' }).click();
  await goTo(page, 'Closed');
  const need = page.getByRole('listitem').filter({ hasText: 'Relay from the drawer' });
  await expect(need.getByLabel('open')).toBeVisible();
  await goTo(page, 'Repair');
  await page.getByRole('button', { name: /Relay from the drawer.*It is out/ }).click();
  await goTo(page, 'Closed');
  await expect(need.getByLabel('done')).toBeVisible();
});
