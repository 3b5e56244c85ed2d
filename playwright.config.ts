import { defineConfig } from '@playwright/test';
import { CHROMIUM } from './tests/chromium.js';
import { PATIENCE_MS } from './tests/until.js';

/** Move the clock for good: they come last. */
const MONTHS_ON = /(three-sundays|two-weeks)\.spec\.ts$/;
/** Encodes pictures here, watches whether one runs smoothly meanwhile, or needs the linked accounts or the house's pages to itself. */
const ALONE = /(connect|guest|languages|on-air|one-service|postings|whole-event)\.spec\.ts$/;
const BY_DAY = { colorScheme: 'light' } as const;
const BY_NIGHT = { viewport: { width: 390, height: 844 }, colorScheme: 'dark', hasTouch: true } as const;

/** Journeys through the real interface, in the installation that `./heliphon test` started; it runs one project after another. */
export default defineConfig({
  testDir: 'tests/journeys',
  // No verdict either: several waits at their patience, one after another.
  timeout: 600_000,
  expect: { timeout: PATIENCE_MS, toPass: { timeout: PATIENCE_MS } },
  // They share one house, and one event on air.
  workers: 1,
  fullyParallel: false,
  reporter: [['list'], ['json']],
  outputDir: 'test-results/journeys',
  use: {
    locale: 'en-GB',
    timezoneId: 'Europe/London',
    viewport: { width: 1280, height: 800 },
    actionTimeout: PATIENCE_MS,
    launchOptions: CHROMIUM,
  },
  projects: [
    { name: 'desk by day', testIgnore: [MONTHS_ON, ALONE], use: BY_DAY },
    {
      name: 'phone by night',
      // The roads of a whole Sunday; the rest is looked at in both lights and widths by the accessibility journeys.
      testMatch: /(viewers|changes|archive|keys)\.spec\.ts$/,
      use: BY_NIGHT,
    },
    { name: 'alone by day', testMatch: ALONE, use: BY_DAY },
    { name: 'alone by night', testMatch: /one-service\.spec\.ts$/, use: BY_NIGHT },
    // In the order of their names: each begins later than the one before ends.
    { name: 'months on', testMatch: MONTHS_ON },
  ],
});
