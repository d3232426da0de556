import { describe, expect, it } from 'vitest'
import { replaceAt } from '../document'
import type { Document } from '../document'
import { demo } from '../tests/demo'
import { expectDone } from '../tests/expectDone'
import { findColumn, gentleStep, compile, start } from './index'

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

  it('is the usual one where that is gentle, and where nothing holds the machine', () => {
    expect(gentleStep(asked(1e-4), 'glide', 'gap', 1e-4)).toBe(1e-4)
    const turret = demo('lens-turret')
    expect(gentleStep(turret, 'passingShip', 'pan', 0.1)).toBe(0.1)
  })
})
