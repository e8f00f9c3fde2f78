import { defineConfig } from '@playwright/test'

export const port = 8143
export const data = `${import.meta.dirname}/var/e2e`

/** The real interface against the real server and worker, in Debian's headless Chromium, on a demonstration of its own. */
export default defineConfig({
  testDir: 'tests/e2e',
  outputDir: 'test-results',
  workers: 1,
  fullyParallel: false,
  timeout: 120_000,
  expect: { timeout: 20_000 },
  reporter: [['list']],
  use: {
    baseURL: `http://127.0.0.1:${port}`,
    viewport: { width: 1280, height: 800 },
    trace: 'retain-on-failure',
    launchOptions: {
      executablePath: '/usr/bin/chromium',
      args: [
        '--headless',
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
  webServer: {
    command: './geschenk demo --reset --cable=0',
    url: `http://127.0.0.1:${port}/api/session`,
    env: { GESCHENK_DATA: data, GESCHENK_PORT: String(port), APP_ENV: 'demo', APP_DEBUG: '0' },
    timeout: 240_000,
    reuseExistingServer: false,
    gracefulShutdown: { signal: 'SIGTERM', timeout: 10_000 },
  },
})
