import { add, asin, atan2, clamp, cos, div, floor, mul, neg, sin, sqrt, square, sub, sum } from '../expression'
import type { Scalar } from '../expression'
import type { Rows, Vector } from './vector'

/** Hamilton quaternion (w, x, y, z), body to world. */
export type Quaternion = readonly [Scalar, Scalar, Scalar, Scalar]

/** The product a b: first rotates by b, then by a. */
export function product(a: Quaternion, b: Quaternion): Quaternion {
  const [aw, ax, ay, az] = a
  const [bw, bx, by, bz] = b
  return [
    sub(mul(aw, bw), sum([mul(ax, bx), mul(ay, by), mul(az, bz)])),
    sub(sum([mul(aw, bx), mul(ax, bw), mul(ay, bz)]), mul(az, by)),
    sub(sum([mul(aw, by), mul(ay, bw), mul(az, bx)]), mul(ax, bz)),
    sub(sum([mul(aw, bz), mul(az, bw), mul(ax, by)]), mul(ay, bx)),
  ]
}

/**
 * r_world_body: body coordinates to world coordinates. Divides by the squared length, so that a quaternion that is
 * not quite of unit length (numerical drift) still gives a rotation.
 */
export function rotation(q: Quaternion): Rows {
  const [w, x, y, z] = q
  const s = div(2, sum([square(w), square(x), square(y), square(z)]))
  const of = (a: Scalar, b: Scalar) => mul(s, mul(a, b))
  return [
    [sub(1, add(of(y, y), of(z, z))), sub(of(x, y), of(w, z)), add(of(x, z), of(w, y))],
    [add(of(x, y), of(w, z)), sub(1, add(of(x, x), of(z, z))), sub(of(y, z), of(w, x))],
    [sub(of(x, z), of(w, y)), add(of(y, z), of(w, x)), sub(1, add(of(x, x), of(y, y)))],
  ]
}

/** dq/dt for an angular velocity in body axes: q (0, omega) / 2. */
export function quaternionRate(q: Quaternion, omega_inBody: Vector): Quaternion {
  const [a, b, c, d] = product(q, [0, ...omega_inBody])
  return [mul(0.5, a), mul(0.5, b), mul(0.5, c), mul(0.5, d)]
}

/** Roll, pitch and heading (turns about x, then y, then z seen from the body: the z-y-x sequence), rad. */
export interface Attitude {
  readonly roll: Scalar
  readonly pitch: Scalar
  readonly heading: Scalar
}

export function attitude(r_world_body: Rows): Attitude {
  const [[xx], [yx], [zx, zy, zz]] = r_world_body
  return { roll: atan2(zy, zz), pitch: asin(clamp(neg(zx), -1, 1)), heading: atan2(yx, xx) }
}

export function quaternionOf({ roll, pitch, heading }: Attitude): Quaternion {
  const half = (angle: Scalar) => ({ c: cos(mul(0.5, angle)), s: sin(mul(0.5, angle)) })
  const [r, p, h] = [half(roll), half(pitch), half(heading)]
  return product(product([h.c, 0, 0, h.s], [p.c, 0, p.s, 0]), [r.c, r.s, 0, 0])
}

/**
 * The quaternion of a rotation matrix of numbers, w not negative. Starts from the largest component, so that no digits
 * are lost at half turns (Shepperd, Journal of Guidance and Control 1, 1978, from memory).
 */
export function quaternionFromRotation(rows: readonly (readonly number[])[]): [number, number, number, number] {
  const r = (i: number, j: number) => rows[i]![j]!
  const trace = r(0, 0) + r(1, 1) + r(2, 2)
  const squares = [trace, r(0, 0), r(1, 1), r(2, 2)]
  const most = squares.indexOf(Math.max(...squares))
  const q: [number, number, number, number] = [0, 0, 0, 0]
  if (most === 0) {
    const w = sqrt(1 + trace) / 2
    q[0] = w
    for (let i = 0; i < 3; i++) q[i + 1] = (r((i + 2) % 3, (i + 1) % 3) - r((i + 1) % 3, (i + 2) % 3)) / (4 * w)
  } else {
    const i = most - 1
    const [j, k] = [(i + 1) % 3, (i + 2) % 3]
    const v = sqrt(1 + r(i, i) - r(j, j) - r(k, k)) / 2
    q[0] = (r(k, j) - r(j, k)) / (4 * v)
    q[i + 1] = v
    q[j + 1] = (r(i, j) + r(j, i)) / (4 * v)
    q[k + 1] = (r(i, k) + r(k, i)) / (4 * v)
  }
  return q[0] < 0 ? (q.map((value) => -value) as typeof q) : q
}

/** World's up seen from a body at this roll and pitch. */
export function upInBody(roll: Scalar, pitch: Scalar): Vector {
  return [neg(sin(pitch)), mul(sin(roll), cos(pitch)), mul(cos(roll), cos(pitch))]
}

/** An error between angles that go round, in [-pi, pi). */
export function wrapped(angle: Scalar): Scalar {
  return sub(angle, mul(2 * Math.PI, floor(add(mul(angle, 1 / (2 * Math.PI)), 0.5))))
}
