import { partsIn } from '../document'
import type { Part } from '../document'
import { findKind } from '../kinds'
import { touchesIn, waitsOf } from './cues'
import type { Touched } from './cues'
import { hands } from './hands'

/** s: a jump of a table, whose times rise. */
const jump = 1e-6
/** s: between points of what goes along a curve. */
const fine = 0.02

type Point = readonly [t: number, value: number]

/** Where touches take a hand over time, each along a straight line. */
function wayOf(touches: readonly Touched[]): readonly Point[] {
  const points: Point[] = [[0, 0]]
  touches.forEach(({ at, to, over }, i) => {
    const begins = Math.max(at, points.at(-1)![0] + jump)
    const [, was] = points.at(-1)!
    points.push([begins, was])
    const takes = Math.max(Math.abs(to - was) * over, jump)
    const room = (touches[i + 1]?.at ?? Infinity) - begins
    const share = Math.min(1, room / takes)
    if (share > 0) points.push([begins + share * takes, was + share * (to - was)])
  })
  return points
}

/** What goes on at the rate of a way: its integral. */
function drivenAlong(way: readonly Point[]): readonly Point[] {
  const points: Point[] = [[0, 0]]
  for (let i = 1; i < way.length; i++) {
    const [[t0, v0], [t1, v1]] = [way[i - 1]!, way[i]!]
    const steps = v0 === v1 ? 1 : Math.ceil((t1 - t0) / fine)
    const [, start] = points.at(-1)!
    for (let k = 1; k <= steps; k++) {
      const t = ((t1 - t0) * k) / steps
      points.push([t0 + t, start + t * (v0 + (t / (2 * (t1 - t0))) * (v1 - v0))])
    }
  }
  return points
}

/** What hands asked of loops and pushes in a trial, as commands by the clock up to `end`, s. */
export function askedByHand(trial: Part, end: number): readonly Part[] {
  const touches = touchesIn(partsIn(trial.cues))
  return Object.entries(partsIn(trial.hands)).flatMap(([hand, part]) =>
    Object.entries(findKind(hands, part)?.axes(part) ?? {}).flatMap(([axis, { loop, by, how }]): Part[] => {
      const own = touches.filter((one) => one.hand === hand && one.axis === axis)
      if (own.length === 0) return []
      const way = wayOf(own)
      const to: readonly Point[] = [...way, [Math.max(end, way.at(-1)![0] + jump), way.at(-1)![1]]]
      const course = how === 'drives' ? drivenAlong(to) : to
      const points = course.map(([t, value]) => [t, value * (part[by] as number)])
      return [{ kind: 'tableCue', loop, at: 0, points, between: 'straight' } as unknown as Part]
    }),
  )
}

/** s: when a hand was pressed, and let go. */
export function pressings(trial: Part, hand: string): readonly { readonly from: number; readonly to: number | undefined }[] {
  const pressed: { from: number; to: number | undefined }[] = []
  for (const { at, to } of touchesIn(partsIn(trial.cues)).filter((one) => one.hand === hand)) {
    const last = pressed.at(-1)
    const isDown = last !== undefined && last.to === undefined
    if (to > 0.5 && !isDown) pressed.push({ from: at, to: undefined })
    if (to <= 0.5 && isDown) last.to = at
  }
  return pressed
}

/** The hand that a cue waits for, or ends with. */
export function handOf(cue: Part, slot: 'waits' | 'until'): string | undefined {
  return waitsOf(cue[slot] as Part | undefined)?.hand
}
