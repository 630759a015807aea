import { defineConfig } from '@playwright/test';

// The server is started by scripts/test.mjs (or npm start), which says where it is.
export default defineConfig({
  testDir: '.',
  testMatch: '*.spec.ts',
  outputDir: '../test-results',
  timeout: 60_000,
  workers: 1,
  reporter: [['list'], ['./support/reporter.ts']],
  use: {
    baseURL: process.env.CROW_LANE_URL ?? 'http://127.0.0.1:4170',
    viewport: { width: 1280, height: 800 },
    trace: 'retain-on-failure',
    launchOptions: {
      executablePath: '/usr/bin/chromium',
      args: [
        ...(process.getuid?.() === 0 ? ['--no-sandbox'] : []),
        '--disable-gpu',
        '--disable-quic',
        '--no-first-run',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync'
      ]
    }
  }
});
