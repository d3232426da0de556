import { describe, expect, it } from 'vitest'
import { histogramOf } from './histogram'

describe('a histogram', () => {
  it('counts shares by hand, a sample on an edge upward and the last edge in', () => {
    const { edges, shares } = histogramOf(Float64Array.of(0, 0.5, 1, 1, 1.9, 2, 5), 0, 2, 2)
    expect([...edges]).toEqual([0, 1, 2])
    expect([...shares]).toEqual([2 / 6, 4 / 6])
  })

  it('of a sine is highest at its ends: the arcsine law', () => {
    // density 1 / (pi sqrt(1 - x²)); share below x: 1/2 + asin(x)/pi, by hand
    const sine = Float64Array.from({ length: 100_000 }, (_, k) => Math.sin((2 * Math.PI * (k + 0.5)) / 100_000))
    const { edges, shares } = histogramOf(sine, -1, 1, 10)
    const below = (x: number) => 0.5 + Math.asin(x) / Math.PI
    shares.forEach((share, i) => expect(share).toBeCloseTo(below(edges[i + 1]!) - below(edges[i]!), 4))
  })

  it('of nothing within its ends is empty', () => {
    expect([...histogramOf(Float64Array.of(7, NaN), 0, 1, 2).shares]).toEqual([0, 0])
  })
})
