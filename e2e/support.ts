import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, type Page } from '@playwright/test';
import { csvBlocks, simulateCapture, type CaptureSpec } from '@jarro/core';

/** Kept pictures come from the demo's own data only; set JARRO_KEEP_SCREENSHOTS=1 to renew them. */
const shots = new URL('../docs/screenshots/', import.meta.url).pathname;
export const picture = async (page: Page, name: string) => {
  if (process.env.JARRO_KEEP_SCREENSHOTS === '1') await page.screenshot({ path: `${shots}${name}.png` });
};

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
  await page.getByRole('navigation', { name: 'Stages' }).getByRole('link', { name: stage }).click();
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

export async function chooseFile(page: Page, path: string) {
  await page.locator('input[type=file]').setInputFiles(path);
}

/** Takes one number: press its tile, type, Enter. */
export async function enter(page: Page, tile: RegExp | string, number: string) {
  await page.getByRole('button', { name: tile }).click();
  await page.keyboard.type(number);
  await page.keyboard.press('Enter');
  await expect(page.getByRole('dialog')).toBeHidden();
}

/** Acknowledges the caution that stands before a stage. */
export async function seenTo(page: Page) {
  await page.getByRole('button', { name: 'Seen to it' }).click();
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
