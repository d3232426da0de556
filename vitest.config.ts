import { defineConfig } from 'vitest/config'

const common = { setupFiles: ['core/tests/matchers.ts'], testTimeout: 90_000, expect: { requireAssertions: true } }
const onPages = [...common.setupFiles, 'web/tests/page.ts']
/** Loads the state of the page anew, as another page would. */
const ownModules = ['web/state/project.test.ts']

/** Files keep nothing that another could see, so they share what they import: that is half of the time. */
export default defineConfig({
  test: {
    // one more than cores: those of the server wait most of the time
    maxWorkers: 3,
    projects: [
      {
        test: {
          ...common,
          name: 'core',
          isolate: false,
          include: ['core/**/*.test.ts', 'server/**/*.test.ts', 'cli/**/*.test.ts', 'docs/**/*.test.ts'],
        },
      },
      {
        test: {
          ...common,
          setupFiles: onPages,
          name: 'web',
          isolate: false,
          include: ['web/**/*.test.{ts,tsx}'],
          exclude: ownModules,
        },
      },
      { test: { ...common, setupFiles: onPages, name: 'pages', include: ownModules } },
    ],
  },
})
