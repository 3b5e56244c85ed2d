import { defineConfig } from '@playwright/test';
import { CHROMIUM } from './tests/chromium.js';

/** Moves the clock for good: it comes last. */
const MONTHS_ON = /three-sundays\.spec\.ts$/;

/** Journeys through the real interface, two files at a time, in the installation that `./heliphon test` started. */
export default defineConfig({
  testDir: 'tests/journeys',
  timeout: 150_000,
  expect: { timeout: 15_000 },
  workers: 2,
  fullyParallel: false,
  reporter: [['list'], ['json']],
  outputDir: 'test-results',
  use: {
    locale: 'en-GB',
    timezoneId: 'Europe/London',
    viewport: { width: 1280, height: 800 },
    actionTimeout: 30_000,
    launchOptions: CHROMIUM,
  },
  projects: [
    { name: 'desk by day', testIgnore: MONTHS_ON, use: { colorScheme: 'light' } },
    {
      name: 'phone by night',
      // The roads of a whole Sunday; the rest is looked at in both lights and widths by the accessibility journeys.
      testMatch: /(one-service|viewers|changes|archive|keys)\.spec\.ts$/,
      use: { viewport: { width: 390, height: 844 }, colorScheme: 'dark', hasTouch: true },
    },
    { name: 'months on', testMatch: MONTHS_ON, dependencies: ['desk by day', 'phone by night'] },
  ],
});
