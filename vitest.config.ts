import { readFileSync } from 'node:fs'
import { defineConfig } from 'vitest/config'
import { BaseSequencer } from 'vitest/node'
import type { TestSpecification } from 'vitest/node'

/**
 * A worker is kept only if the next file is of the same project and environment: mixed, each file would load all that it
 * imports anew.
 */
class Together extends BaseSequencer {
  override async sort(files: TestSpecification[]): Promise<TestSpecification[]> {
    const sorted = await super.sort(files)
    const kind = ({ project, moduleId }: TestSpecification) =>
      `${project.name} ${readFileSync(moduleId, 'utf8').startsWith('// @vitest-environment jsdom')}`
    const kinds = [...new Set(sorted.map(kind))]
    return kinds.flatMap((one) => sorted.filter((file) => kind(file) === one))
  }
}

const common = {
  setupFiles: ['core/tests/matchers.ts'],
  testTimeout: 90_000,
  expect: { requireAssertions: true },
  // tests run most code only a few times: making it quicker while it runs takes longer than it does
  execArgv: ['--always-sparkplug', '--interrupt-budget=500000', '--liftoff-only', '--max-semi-space-size=64'],
}
const onPages = { ...common, setupFiles: [...common.setupFiles, 'web/tests/page.ts'] }
/** They load modules anew, as another page or engine would. */
const ownModules = ['web/state/project.test.ts', 'core/check/parts.test.ts']

/** Files keep nothing that another could see, so they share what they import: that is half of the time. */
export default defineConfig({
  test: {
    maxWorkers: 2,
    sequence: { sequencer: Together },
    projects: [
      {
        test: {
          ...common,
          name: 'core',
          isolate: false,
          include: ['core/**/*.test.ts', 'server/**/*.test.ts', 'cli/**/*.test.ts', 'docs/**/*.test.ts'],
          exclude: ownModules,
          // modules as they are: through the runner of pages each call of what is imported costs as much as a short function
          experimental: { viteModuleRunner: false, nodeLoader: false },
          execArgv: [...common.execArgv, '--import', 'tsx'],
        },
      },
      {
        test: {
          ...onPages,
          name: 'web',
          isolate: false,
          include: ['web/**/*.test.{ts,tsx}'],
          exclude: ownModules,
        },
      },
      { test: { ...onPages, name: 'own modules', include: ownModules } },
    ],
  },
})
