// @vitest-environment jsdom
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { inFrame } from './inFrame'

let frames: (() => void)[] = []

describe('what is told with a frame', () => {
  beforeEach(() => {
    frames = []
    vi.useFakeTimers()
    vi.stubGlobal('requestAnimationFrame', (draw: () => void) => frames.push(draw))
  })
  afterEach(() => {
    vi.useRealTimers()
    vi.unstubAllGlobals()
  })

  it('is told together, in its order, and once', () => {
    const told: string[] = []
    for (const name of ['rungs', 'view', 'together']) inFrame(() => told.push(name))
    expect([told, frames.length]).toEqual([[], 1])
    frames[0]!()
    expect(told).toEqual(['rungs', 'view', 'together'])
    vi.runAllTimers()
    expect(told).toHaveLength(3)
    inFrame(() => told.push('next'))
    frames[1]!()
    expect(told.at(-1)).toBe('next')
  })

  it('is told where no frame comes, and not again with a late one', () => {
    const told: string[] = []
    inFrame(() => told.push('hidden'))
    vi.runAllTimers()
    expect(told).toEqual(['hidden'])
    frames[0]!()
    expect(told).toEqual(['hidden'])
  })
})
