import { describe, expect, it } from 'vitest'
import { replaceAt } from '../document'
import type { Document } from '../document'
import { demo } from '../tests/demo'
import { expectDone } from '../tests/expectDone'
import { compile, findColumn, gentleStep, predictTrial, start } from './index'

describe('a gentle step', () => {
  const float = demo('lens-float')
  const asked = (by: number) =>
    replaceAt<Document>(float, 'trials.glide.cues', { step: { kind: 'stepCue', loop: 'gap', at: 0.1, by } })

  it('is one that a lens held by a magnet follows, where a tenth of a metre drops it', () => {
    const by = gentleStep(asked(0.1), 'glide', 'gap', 0.1)
    expect([1, 2, 5]).toContain(Number(by.toExponential()[0]))
    expect(by).toBeLessThan(3e-3)
    const end = (step: number) => {
      const record = start(expectDone(compile(asked(step), 'glide'))).run({ trial: 'glide', layers: [], seed: 1 })
      const travel = findColumn(record, 'lensFloat.lens.travel')!
      return { moved: travel.at(-1)! - travel[0]!, how: record.ending.kind }
    }
    expect(end(by).how).toBe('finished')
    expect(end(by).moved).toBeNear(by, { relative: 0.02 })
    expect(end(0.1).how).toBe('diverged')
  })

  it('takes at most a fifth of what holds the machine, and the next larger one would take more', () => {
    const digits = new Set<number>()
    for (const crossover of [60, 90, 120, 150, 200, 260]) {
      const of = (by: number) => replaceAt<Document>(asked(by), 'loops.gap.tuning.crossover', crossover)
      const by = gentleStep(of(0.1), 'glide', 'gap', 0.1)
      const digit = Number(by.toExponential()[0])
      const share = (step: number) => {
        const { push } = predictTrial(of(step), 'glide', 'gap')!
        return Math.max(...push.map((value) => Math.abs(value - push[0]!))) / Math.abs(push[0]!)
      }
      digits.add(digit)
      expect(share(by)).toBeLessThan(0.2 + 1e-6)
      expect(share(by * (digit === 2 ? 2.5 : 2))).toBeGreaterThan(0.2)
    }
    expect(digits).toEqual(new Set([1, 2, 5]))
  })

  it('is the usual one where that is gentle, and where nothing holds the machine', () => {
    expect(gentleStep(asked(1e-4), 'glide', 'gap', 1e-4)).toBe(1e-4)
    const turret = demo('lens-turret')
    expect(gentleStep(turret, 'passingShip', 'pan', 0.1)).toBe(0.1)
  })
})
