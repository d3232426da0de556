import { defineConfig } from '@playwright/test'

const flags = [
  '--no-sandbox',
  '--use-angle=swiftshader',
  '--enable-unsafe-swiftshader',
  '--ignore-gpu-blocklist',
  // what tests run is short: making it quicker while it runs takes longer than it does
  '--js-flags=--liftoff-only --no-opt',
  // pages are put together by the processor at once: half of the time went into doing so through software 3D
  '--disable-gpu-compositing',
  '--no-first-run',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
  '--disable-quic',
]

export default defineConfig({
  testDir: '.',
  outputDir: '../.calm-hand/e2e',
  // one more than cores, as pages wait now and then; each on an app of its own, and patient, as a machine may be slow
  workers: 3,
  timeout: 600_000,
  expect: { timeout: 60_000 },
  reporter: [['line'], ['json', { outputFile: '../.calm-hand/e2e.json' }]],
  use: {
    viewport: { width: 1280, height: 800 },
    // a quarter of the points to draw by software
    deviceScaleFactor: 0.5,
    acceptDownloads: true,
    reducedMotion: 'reduce',
    trace: 'off',
    launchOptions: { executablePath: '/usr/bin/chromium', args: flags },
  },
})
