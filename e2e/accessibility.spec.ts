import { AxeBuilder } from '@axe-core/playwright';
import { expect, type Page } from '@playwright/test';
import { shopOf, test } from './shop.js';
import { goTo, settled, signIn } from './support.js';

test.use(shopOf(import.meta.url));

// Nothing that WCAG 2.2 A and AA forbid, as far as axe-core can tell, on any main view, by day and by night.

const STANDARDS = ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'];

type Theme = 'light' | 'dark';

/** What axe-core finds on the page as it stands, a line each: the rule, where, and why. The night changes colours only. */
async function faults(page: Page, view: string, theme: Theme): Promise<string[]> {
  // On this page itself and without what passes: half the work, since a report of thousands of nodes goes nowhere.
  const axe = new AxeBuilder({ page }).setLegacyMode().options({ resultTypes: ['violations'] });
  const { violations } = await (
    theme === 'light' ? axe.withTags(STANDARDS) : axe.withRules(['color-contrast'])
  ).analyze();
  return violations.flatMap(({ id, nodes }) =>
    nodes.map(({ target, failureSummary }) => `${view}: ${id} at ${target.join(' ')}: ${failureSummary ?? ''}`),
  );
}

/** The views of a case with something to show in each. */
const STAGES = [
  'Intake',
  'First checks',
  'Pressure',
  'Power path',
  'Pump current',
  'Control signals',
  'Verdict',
  'Repair',
  'Recheck',
  'Closed',
  'Evidence',
];

/** A case that waits for its verdict, one in its recheck, one that is closed. */
const CASES: readonly (readonly [model: string, stages: readonly string[]])[] = [
  ['Sable Orrin', STAGES],
  ['Sable Ivel', ['Repair', 'Recheck']],
  ['Brindle Rook', ['Closed']],
];

/** As its button does, which a sheet covers and the door hasn't. */
async function wear(page: Page, theme: Theme): Promise<void> {
  await page.evaluate((name) => (document.documentElement.dataset.theme = name), theme);
  await settled(page);
}

test('every main view is free of what axe-core knows, by day and by night', async ({ page }) => {
  test.slow();
  const found: string[] = [];
  const look = async (view: string) => {
    for (const theme of ['light', 'dark'] as const) {
      await wear(page, theme);
      found.push(...(await faults(page, view, theme)));
    }
    await wear(page, 'light');
  };
  await page.goto('/sign-in');
  await expect(page.getByRole('button', { name: 'Sign in' })).toBeVisible();
  await look('sign-in');
  await signIn(page, 'orsa@fennick.demo');
  await page.getByRole('button', { name: 'Light or dark' }).click();
  await expect(page.locator('html')).toHaveAttribute('data-theme', 'dark');
  await look('board');
  for (const view of ['systems', 'shelf', 'learned', 'rules', 'shop', 'account']) {
    await page.goto(`/${view}`);
    await expect(page.getByRole('heading').first()).toBeVisible();
    await look(view);
  }
  for (const [model, stages] of CASES) {
    await page.goto('/');
    await page
      .getByRole('link', { name: new RegExp(model) })
      .first()
      .click();
    await expect(page.getByRole('heading', { name: 'The scale' })).toBeVisible();
    for (const stage of stages) {
      await goTo(page, stage);
      await look(`${model}, ${stage}`);
    }
  }
  await page.goto('/');
  await page
    .getByRole('link', { name: /Sable Orrin/ })
    .first()
    .click();
  await goTo(page, 'Power path');
  await page.getByRole('button', { name: /^Relay 87/ }).click();
  await expect(page.getByRole('dialog')).toBeVisible();
  await look('station sheet');
  await page.keyboard.press('Escape');
  await page.getByRole('link', { name: 'Summary' }).click();
  await expect(page.getByRole('heading', { name: 'Evidence' })).toBeVisible();
  await look('summary');
  expect(found).toEqual([]);
});
