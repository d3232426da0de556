import { describe, expect, it } from 'vitest'
import { parseCondition } from './index'

const condition = (text: string) => {
  const parsed = parseCondition(text)
  if (parsed.kind !== 'condition') throw new Error(`${parsed.what} at ${parsed.column}`)
  return parsed.condition
}
const holds = (text: string, rate: number, running = false) =>
  condition(text).holds((name) => (name === 'rate' ? rate : 0), running)
const wrong = (text: string) => {
  const parsed = parseCondition(text)
  return parsed.kind === 'wrong' ? parsed : undefined
}

describe('a condition with hysteresis', () => {
  const text = 'rate > 1 until rate < 0.8'

  it('begins with its first part, and goes on until the second', () => {
    expect([holds(text, 0.9), holds(text, 1.1)]).toEqual([false, true])
    expect([holds(text, 0.9, true), holds(text, 0.7, true)]).toEqual([true, false])
    // beginning counts most: both at once is on
    expect(holds('rate > 1 until rate > 0', 2, true)).toBe(true)
  })

  it('without `until` is what it is at each moment', () => {
    expect([holds('rate > 1', 0.9, true), holds('rate > 1', 1.1, false)]).toEqual([false, true])
  })

  it('knows all its words, and how long it must hold', () => {
    const both = condition('rate > 1 and error > 0 until measured < 0.8 or not (rate > 0) for 0.2 s')
    expect(both.names).toEqual(['rate', 'error', 'measured'])
    expect(both.lasting).toBe(0.2)
  })

  it('is refused at the place that is wrong, in either part', () => {
    expect(wrong('rate > 1 until rate')?.what).toMatch(/no comparison/)
    expect(wrong('rate until rate < 1')?.column).toBe(1)
    const late = wrong('rate > 1 until rate < (2')
    expect(late!.column).toBeGreaterThan('rate > 1 until '.length)
  })
})
