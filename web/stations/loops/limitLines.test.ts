import { describe, expect, it } from 'vitest'
import type { CalmMap } from '@calm-hand/core/tuning'
import { limitLines } from './limitLines'

/** Three crossovers, two margins; the last column has no design above. */
const map: CalmMap = {
  crossovers: [1, 2, 3],
  margins: [0.5, 1],
  figures: {
    settling: Float64Array.from([4, 3, 2, 1, 0.5, NaN]),
    overshoot: Float64Array.from([30, 5, 30, 5, 30, NaN]),
    sensitivityPeak: Float64Array.from([2, 2, 2, 2, 2, NaN]),
    peakCommand: Float64Array.from([1, 1, 2, 2, 3, NaN]),
  },
  why: Uint8Array.from([0, 0, 0, 0, 0, 1]),
}
const part = (keeps: Record<string, object>) => ({ kind: 'loop', keeps }) as never

describe('lines of requirements on a map', () => {
  it('run between places that keep one and places that do not', () => {
    const lines = limitLines(map, part({ a: { kind: 'overshootAtMost', most: 0.1 } }), 1)
    expect(lines).toEqual([
      {
        label: 'overshoot',
        edges: [
          [0, 1, 1, 1],
          [1, 1, 2, 1],
        ],
      },
    ])
  })
  it('count the command for the size of the step, and the tighter of two', () => {
    const command = (most: number) => ({ kind: 'commandAtMost', most })
    const at = (keeps: Record<string, object>, size: number) => limitLines(map, part(keeps), size)[0]?.edges
    expect(at({ a: command(2.5) }, 1)).toEqual([[2, 0, 2, 1]])
    expect(at({ a: command(5), b: command(50) }, -2)).toEqual([[2, 0, 2, 1]])
  })
  it('are none where every design keeps it, or nothing is asked', () => {
    expect(limitLines(map, part({ a: { kind: 'sensitivityAtMost', most: 3 } }), 1)).toEqual([])
    expect(limitLines(map, part({}), 1)).toEqual([])
    const margin = limitLines(map, part({ a: { kind: 'inHandAtLeast', least: 0.8 } }), 1)
    expect(margin[0]!.edges).toHaveLength(2)
  })
})
