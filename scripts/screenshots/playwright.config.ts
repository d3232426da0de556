import { defineConfig } from '@playwright/test'
import tests from '../../e2e/playwright.config'

export default defineConfig({
  ...tests,
  testDir: '.',
  testMatch: '*.shots.ts',
  outputDir: '../../.calm-hand/shots',
  reporter: 'line',
})
