import { defineConfig } from 'vitest/config'

export default defineConfig({
  test: {
    include: ['core/**/*.test.ts', 'server/**/*.test.ts', 'cli/**/*.test.ts', 'web/**/*.test.{ts,tsx}', 'docs/**/*.test.ts'],
    setupFiles: ['core/tests/matchers.ts'],
    testTimeout: 90_000,
    maxWorkers: 2,
  },
})
