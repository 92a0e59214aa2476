import { expect, type Page } from '@playwright/test';
import { withoutMouse } from './keyboard.js';
import { shopOf, test } from './shop.js';
import {
  addCapture,
  answerRecheck,
  capture,
  chooseFile,
  entries,
  finishRepair,
  goTo,
  openCase,
  openDrivenCase,
  settled,
  signIn,
  walk,
} from './support.js';

test.use(shopOf(import.meta.url));

// From a capture to a vehicle that is handed back, by what stands on the screen alone.

/** Loaded volts down the default path: battery, fuse, relay, cut-off switch, pump, its ground pin. */
type Feed = readonly [battery: string, fuse: string, relay: string, cutoff: string, pump: string, ground: string];
const SOUND: Feed = ['12.5', '12.45', '12.39', '12.35', '12.2', '0.07'];

/** The whole feed read from the battery down, by keyboard. */
async function readPath(page: Page, [battery, fuse, relay, cutoff, pump, ground] = SOUND) {
  await goTo(page, 'Power path');
  const cautions = page.getByRole('button', { name: 'Seen to it' });
  const start = page.getByRole('button', { name: 'Walk the path' });
  await expect(cautions.or(start)).toBeVisible();
  if (await cautions.isVisible()) await cautions.click();
  await start.click();
  await walk(page, [
    ['Battery +', battery],
    ['Fusible link', ''],
    ['Fuse', fuse],
    ['Relay 87', relay],
    ['Cut-off switch', cutoff],
    ['Tank connector, feed', ''],
    ['Pump', pump],
    ['Tank connector, ground', ground],
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

/** Everything that the recheck asks again, seen to pass; what can't be had a second time is said to be so. */
async function closeCase(page: Page) {
  await answerRecheck(page);
  const again = page.getByRole('region', { name: 'The failing tests again' });
  await expect(again.getByRole('listitem').first()).toContainText('passes');
  for (;;) {
    const open = again.getByRole('button', { name: /^Can’t be repeated/ }).first();
    if (!(await open.isVisible())) break;
    const name = await open.getAttribute('aria-label');
    await open.click();
    await expect(again.getByRole('button', { name: name ?? '' })).toBeHidden();
  }
  await goTo(page, 'Closed');
  await page.getByRole('button', { name: 'Close the case' }).click();
  await expect(page.getByText('this vehicle was handed back')).toBeVisible();
}

test('a relay from intake to closed by keyboard alone, with the cost of being wrong said to the front desk', async ({
  page,
}) => {
  using _ = withoutMouse(page);
  await signIn(page, 'jem@fennick.demo');
  await openCase(page, 'Corvane Tarn');
  await goTo(page, 'Intake');
  await page.getByRole('button', { name: 'Cranks, won’t start' }).click();
  await page.getByRole('button', { name: 'Save the intake' }).click();
  await goTo(page, 'First checks');
  const cautions = page.getByRole('button', { name: 'Seen to it' });
  await cautions.click();
  await page.getByRole('button', { name: 'Silent', exact: true }).click();
  await readPath(page, ['12.5', '12.45', '4.2', '4.15', '4', '0.02']);
  await goTo(page, 'Verdict');
  await expect(page.getByRole('radio', { name: 'Condemn the relay' })).toHaveAttribute('aria-checked', 'true');
  await page.getByText('What being wrong would cost').click();
  await page.getByLabel(/^Parts/).fill('24');
  await page.getByRole('button', { name: 'Keep this sentence in the case' }).click();
  await expect(page.getByRole('button', { name: 'Kept in the case' })).toBeVisible();
  await page.getByLabel(/In a sentence/).fill('The relay’s contact loses 8 V under load.');
  await page.getByRole('button', { name: 'Give the verdict' }).click();
  await expect(page.getByRole('heading', { name: 'Relay condemned' })).toBeVisible();
  await finishRepair(page, 'Relay replaced.');
  await readPath(page);
  await goTo(page, 'First checks');
  await page.getByRole('button', { name: 'Steady hum', exact: true }).click();
  await closeCase(page);
});

test('a driver module from its path to closed, the same duty sweep side by side', async ({ page }) => {
  await signIn(page, 'orsa@fennick.demo');
  await openDrivenCase(page, 'Corvane Weir');
  const sweep = async (currents: readonly string[], outputs: readonly string[], speeds: readonly string[]) => {
    await goTo(page, 'Control signals');
    const sheet = page.getByRole('region', { name: 'Duty sweep' });
    for (const [i, command] of ['53', '66'].entries()) {
      const step = (what: string) => sheet.getByLabel(`Step ${i + 1}, ${what}`);
      if (i > 0) await sheet.getByRole('button', { name: 'Another step' }).click();
      await step('Command, %').fill(command);
      await step('Output, %').fill(outputs[i]);
      await step('Current, A').fill(currents[i]);
      await step('Module supply, V').fill('13.8');
      await step('Pump speed, rpm').fill(speeds[i]);
    }
    await sheet.getByRole('button', { name: 'Keep this sweep' }).click();
    await expect(sheet.getByRole('table')).toContainText(currents[1]);
  };
  await sweep(['1.5', '1.9'], ['0', '0'], ['', '']);
  await goTo(page, 'Verdict');
  await page.getByRole('radio', { name: 'Condemn the driver module' }).click();
  await page.getByLabel(/In a sentence/).fill('Asked and supplied, it puts nothing out.');
  const override = page.getByLabel(/Override as lead/);
  if (await override.isVisible()) await override.fill('Swept twice, the same each time.');
  await page.getByRole('button', { name: 'Give the verdict' }).click();
  await expect(page.getByRole('heading', { name: 'Driver module condemned' })).toBeVisible();
  await finishRepair(page, 'Module replaced, mounted dry.');
  await sweep(['5.6', '6.9'], ['53', '66'], ['4800', '5900']);
  await goTo(page, 'Recheck');
  const compared = page.getByRole('region', { name: 'The duty sweep, before and after' });
  await expect(compared.getByRole('row', { name: /^53 %/ })).toContainText('1.50 A');
  await expect(compared.getByRole('row', { name: /^53 %/ })).toContainText('5.60 A');
  await expect(compared.getByRole('row', { name: /^53 %/ })).toContainText('4800');
  await closeCase(page);
});

test('a known-good is kept from a closed case, and the whole case goes out as a file', async ({ page }) => {
  await signIn(page, 'orsa@fennick.demo');
  await page.getByRole('link', { name: /Brindle Rook/ }).click();
  await goTo(page, 'Closed');
  await expect(page.getByRole('region', { name: 'For the shelf' })).toContainText('on the shelf');
  await page.getByRole('link', { name: 'Known-goods' }).click();
  await page.getByRole('searchbox').fill('brindle prime');
  await expect(page.getByRole('listitem').filter({ hasText: 'Brindle, 1.4 petrol, new relay' })).toContainText(
    'V at the pump',
  );
  // Another of its kind is held against it.
  await page.getByRole('link', { name: 'jarro' }).click();
  await page.getByRole('link', { name: /Brindle Lark/ }).click();
  await goTo(page, 'Pump current');
  await expect(page.getByRole('region', { name: 'Beside the known-good' })).toContainText('alike');

  await page.getByRole('link', { name: 'Summary' }).click();
  const waiting = page.waitForEvent('download');
  await page.getByRole('link', { name: 'Whole case, zip' }).click();
  const bundle = await (await waiting).path();
  await page.goto('/');
  await page.getByLabel('Case to take in').setInputFiles(bundle);
  await expect(page.getByRole('alert')).toContainText('This case is here already');
  await page.getByRole('link', { name: 'Learned' }).click();
  await expect(page.getByRole('region', { name: 'What was found' })).toContainText('Relay condemned');
});

test('a vehicle that comes back is linked to its case', async ({ page }) => {
  await signIn(page, 'jem@fennick.demo');
  await page.getByRole('button', { name: 'Open a case' }).click();
  await page.getByLabel('Vehicle').fill('Brindle Rook');
  await page.getByLabel('Plate').fill('BR13 KES');
  await page.getByLabel('Complaint').fill('Won’t start again');
  await page
    .getByLabel('This plate was here before')
    .selectOption({ label: 'A comeback of case 10: Cranks, won’t start. Towed in for a pump.' });
  await page.getByRole('button', { name: 'Open the case' }).click();
  await page.getByRole('link', { name: 'comeback of case 10' }).click();
  await expect(page.getByRole('link', { name: /came back as case/ })).toBeVisible();
});

test('customer data is taken out of a case for good, which goes on as a file and opens from it', async ({ page }) => {
  await signIn(page, 'orsa@fennick.demo');
  await page.getByRole('link', { name: /Tolva Corrie/ }).click();
  const head = page.getByRole('heading', { level: 1 }).locator('..');
  await expect(head).toContainText('TC17 HAY');
  await goTo(page, 'Evidence');
  await page.getByRole('button', { name: 'Take customer data out' }).click();
  const sheet = page.getByRole('dialog', { name: 'Take customer data out' });
  await sheet.getByLabel(/^Why/).fill('Asked for by letter');
  await sheet.getByRole('button', { name: 'Take it out for good' }).click();
  await expect(sheet).toBeHidden();
  await expect(head).not.toContainText('TC17 HAY');
  await expect(entries(page).first()).toContainText(
    'Customer data taken out: the plate, words in one entry. Reason: Asked for by letter',
  );
  await page.getByRole('button', { name: 'Check files and samples too' }).click();
  await expect(page.getByText(/^Nothing was changed: /)).toBeVisible();

  const download = page.waitForEvent('download');
  await page.getByRole('link', { name: 'File', exact: true }).click();
  const written = await (await download).path();
  await page.goto('/');
  await chooseFile(page, written, 'Case to take in');
  await expect(page.getByRole('heading', { name: 'The scale' })).toBeVisible();
  await goTo(page, 'Evidence');
  await expect(entries(page).first()).toContainText(/Note, intake: Opened from a case file with \d+ readings/);
});
