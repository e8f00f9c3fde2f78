import { defineConfig } from '@playwright/test'

/** Two halves can run beside each other, each on a demonstration of its own. */
const HALVES = {
  story: /(story|pictures)\.spec/,
  others: /(doors|import|second-place|strange|take-home|together|two-accounts|years-later)\.spec/,
}
const half = process.env['GESCHENK_E2E'] === 'others' ? 'others' : 'story'
const isWhole = process.env['GESCHENK_E2E'] === undefined

export const port = half === 'others' ? 8144 : 8143
export const data = `${import.meta.dirname}/var/e2e${half === 'others' ? '-others' : ''}`

/** The real interface against the real server and worker, in Debian's headless Chromium, on a demonstration of its own. */
export default defineConfig({
  testDir: 'tests/e2e',
  testMatch: isWhole ? /\.spec\.ts$/ : HALVES[half],
  outputDir: `test-results/${half}`,
  workers: 1,
  fullyParallel: false,
  // Nets for what never comes; how busy the computer is must not be what they catch.
  timeout: 600_000,
  expect: { timeout: 150_000, toPass: { timeout: 150_000 } },
  reporter: [['list']],
  use: {
    baseURL: `http://127.0.0.1:${port}`,
    viewport: { width: 1280, height: 800 },
    // One half goes through it with motion, the other as whoever wants none.
    contextOptions: { reducedMotion: half === 'others' ? 'reduce' : 'no-preference' },
    // A trace costs as much as the page itself: who looks for a reason asks for it (--trace on).
    screenshot: 'only-on-failure',
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
    // Made anew, unless that was done just now for both halves.
    command: `./geschenk demo ${process.env['GESCHENK_E2E_MADE'] === 'yes' ? '' : '--reset'} --cable=0`,
    url: `http://127.0.0.1:${port}/api/session`,
    env: { GESCHENK_DATA: data, GESCHENK_PORT: String(port), APP_ENV: 'demo', APP_DEBUG: '0' },
    timeout: 240_000,
    reuseExistingServer: false,
    gracefulShutdown: { signal: 'SIGTERM', timeout: 10_000 },
  },
})
