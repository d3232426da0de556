import { readFileSync } from 'node:fs'
import { describe, expect, it } from 'vitest'
import { engineSourceHash, goldenFile, goldenRuns } from '../tests/engine'
import type { Golden } from '../tests/engine'
import { engineVersion } from './index'

const golden = JSON.parse(readFileSync(goldenFile, 'utf8')) as Golden

describe('the version of the engine', () => {
  it('is that of its sources: after a change of them, type npm run engine', () => {
    expect(engineVersion).toBe(engineSourceHash())
    expect(golden.version).toBe(engineVersion)
  })

  // a library or a compiler may change bits where no source of ours has
  it('gives the runs of the demo bit for bit as it did', () => {
    expect(goldenRuns()).toEqual(golden.runs)
  })
})
