import { describe, expect, it } from 'vitest'
import { applied, quaternionOf, rotation, tiltAt, tiltError } from './index'
import type { Vector } from './index'

/** A rotation vector on a vector, by Rodrigues' formula written out (Goldstein, Classical Mechanics, section 4.7, from memory). */
function turned([x, y]: readonly number[], [a, b, c]: readonly number[]): number[] {
  const angle = Math.hypot(x!, y!)
  if (angle === 0) return [a!, b!, c!]
  const [u, v] = [x! / angle, y! / angle]
  const [cos, sin] = [Math.cos(angle), Math.sin(angle)]
  const along = (u * a! + v * b!) * (1 - cos)
  return [a! * cos + v * c! * sin + u * along, b! * cos - u * c! * sin + v * along, c! * cos + (u * b! - v * a!) * sin]
}

const upOf = (roll: number, pitch: number, heading: number) =>
  applied(rotation(quaternionOf({ roll, pitch, heading })), [0, 0, 1]) as readonly number[]

describe('tilt as one vector', () => {
  it.each([
    [0.3, -0.2, 0],
    [0.3, -0.2, 2.5],
    [-1.2, 0.7, -1],
    [0.001, 0, 3],
    [1e-9, 2e-9, 1],
    [0, 0, 0.4],
    [2.8, 0.2, 1],
  ])('turns upright to where the axis points: roll %f, pitch %f, heading %f', (roll, pitch, heading) => {
    const tilt = tiltAt({ roll, pitch, heading }) as readonly number[]
    expect(turned(tilt, [0, 0, 1])).toBeNear([...upOf(roll, pitch, heading)], { absolute: 1e-12 })
  })

  it('is roll about east and pitch about north where the body heads as it was built', () => {
    expect(tiltAt({ roll: 0.4, pitch: 0, heading: 0 })).toBeNear([0.4, 0], { absolute: 1e-15 })
    expect(tiltAt({ roll: 0, pitch: -0.4, heading: 0 })).toBeNear([0, -0.4], { absolute: 1e-15 })
    // with its nose to the left by a quarter turn, rolling tips it about north
    expect(tiltAt({ roll: 0.4, pitch: 0, heading: Math.PI / 2 })).toBeNear([0, 0.4], { absolute: 1e-15 })
  })

  it.each([
    [
      [0.1, 0.2, 2],
      [0.3, -0.4],
    ],
    [
      [-0.5, 0.9, -2.8],
      [0, 0],
    ],
    [
      [0, 0, 1.3],
      [1.1, 0.2],
    ],
    [
      [0.2, -0.1, 0.5],
      [-2, 1.5],
    ],
  ] as const)('has an error in body axes that brings the axis of %j to a tilt of %j', ([roll, pitch, heading], asked) => {
    const error = tiltError({ roll, pitch, heading }, asked) as readonly number[]
    const inBody = turned(error, [0, 0, 1]) as unknown as Vector
    const there = applied(rotation(quaternionOf({ roll, pitch, heading })), inBody) as readonly number[]
    expect(there).toBeNear(turned(asked, [0, 0, 1]), { absolute: 1e-12 })
  })
})
