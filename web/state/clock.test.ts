import { beforeEach, describe, expect, it } from 'vitest'
import { comeCloser, moveWindow, seeWholeRun, setCursor, setEnd, togglePlay, useClock } from './clock'

const window = () => useClock.getState().window

describe('what strips show of a run', () => {
  beforeEach(() => {
    seeWholeRun()
    setEnd(10)
    useClock.setState({ playing: false, speed: 1 })
  })

  it('comes closer about a time that stays in its place, and goes back to all of it', () => {
    comeCloser(2, 4)
    expect(window()).toEqual([2, 7])
    comeCloser(2, 4)
    expect(window()).toEqual([3, 5.5])
    comeCloser(1 / 4, 4)
    expect(window()).toBeUndefined()
    comeCloser(2, 4)
    seeWholeRun()
    expect(window()).toBeUndefined()
  })

  it('stays within the run, and is never nothing', () => {
    comeCloser(5, 10)
    expect(window()).toEqual([8, 10])
    moveWindow(5)
    expect(window()).toEqual([8, 10])
    moveWindow(-20)
    expect(window()).toEqual([0, 2])
    comeCloser(1e9, 1)
    const [from, to] = window()!
    expect(to - from).toBeCloseTo(1e-3, 9)
    expect(from).toBeGreaterThanOrEqual(0)
  })

  it('is all of another run that ends before it', () => {
    comeCloser(5, 10)
    setEnd(4)
    expect(window()).toBeUndefined()
  })

  it('is played backwards from its end, where it stands at its start', () => {
    useClock.setState({ speed: -1 })
    setCursor(0)
    // no frame comes in a test: what counts is where it begins
    globalThis.requestAnimationFrame ??= () => 0
    togglePlay()
    expect(useClock.getState()).toMatchObject({ playing: true, cursor: 10 })
    togglePlay()
    expect(useClock.getState().cursor).toBe(10)
  })
})
