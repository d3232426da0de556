import { create } from 'zustand'

/** The one cursor and clock of a trial: 3D, strips, cues and rail read it. */
interface Clock {
  /** s */
  readonly cursor: number
  readonly end: number
  readonly playing: boolean
  readonly speed: number
}

export const useClock = create<Clock>(() => ({ cursor: 0, end: 11, playing: false, speed: 1 }))

let lastFrame = 0

export function setCursor(t: number): void {
  useClock.setState(({ end }) => ({ cursor: Math.min(Math.max(t, 0), end) }))
}

export function setEnd(end: number): void {
  useClock.setState(({ cursor }) => ({ end, cursor: Math.min(cursor, end) }))
}

export function setSpeed(speed: number): void {
  useClock.setState({ speed })
}

export function togglePlay(): void {
  const { playing, cursor, end } = useClock.getState()
  useClock.setState({ playing: !playing, cursor: !playing && cursor >= end ? 0 : cursor })
  if (playing) return
  lastFrame = performance.now()
  requestAnimationFrame(advance)
}

function advance(now: number): void {
  const { playing, cursor, end, speed } = useClock.getState()
  if (!playing) return
  const next = cursor + ((now - lastFrame) / 1000) * speed
  lastFrame = now
  if (next >= end) return useClock.setState({ cursor: end, playing: false })
  useClock.setState({ cursor: next })
  requestAnimationFrame(advance)
}
