import { defineConfig } from '@playwright/test';

/** The real interface on the built application, in Debian's Chromium. scripts/test.mjs starts what it needs. */
export default defineConfig({
  testDir: '.',
  timeout: 90_000,
  // A busy machine is slow, not wrong.
  expect: { timeout: 15_000 },
  workers: 1,
  retries: 0,
  forbidOnly: true,
  use: {
    baseURL: process.env.JARRO_TEST_ADDRESS ?? 'http://127.0.0.1:8420',
    viewport: { width: 1280, height: 800 },
    launchOptions: {
      executablePath: '/usr/bin/chromium',
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
