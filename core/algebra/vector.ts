import { add, div, mul, sub, sum } from '../expression'
import type { Scalar } from '../expression'

export type Vector = readonly [Scalar, Scalar, Scalar]

export function plus(a: Vector, b: Vector): Vector {
  return [add(a[0], b[0]), add(a[1], b[1]), add(a[2], b[2])]
}

export function minus(a: Vector, b: Vector): Vector {
  return [sub(a[0], b[0]), sub(a[1], b[1]), sub(a[2], b[2])]
}

export function scaled(a: Vector, factor: Scalar): Vector {
  return [mul(a[0], factor), mul(a[1], factor), mul(a[2], factor)]
}

export function dividedBy(a: Vector, divisor: Scalar): Vector {
  return scaled(a, div(1, divisor)) // one division, and none in a run where the divisor stays constant
}

export function dot(a: Vector, b: Vector): Scalar {
  return sum([mul(a[0], b[0]), mul(a[1], b[1]), mul(a[2], b[2])])
}

export function cross(a: Vector, b: Vector): Vector {
  return [sub(mul(a[1], b[2]), mul(a[2], b[1])), sub(mul(a[2], b[0]), mul(a[0], b[2])), sub(mul(a[0], b[1]), mul(a[1], b[0]))]
}

/** Rows of a 3 x 3 matrix. */
export type Rows = readonly [Vector, Vector, Vector]

export function applied(rows: Rows, v: Vector): Vector {
  return [dot(rows[0], v), dot(rows[1], v), dot(rows[2], v)]
}

export function transposedRows([a, b, c]: Rows): Rows {
  return [
    [a[0], b[0], c[0]],
    [a[1], b[1], c[1]],
    [a[2], b[2], c[2]],
  ]
}

export function rowsPlus(a: Rows, b: Rows): Rows {
  return [plus(a[0], b[0]), plus(a[1], b[1]), plus(a[2], b[2])]
}

/** Solves rows x = v by cofactors. The matrix must be regular, such as an inertia. */
export function solved(rows: Rows, v: Vector): Vector {
  const [a, b, c] = transposedRows(rows)
  const bc = cross(b, c)
  const determinant = dot(a, bc)
  const inverse = div(1, determinant)
  return [dot(v, scaled(bc, inverse)), dot(v, scaled(cross(c, a), inverse)), dot(v, scaled(cross(a, b), inverse))]
}
