import { create } from 'zustand'

/** The one cursor and clock of a trial: 3D, strips, cues and rail read it. */
interface Clock {
  /** s */
  readonly cursor: number
  readonly end: number
  /** s, what strips show of it; all of it unless a person came closer. */
  readonly window: readonly [number, number] | undefined
  readonly playing: boolean
  readonly speed: number
}

export const useClock = create<Clock>(() => ({ cursor: 0, end: 11, window: undefined, playing: false, speed: 1 }))

let lastFrame = 0

export function setCursor(t: number): void {
  useClock.setState(({ end }) => ({ cursor: Math.min(Math.max(t, 0), end) }))
}

export function setEnd(end: number): void {
  useClock.setState(({ cursor, window }) => ({
    ...{ end, cursor: Math.min(cursor, end) },
    window: window === undefined || window[0] >= end ? undefined : within(window[0], window[1], end),
  }))
}

/** Share of a run that can be looked at closest. */
const closest = 1e-4

/** A part of the run that lies in it, all of it as nothing. */
function within(from: number, to: number, end: number): Clock['window'] {
  const width = Math.max(to - from, closest * end)
  if (width >= end) return undefined
  const first = Math.min(Math.max(from, 0), end - width)
  return [first, first + width]
}

/** Strips show less of the run, or more where `factor` is below 1, about a time that stays in its place. */
export function comeCloser(factor: number, about: number): void {
  useClock.setState(({ window, end }) => {
    const [from, to] = window ?? [0, end]
    return { window: within(about - (about - from) / factor, about + (to - about) / factor, end) }
  })
}

/** Strips show all of the run. */
export function seeWholeRun(): void {
  useClock.setState({ window: undefined })
}

/** Strips show what comes so many s later. */
export function moveWindow(by: number): void {
  useClock.setState(({ window, end }) => (window === undefined ? {} : { window: within(window[0] + by, window[1] + by, end) }))
}

export function setSpeed(speed: number): void {
  useClock.setState({ speed })
}

export function togglePlay(): void {
  const { playing, cursor, end, speed } = useClock.getState()
  // what stands at its end begins anew
  const isOver = speed < 0 ? cursor <= 0 : cursor >= end
  useClock.setState({ playing: !playing, cursor: playing || !isOver ? cursor : speed < 0 ? end : 0 })
  if (playing) return
  lastFrame = performance.now()
  requestAnimationFrame(advance)
}

function advance(now: number): void {
  const { playing, cursor, end, speed } = useClock.getState()
  if (!playing) return
  const next = cursor + ((now - lastFrame) / 1000) * speed
  lastFrame = now
  if (next >= end || next <= 0) return useClock.setState({ cursor: next >= end ? end : 0, playing: false })
  useClock.setState({ cursor: next })
  requestAnimationFrame(advance)
}
