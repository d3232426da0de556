import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { atOrigin, composed, turnedBy } from '../algebra'
import type { Placement } from '../algebra'
import { frameBetween } from './index'

const turned = (x: number, y: number, z: number, at: [number, number, number] = [0, 0, 0]): Placement => ({
  rotation: turnedBy([x, y, z].map(Math.cos) as never, [x, y, z].map(Math.sin) as never),
  position: at,
})

describe('one frame in another', () => {
  it('lies at a distance, in the axes of the first, and is turned by one angle', () => {
    const first = turned(0, 0, Math.PI / 2, [1, 0, 0])
    const { distance, along, angle } = frameBetween(first, turned(0, 0, -Math.PI / 6, [1, 3, 4]))
    expect(distance).toBeCloseTo(5, 14)
    expect(along).toBeNear([3, 0, 4], { absolute: 1e-14 })
    expect(angle).toBeCloseTo((2 * Math.PI) / 3, 14)
  })

  it.each([1e-9, 0.3, Math.PI / 2, Math.PI - 1e-9, Math.PI])('keeps the angle of a turn of %d rad', (angle) => {
    expect(frameBetween(atOrigin, turned(angle, 0, 0)).angle).toBeNear(angle, { absolute: 1e-15, relative: 1e-14 })
  })

  it('is the same distance and angle from the other side, and from anywhere', () => {
    const number = fc.double({ min: -3, max: 3, noNaN: true })
    const frame = fc.tuple(number, number, number, number, number, number)
    const placed = ([x, y, z, a, b, c]: readonly number[]) => turned(x!, y!, z!, [a!, b!, c!])
    fc.assert(
      fc.property(frame, frame, frame, (one, other, moved) => {
        const [a, b, m] = [placed(one), placed(other), placed(moved)]
        const found = frameBetween(a, b)
        for (const again of [frameBetween(b, a), frameBetween(composed(m, a), composed(m, b))]) {
          expect(again.distance).toBeNear(found.distance, { absolute: 1e-12 })
          expect(again.angle).toBeNear(found.angle, { absolute: 1e-7 })
        }
      }),
    )
  })
})
