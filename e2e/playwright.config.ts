import { defineConfig } from '@playwright/test'

const flags = [
  '--no-sandbox',
  '--use-angle=swiftshader',
  '--enable-unsafe-swiftshader',
  '--ignore-gpu-blocklist',
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
  // two at a time, each on an app of its own; patient, as 3D in software takes a whole core and a machine may be slow
  workers: 2,
  timeout: 300_000,
  expect: { timeout: 60_000 },
  reporter: [['line'], ['json', { outputFile: '../.calm-hand/e2e.json' }]],
  use: {
    viewport: { width: 1280, height: 800 },
    acceptDownloads: true,
    reducedMotion: 'reduce',
    trace: 'off',
    launchOptions: { executablePath: '/usr/bin/chromium', args: flags },
  },
})
