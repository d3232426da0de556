import type { Placement, Vector } from '../algebra'
import { partsIn } from '../document'
import type { Part } from '../document'
import { placedPoint } from './assemble'
import type { Assembly } from './assemble'
import { seatPose } from './assemble'
import { effects } from './effects'
import { findKind } from '../kinds'

/** m: a foot this near to the ground stands on it. */
const standing = 0.005

/** Where the feet of a mechanism stand, as the corners of their hull seen from above, turning left. m, world axes. */
export function supportPolygon(
  machine: Part,
  assembly: Assembly,
  poses: readonly Placement[],
): readonly (readonly [number, number])[] {
  const feet = Object.values(partsIn(machine.forces)).flatMap((force) => {
    const foot = findKind(effects, force)?.foot?.(force)
    if (foot === undefined) return []
    const pose = seatPose(assembly.seats.get(foot.body)!, poses)
    const [x, y, z] = placedPoint(pose, foot.at as Vector) as readonly [number, number, number]
    return z - foot.radius - foot.level < standing ? [[x, y] as const] : []
  })
  return hull(feet)
}

/** Andrew's monotone chain: A. M. Andrew, Inf. Process. Lett. 9, 1979 (from memory). */
export function hull(points: readonly (readonly [number, number])[]): (readonly [number, number])[] {
  const sorted = [...points].sort(([ax, ay], [bx, by]) => ax - bx || ay - by)
  if (sorted.length < 3) return sorted
  const half = (list: readonly (readonly [number, number])[]) => {
    const out: (readonly [number, number])[] = []
    for (const point of list) {
      while (out.length > 1 && turn(out.at(-2)!, out.at(-1)!, point) <= 0) out.pop()
      out.push(point)
    }
    return out.slice(0, -1)
  }
  return [...half(sorted), ...half([...sorted].reverse())]
}

function turn(
  [ax, ay]: readonly [number, number],
  [bx, by]: readonly [number, number],
  [cx, cy]: readonly [number, number],
): number {
  return (bx - ax) * (cy - ay) - (by - ay) * (cx - ax)
}
