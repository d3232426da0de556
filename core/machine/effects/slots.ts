import { div, neg, sqrt, square, sum } from '../../expression'
import type { Scalar } from '../../expression'
import { dot, minus, scaled } from '../../algebra'
import type { Vector } from '../../algebra'
import type { Part } from '../../document'
import { name, number, vector } from '../../kinds'
import type { Scene } from './effect'

/** Two points on bodies, for whatever acts between them. */
export const betweenSlots = {
  from: name({ label: 'from', of: 'body' }),
  fromAt: vector({ label: 'end on the first', unit: 'm', components: ['x', 'y', 'z'] }),
  to: name({ label: 'to', of: 'body' }),
  toAt: vector({ label: 'end on the second', unit: 'm', components: ['x', 'y', 'z'] }),
} as const

export const coordinateSlot = name({ label: 'joint', of: 'coordinate' })

export const positive = (label: string, unit: string) => number({ label, unit, above: 0 })
export const notNegative = (label: string, unit: string) => number({ label, unit, least: 0 })

/** The span between two points: length, how fast it grows, and a pull along it (positive draws the ends together). */
export function span(scene: Scene, part: Part): { length: Scalar; rate: Scalar; pull: (force: Scalar) => void } {
  const from = part.from as string
  const to = part.to as string
  const [fromAt, toAt] = [scene.vector('fromAt'), scene.vector('toAt')]
  const [a, b] = [scene.point(from, fromAt), scene.point(to, toAt)]
  const across = minus(b.position, a.position)
  const length = sqrt(sum(across.map((component) => square(component))))
  const along: Vector = scaled(across, div(1, length))
  return {
    length,
    rate: dot(along, minus(b.velocity, a.velocity)),
    pull: (force) => {
      scene.push(from, fromAt, scaled(along, force))
      scene.push(to, toAt, scaled(along, neg(force)))
    },
  }
}
