import { describe, expect, it } from 'vitest'
import { checks, cues } from '../simulation'
import { spoken } from './index'

const saying = {
  number: (value: number, unit: string) => `${value} ${unit}`.trim(),
  name: (name: string, of: string) => `${of} ${name}`,
}

describe('a part said as its kind says it', () => {
  it('has every slot filled, those left out with what stands in for them', () => {
    const push = { kind: 'pushCue', at: 2, over: 1, body: 'hull', x: 1, y: 0, z: 0 }
    expect(spoken(cues, push, saying)).toBe(
      'At 2 s, body hull is pushed steadily for 1 s by 1 N along x, 0 N along y, 0 N along z of axes of the world, at 0 m, 0 m, 0 m of it.',
    )
  })

  it('keeps formulas as they are written, and says nothing of what no kind knows', () => {
    const push = { kind: 'twistCue', at: '= start', over: 1, body: 'hull', x: 1, y: 0, z: 0 }
    expect(spoken(cues, push, saying)).toMatch(/^At = start, body hull is twisted/)
    expect(spoken(checks, push, saying)).toBeUndefined()
    expect(spoken(checks, undefined, saying)).toBeUndefined()
  })
})
