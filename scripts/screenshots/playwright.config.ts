import { defineConfig } from '@playwright/test'
import tests from '../../e2e/playwright.config'

export default defineConfig({
  ...tests,
  // pictures are for people
  use: { ...tests.use, deviceScaleFactor: 1 },
  testDir: '.',
  testMatch: '*.shots.ts',
  outputDir: '../../.calm-hand/shots',
  reporter: 'line',
})
