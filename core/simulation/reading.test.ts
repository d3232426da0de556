import { describe, expect, it } from 'vitest'
import { spanFigures } from './reading'

const time = Float64Array.from({ length: 2001 }, (_, k) => k / 1000)
const of = (f: (t: number) => number) => time.map(f)

describe('figures between two instants', () => {
  it('are those of a sine over a whole period, in closed form', () => {
    const found = spanFigures(time, of((t) => 2 + 3 * Math.sin(2 * Math.PI * t)), 0, 0.999)! // prettier-ignore
    expect(found.mean).toBeCloseTo(2, 12)
    expect(found.deviation).toBeCloseTo(3 / Math.SQRT2, 12)
    expect(found.rms).toBeCloseTo(Math.sqrt(4 + 4.5), 12)
    expect(found.most).toEqual({ value: 5, at: 0.25 })
    expect(found.least.at).toBe(0.75)
    expect(Math.abs(found.fastest.value)).toBeCloseTo(6 * Math.PI, 3)
  })

  it('tell what it changes by and how fast, within the window alone', () => {
    const ramp = of((t) => (t < 1 ? 0 : 4 * (t - 1)))
    expect(spanFigures(time, ramp, 0, 1)).toMatchObject({ change: 0, rate: 0 })
    const found = spanFigures(time, ramp, 0.5, 1.5)!
    expect(found.change).toBeCloseTo(2, 12)
    expect(found.rate).toBeCloseTo(2, 12)
    expect(found.fastest.value).toBeCloseTo(4, 9)
  })

  it('are none where fewer than two rows lie within', () => {
    expect(spanFigures(time, time, 5, 9)).toBeUndefined()
    expect(spanFigures(time, time, 1, 1)).toBeUndefined()
  })
})
