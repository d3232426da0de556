import { defineConfig } from 'vitest/config'

const common = { setupFiles: ['core/tests/matchers.ts'], testTimeout: 90_000, expect: { requireAssertions: true } }

/** Files of the core keep nothing that another could see, so they share what they import; those of the interface do. */
export default defineConfig({
  test: {
    maxWorkers: 2,
    projects: [
      {
        test: {
          ...common,
          name: 'core',
          isolate: false,
          include: ['core/**/*.test.ts', 'server/**/*.test.ts', 'cli/**/*.test.ts', 'docs/**/*.test.ts'],
        },
      },
      { test: { ...common, name: 'web', include: ['web/**/*.test.{ts,tsx}'] } },
    ],
  },
})
