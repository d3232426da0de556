import { defineConfig } from '@playwright/test'
import tests from '../../e2e/playwright.config'

const { launchOptions } = tests.use!
const args = launchOptions!.args!.filter((flag) => !flag.startsWith('--js-flags'))

export default defineConfig({
  ...tests,
  // pictures are for people: drawn whole, with runs as quick as theirs
  use: { ...tests.use, deviceScaleFactor: 1, launchOptions: { ...launchOptions, args } },
  testDir: '.',
  testMatch: '*.shots.ts',
  outputDir: '../../.calm-hand/shots',
  reporter: 'line',
})
