import { mul, neg, sub } from '../expression'
import type { Scalar } from '../expression'
import { dot } from '../algebra'
import type { Rows, Vector } from '../algebra'

/** Inertia of a point mass at d about the origin: m (d² 1 - d dᵀ). */
export function pointInertia(mass: Scalar, d: Vector): Rows {
  const square = dot(d, d)
  const entry = (i: 0 | 1 | 2, j: 0 | 1 | 2) => {
    const product = mul(d[i], d[j])
    return mul(mass, i === j ? sub(square, product) : neg(product))
  }
  return [
    [entry(0, 0), entry(0, 1), entry(0, 2)],
    [entry(1, 0), entry(1, 1), entry(1, 2)],
    [entry(2, 0), entry(2, 1), entry(2, 2)],
  ]
}
