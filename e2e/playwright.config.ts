import { defineConfig } from '@playwright/test';

/**
 * The real interface on the built application, in Debian's Chromium without a window (its shell takes a quarter less of
 * the machine than the whole browser). e2e/shop.ts starts what it needs.
 */
export default defineConfig({
  testDir: '.',
  // A busy machine is slow, not wrong.
  timeout: 240_000,
  expect: { timeout: 30_000 },
  // One more than a small machine has cores: a browser waits a third of the time.
  workers: 3,
  retries: 0,
  forbidOnly: true,
  use: {
    viewport: { width: 1280, height: 800 },
    launchOptions: {
      executablePath: '/usr/bin/chromium-headless-shell',
      args: [
        '--no-sandbox',
        '--disable-gpu',
        '--disable-quic',
        '--no-first-run',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
      ],
    },
  },
});
