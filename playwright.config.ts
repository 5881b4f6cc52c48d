import { defineConfig } from '@playwright/test'

export default defineConfig({
  testDir: 'test/browser',
  testMatch: '**/*.spec.ts',
  workers: 1,
  fullyParallel: false,
  // No speed is tested here: a shared machine can be several times as slow for minutes.
  timeout: 300_000,
  expect: { timeout: 30_000 },
  forbidOnly: process.env.CI !== undefined,
  reporter: [['list']],
  use: {
    viewport: { width: 1280, height: 800 },
    trace: 'off',
    launchOptions: {
      executablePath: '/usr/bin/chromium-headless-shell',
      args: [
        '--no-sandbox',
        '--disable-dev-shm-usage',
        '--disable-gpu',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
        '--no-first-run',
        // pages are open for seconds: of what is made fast for those who stay only what runs very often, the survey, gives more than it takes;
        // and what they leave behind is looked for once there is much of it
        '--js-flags=--no-opt --invocation-count-for-maglev=20000 --single-threaded --liftoff-only --initial-old-space-size=256',
      ],
    },
  },
})
