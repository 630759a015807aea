import { defineConfig } from '@playwright/test';
import everyday from './everyday.json' with { type: 'json' };

const endsWith = (title: string) => new RegExp(`${title.replace(/[.*+?^${}()|[\]\\]/g, '\\$&')}$`);

// The products are started by scripts/test.mjs, which says where they are; as many workers share them.
export default defineConfig({
  testDir: '.',
  testMatch: '*.spec.ts',
  ...(process.env.CROW_LANE_EVERYDAY && { grep: Object.values(everyday).flat().map(endsWith) }),
  outputDir: '../test-results',
  timeout: 90_000,
  // recovery runs beside, and other work may: what usually takes a second may take many
  expect: { timeout: 30_000 },
  fullyParallel: true,
  workers: (process.env.CROW_LANE_URL ?? '').split(' ').length,
  reporter: [['list'], ['./support/reporter.ts']],
  use: {
    viewport: { width: 1280, height: 800 },
    // a trace is worth its time only where a test fails: CROW_LANE_TRACE=1 with the names of the files
    trace: process.env.CROW_LANE_TRACE ? 'retain-on-failure' : 'off',
    screenshot: 'only-on-failure',
    launchOptions: {
      executablePath: '/usr/bin/chromium-headless-shell',
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
