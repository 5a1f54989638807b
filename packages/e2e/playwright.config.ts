import { defineConfig } from '@playwright/test';

/** Flows through the real page, the real server and the real engine, in Debian's Chromium. */
export default defineConfig({
  testDir: './flows',
  outputDir: './.out/results',
  timeout: 180_000,
  expect: { timeout: 60_000 },
  workers: 1,
  reporter: [['list'], ['json', { outputFile: './.out/report.json' }]],
  use: {
    viewport: { width: 1280, height: 800 },
    colorScheme: 'light',
    launchOptions: {
      executablePath: process.env.TONOS_CHROMIUM ?? '/usr/bin/chromium',
      args: [
        '--no-sandbox',
        '--disable-gpu',
        '--disable-quic',
        '--no-first-run',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
        '--autoplay-policy=no-user-gesture-required',
      ],
    },
  },
});
