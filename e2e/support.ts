import { mkdtempSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { basename, join } from 'node:path';
import { expect, type Page } from '@playwright/test';
import { csvBlocks, simulateCapture, type CaptureSpec } from '@jarro/core';

/** Kept pictures come from the demo's own data only; set JARRO_KEEP_SCREENSHOTS=1 to renew them. */
const shots = new URL('../docs/screenshots/', import.meta.url).pathname;
export const picture = async (page: Page, name: string) => {
  await settled(page);
  if (process.env.JARRO_KEEP_SCREENSHOTS === '1') await page.screenshot({ path: `${shots}${name}.png` });
};

/** Nothing moves any more: fonts are there, what slides has arrived, traces are loaded, and what was drawn last is on screen. */
export async function settled(page: Page): Promise<void> {
  await expect(page.locator('[aria-busy=true]')).toHaveCount(0);
  await page.waitForFunction(() => document.getAnimations().every(({ playState }) => playState !== 'running'));
  await page.evaluate(async () => {
    await document.fonts.ready;
    await new Promise((drawn) => requestAnimationFrame(() => requestAnimationFrame(drawn)));
  });
}

/** Until so much time has gone by in the page: for what people time by hand. */
export async function passed(page: Page, ms: number): Promise<void> {
  const from = await page.evaluate(() => performance.now());
  await page.waitForFunction(([begin, span]) => performance.now() >= begin + span, [from, ms]);
}

const folder = mkdtempSync(join(tmpdir(), 'jarro-e2e-'));

export function file(name: string, content: string | Uint8Array): string {
  const path = join(folder, name);
  writeFileSync(path, content);
  return path;
}

export function capture(name: string, spec: Partial<CaptureSpec>): string {
  return file(name, Buffer.concat([...csvBlocks(simulateCapture({ sampleRateHz: 50_000, ...spec }).capture)]));
}

export async function signIn(page: Page, email: string) {
  await page.goto('/');
  await page.getByLabel('E-mail').fill(email);
  await page.getByLabel('Password').fill('humps-not-hunches');
  await page.getByRole('button', { name: 'Sign in' }).click();
  await expect(page.getByRole('heading', { name: 'Cases' })).toBeVisible();
}

export async function goTo(page: Page, stage: string) {
  const link = page.getByRole('navigation', { name: 'Stages' }).getByRole('link', { name: stage });
  await link.click();
  await expect(link).toHaveAttribute('aria-current', 'page');
}

export async function openCase(page: Page, model: string) {
  await page.getByRole('button', { name: 'Open a case' }).click();
  await page.getByLabel('Vehicle').fill(model);
  await page.getByLabel('Engine').fill('1.8 petrol');
  await page.getByLabel('Complaint').fill('Stalls when hot');
  await page.getByRole('button', { name: 'Open the case' }).click();
  await expect(page.getByRole('heading', { name: 'The scale' })).toBeVisible();
  await goTo(page, 'Pump current');
}

/** A browser refuses a file whose time stamp still changes on a busy disk, so all but huge ones are handed over as bytes. */
export async function chooseFile(page: Page, path: string, label?: string) {
  const input = label ? page.getByLabel(label) : page.locator('input[type=file]');
  const huge = statSync(path).size > 50e6;
  await input.setInputFiles(huge ? path : { name: basename(path), mimeType: '', buffer: readFileSync(path) });
}

/** Chooses a scope's file and keeps it as it is read. */
export async function addCapture(page: Page, path: string) {
  await chooseFile(page, path, 'Capture file');
  const sheet = page.getByRole('dialog', { name: 'Add a capture' });
  await sheet.getByRole('button', { name: 'Keep this capture' }).click();
  await expect(sheet).toBeHidden({ timeout: 60_000 });
}

/** Takes one number: press its tile, type, Enter. */
export async function enter(page: Page, tile: RegExp | string, number: string) {
  await page.getByRole('button', { name: tile }).click();
  await page.keyboard.type(number);
  await page.keyboard.press('Enter');
  await expect(page.getByRole('dialog')).toBeHidden();
}

/** Times something by one key: the watch is there before it is pressed, and runs before it is stopped. */
export async function timed(page: Page, key: 'Space' | 'Enter', begin: string, end: string) {
  await expect(page.getByRole('button', { name: begin, exact: true })).toBeFocused();
  await page.keyboard.press(key);
  await expect(page.getByRole('button', { name: end, exact: true })).toBeFocused();
  await passed(page, 400);
  await page.keyboard.press(key);
  await page.getByRole('button', { name: 'Keep this time' }).click();
}

/**
 * Walks down the path by keyboard alone: number, Enter, number, Enter; a station without a number is skipped by Enter.
 * The sheet of the first station is open already, with its cautions where nobody has faced them.
 */
export async function walk(page: Page, volts: readonly (readonly [station: string, volts: string])[]) {
  const sheet = page.getByRole('dialog');
  const cautions = sheet.getByRole('button', { name: 'Seen to it' });
  await expect(sheet.getByRole('textbox').or(cautions)).toBeVisible();
  if (await cautions.isVisible()) await cautions.click();
  for (const [station, number] of volts) {
    await expect(sheet.getByRole('heading', { name: station, exact: true })).toBeVisible();
    await expect(sheet.getByRole('textbox')).toHaveValue('');
    await page.keyboard.type(number);
    await page.keyboard.press('Enter');
    await expect(sheet.getByRole('heading', { name: station, exact: true })).toBeHidden();
  }
}

/** Begins a reading of a kind at a station, in the sheet beside the path. */
export async function readAt(page: Page, tile: RegExp, kind: string) {
  await page.getByRole('button', { name: tile }).click();
  await page.getByRole('dialog').getByRole('radio', { name: kind, exact: true }).click();
}

/** Answers the open sheet with a word. */
export async function answer(page: Page, word: string) {
  const sheet = page.getByRole('dialog');
  await sheet.getByRole('button', { name: word, exact: true }).click();
  await expect(sheet).toBeHidden();
}

/** Acknowledges the caution that stands before a stage. */
export async function seenTo(page: Page) {
  await page.getByRole('button', { name: 'Seen to it' }).click();
}

/** Opens a case whose pump hangs behind a driver module that the control unit commands. */
export async function openDrivenCase(page: Page, model: string) {
  await openCase(page, model);
  await goTo(page, 'Power path');
  await seenTo(page);
  await page
    .getByLabel('This vehicle’s path')
    .selectOption({ label: 'Relay and driver module, regulated by the control unit' });
}

/** The smallest PNG there is. */
export const PIXEL = Buffer.from(
  'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==',
  'base64',
);

/** Rows of the evidence view. */
export function entries(page: Page) {
  return page.getByRole('list', { name: 'Entries' }).getByRole('listitem');
}

/** Ticks every particular of the repair's plan, and says that it is finished. */
export async function finishRepair(page: Page, what: string) {
  await goTo(page, 'Repair');
  const plan = page.getByRole('region', { name: 'The plan' });
  const cautions = page.getByRole('button', { name: 'Seen to it' });
  await expect(plan.or(cautions)).toBeVisible();
  if (await cautions.isVisible()) await cautions.click();
  const steps = plan.getByRole('listitem');
  await expect(steps.first()).toBeVisible();
  for (const step of await steps.all()) {
    await step.getByRole('button', { name: 'Done' }).click();
    const asked = step.getByRole('textbox');
    await expect(asked.or(step.getByLabel('done', { exact: true }))).toBeVisible();
    if (await asked.isVisible()) {
      await asked.fill('as the service information states');
      await step.getByRole('button', { name: 'Keep' }).click();
    }
    await expect(step.getByLabel('done', { exact: true })).toBeVisible();
  }
  await page.getByLabel(/What was done, in a sentence/).fill(what);
  await page.getByRole('button', { name: 'The repair is finished' }).click();
  await expect(page.getByText('The repair is finished')).toBeVisible();
}

/** What every recheck asks, each answered in the vehicle's favour. */
export async function answerRecheck(page: Page) {
  await goTo(page, 'Recheck');
  const asked = page.getByRole('region', { name: 'Also asked' });
  for (const answer of ['All dry', 'Cleared, none came back', 'Near zero', 'As it should']) {
    await asked.getByRole('button', { name: answer, exact: true }).click();
    await expect(asked.getByRole('button', { name: answer, exact: true })).toHaveAttribute('aria-pressed', 'true');
  }
}
