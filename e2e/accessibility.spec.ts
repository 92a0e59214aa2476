import { AxeBuilder } from '@axe-core/playwright';
import { expect, test, type Page } from '@playwright/test';
import { goTo, signIn } from './support.js';

// Nothing that WCAG 2.2 A and AA forbid, as far as axe-core can tell, on any main view, by day and by night.

const STANDARDS = ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'];

/** What axe-core finds on the page as it stands, a line each: the rule, where, and why. */
async function faults(page: Page, view: string): Promise<string[]> {
  const { violations } = await new AxeBuilder({ page }).withTags(STANDARDS).analyze();
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

for (const theme of ['light', 'dark'] as const) {
  test(`every main view is free of what axe-core knows, ${theme}`, async ({ page }) => {
    test.setTimeout(240_000);
    const found: string[] = [];
    await page.goto('/sign-in');
    await expect(page.getByRole('button', { name: 'Sign in' })).toBeVisible();
    found.push(...(await faults(page, 'sign-in')));
    await signIn(page, 'orsa@fennick.demo');
    if (theme === 'dark') await page.getByRole('button', { name: 'Light or dark' }).click();
    found.push(...(await faults(page, 'board')));
    for (const [name, path] of [
      ['systems', '/systems'],
      ['house rules', '/rules'],
      ['shop', '/shop'],
      ['account', '/account'],
    ]) {
      await page.goto(path);
      await expect(page.getByRole('heading').first()).toBeVisible();
      found.push(...(await faults(page, name)));
    }
    await page.goto('/');
    await page
      .getByRole('link', { name: /Sable Orrin/ })
      .first()
      .click();
    await expect(page.getByRole('heading', { name: 'The scale' })).toBeVisible();
    for (const stage of STAGES) {
      await goTo(page, stage);
      found.push(...(await faults(page, stage)));
    }
    await page.getByRole('button', { name: /^Relay 87/ }).click();
    await expect(page.getByRole('dialog')).toBeVisible();
    found.push(...(await faults(page, 'station sheet')));
    await page.keyboard.press('Escape');
    await page.getByRole('link', { name: 'Summary' }).click();
    await expect(page.getByRole('heading', { name: 'Evidence' })).toBeVisible();
    found.push(...(await faults(page, 'summary')));
    expect(found).toEqual([]);
  });
}
