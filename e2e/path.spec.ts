import { readFileSync } from 'node:fs';
import { expect, type Page } from '@playwright/test';
import { checkCase, diagnose, readProfile } from '@jarro/core';
import { shopOf, test } from './shop.js';
import {
  answer,
  chooseFile,
  entries,
  file,
  goTo,
  openCase,
  picture,
  readAt,
  settled,
  signIn,
  walk,
} from './support.js';

test.use(shopOf(import.meta.url));

// The supply path: composed once, given to a case, read station by station, weighed, and decided.

test('a system is composed by keyboard and by drag, kept, changed, and given to a case that stays with its version', async ({
  page,
}) => {
  await signIn(page, 'jem@fennick.demo');
  await page.getByRole('link', { name: 'Systems' }).click();
  await page.getByRole('link', { name: /Driver module that regulates by itself/ }).click();
  const keep = page.getByRole('button', { name: 'Keep this system' });
  await page.getByPlaceholder('Vehicle, engine, years').fill('');
  await expect(page.getByText(/^Not ready to keep/)).toContainText('Name the system.');
  await expect(keep).toBeDisabled();
  await page.getByPlaceholder('Vehicle, engine, years').fill('Osprey 1.8');

  const path = page.getByRole('region', { name: 'Path' });
  const station = page.getByRole('region', { name: 'Station' });
  await path.getByRole('button', { name: /^Relay 87 Relay/ }).click();
  await page.getByRole('region', { name: 'Parts' }).getByRole('button', { name: 'Cut-off switch' }).press('Enter');
  await station.getByLabel('Where it is').fill('Boot, right');
  await station.getByLabel('To get a probe there').fill('-4');
  await expect(station.getByRole('alert')).toContainText('between 0 and 600');
  await expect(keep).toBeDisabled();
  await station.getByLabel('To get a probe there').fill('4');
  await expect(path.getByRole('listitem').nth(3)).toContainText('Boot, right');

  // Moved by keyboard: taken up, one place up, put down.
  await page.getByRole('button', { name: 'Move Cut-off switch' }).focus();
  for (const [key, said] of [
    ['Space', 'is at place 4'],
    ['ArrowUp', 'is at place 3'],
    ['Space', 'is put down at place 3'],
  ] as const) {
    // It slides into place before it takes the next key.
    await settled(page);
    await page.keyboard.press(key);
    await expect(page.getByRole('status').filter({ hasText: said })).toBeAttached();
  }
  await expect(path.getByRole('listitem').nth(2)).toContainText('Cut-off switch');
  // And by hand, back again.
  await drag(page, 'Move Cut-off switch', 'Move Relay 87');
  await expect(path.getByRole('listitem').nth(3)).toContainText('Cut-off switch');

  // A path that can't work isn't kept.
  const pump = path.getByRole('button', { name: /^Pump/ });
  // For a moment after a drag its own click is swallowed, so that a drop chooses nothing.
  await expect(async () => {
    await pump.click();
    await expect(pump).toHaveAttribute('aria-pressed', 'true', { timeout: 500 });
  }).toPass();
  await station.getByRole('button', { name: 'Take out' }).click();
  await expect(page.getByText(/^Not ready to keep/)).toContainText('There is no pump in this path.');
  await page
    .getByRole('region', { name: 'Path' })
    .getByRole('button', { name: /^Tank connector, feed/ })
    .click();
  await page.getByRole('region', { name: 'Parts' }).getByRole('button', { name: 'Pump' }).click();
  await page.getByRole('region', { name: 'Pump' }).getByLabel('Draws').fill('6,2');
  // What is written outlives a reload, and is forgotten once it is kept.
  await page.reload();
  await expect(page.getByRole('region', { name: 'Pump' }).getByLabel('Draws')).toHaveValue('6,2');
  await expect(path.getByRole('listitem').nth(3)).toContainText('Boot, right');
  await keep.click();
  await expect(page.getByRole('button', { name: 'Keep as version 2' })).toBeDisabled();

  await openedCase(page, 'Osprey Field');
  await goTo(page, 'Power path');
  await page.getByRole('button', { name: 'Seen to it' }).click();
  await page.getByLabel('This vehicle’s path').selectOption({ label: 'Osprey 1.8, version 1' });
  await expect(page.getByRole('region', { name: 'Supply path' })).toContainText('Osprey 1.8, version 1');
  await expect(page.getByRole('button', { name: /^Driver module, out/ })).toBeVisible();

  await page.getByRole('link', { name: 'Systems' }).click();
  // The case links to its path by the same name.
  await expect(page.getByRole('heading', { name: 'Systems' })).toBeVisible();
  await page.getByRole('link', { name: /Osprey 1.8/ }).click();
  await page.getByRole('region', { name: 'Windows' }).getByLabel('Draw, prime, from').fill('5');
  await page.getByRole('button', { name: 'Keep as version 2' }).click();
  await expect(page.getByRole('combobox', { name: 'Version' })).toHaveValue('2');
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: 'File' }).click();
  const exported = JSON.parse(readFileSync(await (await download).path(), 'utf8')) as object;
  expect(readProfile(exported)).toHaveProperty('profile.currentWindows.prime.minA', 5);

  // The file comes in again; a spoilt one is refused field by field and leaves nothing.
  await page.getByRole('link', { name: 'Systems' }).first().click();
  const spoilt = { ...exported, stations: [] };
  await chooseFile(page, file('spoilt.json', JSON.stringify(spoilt)));
  await expect(page.getByRole('alert')).toContainText(
    'spoilt.json can’t be taken. stations: A path begins at the battery.',
  );
  await chooseFile(page, file('photo.json', Buffer.from([0xff, 0xd8, 0xff])));
  await expect(page.getByRole('alert')).toContainText('photo.json is not JSON');
  await chooseFile(page, file('twin.json', JSON.stringify({ ...exported, name: 'Osprey twin' })));
  await expect(page.getByPlaceholder('Vehicle, engine, years')).toHaveValue('Osprey twin');
  await page.getByRole('button', { name: 'Retire' }).click();
  await expect(page.getByRole('button', { name: 'Bring back' })).toBeVisible();

  await page.goto('/');
  await page.getByText('Osprey Field').click();
  await goTo(page, 'Power path');
  await expect(page.getByText('this case stays with version 1')).toBeVisible();
  await expect(page.getByLabel('This vehicle’s path').getByRole('option', { name: /Osprey twin/ })).toHaveCount(0);
  await page.getByRole('button', { name: 'Take version 2' }).click();
  await expect(page.getByRole('region', { name: 'Supply path' })).toContainText('Osprey 1.8, version 2');
});

/** By hand: pressed, moved in small steps, let go. */
async function drag(page: Page, from: string, to: string) {
  const centre = async (name: string) => {
    const box = await page.getByRole('button', { name, exact: true }).boundingBox();
    if (!box) throw new Error(`${name} has no box.`);
    return [box.x + box.width / 2, box.y + box.height / 2] as const;
  };
  const target = await centre(to);
  await page.mouse.move(...(await centre(from)));
  await page.mouse.down();
  await page.mouse.move(...target, { steps: 12 });
  await page.mouse.up();
}

const openedCase = async (page: Page, model: string) => {
  await page.goto('/');
  await openCase(page, model);
};

test('a full case by readings alone: refused while the ground is unproven, allowed when it is, and the file agrees', async ({
  page,
}) => {
  await signIn(page, 'jem@fennick.demo');
  await openCase(page, 'Pale Curlew');
  await page.getByRole('button', { name: /^Battery \+/ }).click();
  await walk(page, [
    ['Battery +', '12.5'],
    ['Fusible link', ''],
    ['Fuse', '12.46'],
    ['Relay 87', '12.4'],
    ['Cut-off switch', '12.36'],
    ['Tank connector, feed', ''],
    ['Pump', '12.3'],
  ]);
  await page.keyboard.press('Escape');
  await goTo(page, 'Verdict');
  await page.getByRole('radio', { name: 'Condemn the pump' }).click();
  await expect(page.getByText('Condemn the pump: the evidence doesn’t allow it yet.')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Give the verdict' })).toBeDisabled();

  // Kinds beside volts: amperes, what was heard, a lamp from either side, a direct feed; in another key state too.
  const sheet = page.getByRole('dialog');
  const at = (tile: RegExp, kind: string) => readAt(page, tile, kind);
  await at(/^Pump /, 'Amps');
  await page.getByRole('textbox', { name: 'Pump in A' }).fill('0');
  await page.keyboard.press('Enter');
  await expect(sheet).toBeHidden();
  await at(/^Pump /, 'Heard');
  await answer(page, 'silent');
  await expect(page.getByRole('region', { name: 'Suspects' }).getByRole('listitem').first()).toContainText(
    /[Pp]ump|[Gg]round/,
  );
  await at(/^Pump /, 'Lamp');
  await answer(page, 'bright');
  await at(/^Tank connector, ground/, 'Lamp');
  await sheet.getByRole('radio', { name: 'Battery +' }).click();
  await answer(page, 'bright');
  await at(/^Pump /, 'Fed directly');
  await expect(sheet.getByText(/Fused lead only/)).toBeVisible();
  await answer(page, 'dead');
  await at(/^Cut-off switch/, 'Ohms');
  await sheet.getByText(/Taken the usual way/).click();
  await sheet.getByRole('radio', { name: 'Plug off' }).click();
  await sheet.getByRole('radio', { name: 'Sure' }).click();
  await page.getByLabel('Cut-off switch in Ω').fill('0,2');
  await page.keyboard.press('Enter');
  await expect(sheet).toBeHidden();

  await expect(page.getByRole('heading', { name: 'Gate: the pump may be condemned' })).toBeVisible();
  await page.getByLabel(/In a sentence/).fill('No current on a lit feed and ground; dead when fed directly.');
  await page.getByRole('button', { name: 'Give the verdict' }).click();
  await expect(page.getByRole('heading', { name: 'Pump condemned' })).toBeVisible();
  await goTo(page, 'Evidence');
  await expect(entries(page).filter({ hasText: 'Ohms: Cut-off switch' })).toContainText(
    '0.20 Ω, plug off, trusted: sure',
  );
  await expect(entries(page).filter({ hasText: 'Lamp: Tank connector, ground' })).toContainText(
    'bright against battery +',
  );

  const download = page.waitForEvent('download');
  await page.getByRole('link', { name: 'File' }).click();
  const checked = checkCase(JSON.parse(readFileSync(await (await download).path(), 'utf8')));
  if (!('case' in checked)) throw new Error(JSON.stringify(checked.problems));
  const { system, readings, rules } = checked.case;
  expect(diagnose(system, readings, { rules }).gate['replace-pump'].allowed).toBe(true);
});

test('key states are kept apart on the ribbon, and a sum is one key away and kept with its formula', async ({
  page,
}) => {
  await signIn(page, 'jem@fennick.demo');
  await openCase(page, 'Tawny Shrike');
  await page.getByRole('button', { name: /^Battery \+/ }).click();
  await walk(page, [['Battery +', '12.4']]);
  await page.getByRole('radio', { name: 'Idle' }).click();
  await page.getByRole('dialog').getByRole('textbox').fill('13.9');
  await page.keyboard.press('Enter');
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: /Open the path$/ }).click();
  const state = page.getByLabel('Key state shown');
  await expect(page.getByRole('button', { name: /^Fusible link/ })).toContainText('13.90');
  await state.getByRole('radio', { name: 'Prime' }).click();
  await expect(page.getByRole('button', { name: /^Fusible link/ })).not.toContainText('13.90');
  await expect(page.getByRole('button', { name: /^Battery \+/ })).toContainText('12.40');

  await page.keyboard.press('F2');
  const sums = page.getByRole('dialog', { name: 'Sums' });
  await sums.getByLabel('One turn').fill('9,12');
  await expect(sums.getByText('6579 rpm')).toBeVisible();
  await sums.getByRole('tab', { name: 'Duty, on-time, frequency' }).click();
  await sums.getByRole('textbox', { name: 'Duty' }).fill('120');
  await sums.getByRole('textbox', { name: 'Frequency' }).fill('100');
  await expect(sums.getByRole('alert')).toHaveText('A duty lies between 0 and 100 %.');
  await sums.getByRole('tab', { name: 'Loaded drop' }).click();
  await sums.getByLabel('Before it').fill('14.2');
  await sums.getByLabel('After it').fill('13');
  await sums.getByRole('textbox', { name: 'Current' }).fill('5');
  await sums.getByRole('button', { name: 'Keep in the case, with its formula' }).click();
  await expect(sums.getByRole('button', { name: 'Kept in the case' })).toBeVisible();
  await page.keyboard.press('F2');
  await expect(sums).toBeHidden();
  await goTo(page, 'Evidence');
  await expect(entries(page).first()).toContainText(
    'Sum, loaded drop: Before it 14.2 V, After it 13 V, Current 5 A. Drop 1.20 V',
  );
});

test('house rules judge every case of the shop from then on, and stand there with what they rest on', async ({
  page,
}) => {
  await signIn(page, 'orsa@fennick.demo');
  await page.getByRole('link', { name: 'House rules' }).click();
  await picture(page, 'house-rules');
  const strict = page.getByRole('region', { name: 'Supply drop, whole side' });
  await expect(strict).toContainText('Rests on: common practice, no published source');
  await strict.getByRole('button', { name: '0.2 V' }).click();
  await page.getByRole('radio', { name: 'At the source' }).click();
  await page.getByRole('button', { name: 'Save the house rules' }).click();
  await expect(page.getByRole('button', { name: 'Save the house rules' })).toBeDisabled();
  await page.goto('/');
  await page.getByText('Brindle Lark').click();
  await goTo(page, 'Power path');
  await expect(page.getByText('0.31 V').first()).toBeVisible();
  await expect(page.getByRole('row', { name: /Supply, battery/ })).toContainText('over');

  await page.getByRole('link', { name: 'House rules' }).click();
  await page.getByRole('region', { name: 'Supply drop, whole side' }).getByRole('spinbutton').fill('7');
  await page.getByRole('button', { name: 'Save the house rules' }).click();
  await expect(page.getByRole('alert')).toContainText('Supply drop, whole side: choose between 0.05 V and 2 V.');
  await page.getByRole('button', { name: 'What is usual' }).click();
  await page.getByRole('button', { name: 'Save the house rules' }).click();
  await expect(page.getByRole('button', { name: 'Save the house rules' })).toBeDisabled();

  await page.getByRole('link', { name: 'Systems' }).click();
  await expect(page.getByRole('link', { name: /Halvard 2.2/ })).toBeVisible();
  await page.getByRole('link', { name: /Halvard 2.2/ }).click();
  await page.getByRole('button', { name: /^Driver module, out/ }).click();
  await picture(page, 'composer');
});
