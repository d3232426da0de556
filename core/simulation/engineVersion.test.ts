import { readFileSync } from 'node:fs'
import { describe, expect, it } from 'vitest'
import { engineSourceHash, goldenFile, goldenRuns } from '../tests/engine'
import type { Golden } from '../tests/engine'
import { demo, demoNames } from '../tests/demo'
import { partsIn } from '../document'
import { isBodiless } from '../machine'
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

describe('the trials of the demo', () => {
  /** Machines that nothing holds yet. */
  const unheld = ['rock-walker']
  it.each(demoNames.filter((name) => !unheld.includes(name)))(
    'of %s: two with checks among what stands around, one fails',
    (name) => {
      const { trials, machines } = demo(name)
      const judged = Object.entries(trials).filter(
        ([, { checks, cues }]) => Object.keys(partsIn(checks)).length > 0 && Object.keys(partsIn(cues)).length > 0,
      )
      expect(judged.length).toBeGreaterThan(1)
      expect(judged.map(([trial]) => golden.runs[`${name}/${trial}`]!.fails).join('')).not.toBe('')
      // a machine without bodies is nowhere
      const placed = judged.filter(([, { machine, scene }]) => isBodiless(machines[machine]!) || scene !== undefined)
      expect(placed.length).toBeGreaterThan(1)
    },
  )
})
