import { defineConfig } from '@playwright/test';

export default defineConfig({
  testDir: './tests',
  outputDir: '../test-results',
  // Each worker has a server and a database of its own; what is timed comes after, alone.
  workers: 2,
  projects: [
    { name: 'desk', testIgnore: /speed/ },
    { name: 'speed', testMatch: /speed/, dependencies: ['desk'] },
  ],
  timeout: 120_000,
  // Transients are simulated for the shelf and the ledger: seconds to a stage, several times as many on a busy machine.
  expect: { timeout: 45_000 },
  forbidOnly: true,
  reporter: [['list'], ['json', { outputFile: '../test-results/e2e.json' }]],
  use: {
    viewport: { width: 1280, height: 800 },
    // A trace would slow down what the speed test measures.
    trace: 'off',
    screenshot: 'only-on-failure',
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
