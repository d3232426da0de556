import { describe, expect, it } from 'vitest'
import { numbersFrom } from '../tests/randomGraph'
import { reference } from '../tests/reference'
import { cos, sin } from '../expression'
import {
  applied,
  composed,
  cross,
  crossForce,
  crossMotion,
  crossRows,
  dot,
  forceOutOf,
  inertiaMinusOuter,
  inertiaOutOf,
  motionInto,
  plus,
  quaternionFromRotation,
  rigidOutOf,
  rigidTimes,
  rotation,
  rowsTimes,
  scaled,
  spatialDot,
  spatialInertia,
  spatialPlus,
  spatialScaled,
  spatialTimes,
  transposedRows,
  turnAbout,
  turnedBy,
  unrotated,
} from './index'
import type { Placement, Quaternion, RigidInertia, Rows, Spatial, Vector } from './index'

const seeds = [1, 2, 3, 4, 5, 6, 7, 8]

function things(seed: number) {
  const next = numbersFrom(seed * 104729)
  const number = () => 2 * next() - 1
  const vector = (): Vector => [number(), number(), number()]
  const spatial = (): Spatial => ({ angular: vector(), linear: vector() })
  const turn = (): Rows => rotation([number(), number(), number(), number()])
  const placement = (): Placement => ({ rotation: turn(), position: vector() })
  const rigid = (): RigidInertia => {
    const [mass, centre] = [0.5 + next(), vector()]
    const own = diagonal([1 + next(), 1.2 + next(), 1.1 + next()])
    const arm = crossRows(centre)
    const shifted = rowsTimes(arm, arm).map((row, i) => own[i]!.map((value, j) => (value as number) - mass * (row[j] as number)))
    return { mass, moment: scaled(centre, mass), about: shifted as unknown as Rows }
  }
  return { number, vector, spatial, turn, placement, rigid }
}

function diagonal([a, b, c]: readonly [number, number, number]): Rows {
  return [
    [a, 0, 0],
    [0, b, 0],
    [0, 0, c],
  ]
}

const flat = ({ angular, linear }: Spatial) => [...angular, ...linear]
const near = { absolute: 1e-13 }

describe.each(seeds)('spatial vectors, seed %i', (seed) => {
  const { spatial, placement, rigid } = things(seed)
  const [v, m, f, x, y, body] = [spatial(), spatial(), spatial(), placement(), placement(), rigid()]

  it('keep the power of a force along a motion in any frame', () => {
    expect(spatialDot(forceOutOf(x, f), m)).toBeNear(spatialDot(f, motionInto(x, m)), near)
  })

  it('go through two placements as through their composition', () => {
    expect(flat(motionInto(y, motionInto(x, m)))).toBeNear(flat(motionInto(composed(x, y), m)), near)
    expect(flat(forceOutOf(x, forceOutOf(y, f)))).toBeNear(flat(forceOutOf(composed(x, y), f)), near)
  })

  it('have cross products that are each other’s negative transpose', () => {
    // Featherstone, Rigid Body Dynamics Algorithms, 2008, (2.31) and (2.32): v x* = -(v x)ᵀ
    expect(spatialDot(crossForce(v, f), m)).toBeNear(-(spatialDot(f, crossMotion(v, m)) as number), near)
    expect(flat(crossMotion(v, v))).toBeNear([0, 0, 0, 0, 0, 0], near)
  })

  it('see the same momentum and energy of a body from any frame', () => {
    const moved = rigidOutOf(x, body)
    expect(flat(rigidTimes(moved, m))).toBeNear(flat(forceOutOf(x, rigidTimes(body, motionInto(x, m)))), { absolute: 1e-12 })
    expect(moved.mass).toBe(body.mass)
  })

  it('see the same articulated inertia from any frame', () => {
    const u = spatial()
    const w = spatialScaled(u, 0.3) // symmetric, as U D⁻¹ Uᵀ is
    const articulated = inertiaMinusOuter(spatialInertia(body), u, w)
    const seen = spatialTimes(inertiaOutOf(x, articulated), m)
    expect(flat(seen)).toBeNear(flat(forceOutOf(x, spatialTimes(articulated, motionInto(x, m)))), { absolute: 1e-12 })
    expect(spatialDot(v, spatialTimes(articulated, m))).toBeNear(spatialDot(m, spatialTimes(articulated, v)), near)
  })

  it('take an outer product away', () => {
    const [u, w] = [spatial(), spatial()]
    const whole = spatialInertia(body)
    const both = inertiaMinusOuter(inertiaMinusOuter(whole, u, w), w, u)
    const wanted = spatialPlus(
      spatialTimes(whole, m),
      spatialPlus(spatialScaled(u, -(spatialDot(w, m) as number)), spatialScaled(w, -(spatialDot(u, m) as number))),
    )
    expect(flat(spatialTimes(both, m))).toBeNear(flat(wanted), { absolute: 1e-12 })
  })
})

describe.each(seeds)('turns, seed %i', (seed) => {
  const { number, vector, turn } = things(seed + 100)
  const [axisRaw, v, angle, r] = [vector(), vector(), 3 * number(), turn()]
  const axis = scaled(axisRaw, 1 / Math.sqrt(dot(axisRaw, axisRaw) as number))

  it('about an axis leave it alone and turn the rest by the angle', () => {
    const rows = turnAbout(axis, Math.cos(angle), Math.sin(angle))
    expect(applied(rows, axis)).toBeNear(axis, near)
    // Rodrigues: v cos + (a x v) sin + a (a·v)(1 - cos)
    const along = dot(axis, v) as number
    const wanted = plus(
      plus(scaled(v, Math.cos(angle)), scaled(cross(axis, v), Math.sin(angle))),
      scaled(axis, along * (1 - Math.cos(angle))),
    )
    expect(applied(rows, v)).toBeNear(wanted, near)
    expect(rowsTimes(rows, transposedRows(rows))).toBeNear(unrotated, near)
  })

  it('come back from their quaternion', () => {
    const q = quaternionFromRotation(r as never)
    expect(rotation(q)).toBeNear(r, near)
    expect(q[0]).toBeGreaterThanOrEqual(0)
    expect(Math.hypot(...q)).toBeNear(1, near)
  })
})

describe('half turns', () => {
  it.each([[[1, 0, 0]], [[0, 1, 0]], [[0, 0, 1]], [[0.6, 0, 0.8]]] as [Vector][])(
    'about %j keep their digits in the quaternion',
    (axis) => {
      const q = quaternionFromRotation(turnAbout(axis, -1, 0) as never)
      expect(q[0]).toBeNear(0, { absolute: 1e-8 })
      expect(rotation(q as Quaternion)).toBeNear(turnAbout(axis, -1, 0), near)
    },
  )
})

describe('roll, pitch and yaw of robot descriptions', () => {
  it('turn about fixed x, then y, then z', () => {
    // closed form, see the file
    const { inputs, expected } = reference<{ rpy_list: number[][] }, { rpy_matrices?: number[][][]; parsed_joints: object }>(
      'fmt-urdf-tree',
    )
    for (const [roll, pitch, yaw] of inputs.rpy_list as [number, number, number][]) {
      const angles = [roll, pitch, yaw]
      const ours = turnedBy(angles.map((one) => cos(one)) as never, angles.map((one) => sin(one)) as never)
      const about = (axis: Vector, angle: number) => turnAbout(axis, Math.cos(angle), Math.sin(angle))
      const fixedAxes = rowsTimes(about([0, 0, 1], yaw), rowsTimes(about([0, 1, 0], pitch), about([1, 0, 0], roll)))
      expect(ours).toBeNear(fixedAxes, near)
    }
    expect(expected.parsed_joints).toBeDefined()
  })
})
