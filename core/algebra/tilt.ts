import { atan2, cos, div, less, max, mul, neg, select, sin, sqrt, square, sum } from '../expression'
import type { Scalar } from '../expression'
import { quaternionOf, rotation } from './rotation'
import type { Attitude } from './rotation'
import { transposedRows, applied } from './vector'
import type { Vector } from './vector'

/** Below this squared sine an angle and its sine are the same number. */
const tiny = 1e-16

/**
 * Tilt as one vector: the shortest turn from upright to where a body's own z axis points, rad about east and about north.
 * It does not say where the body heads. Upside down it has no direction. `up` is that axis in world coordinates.
 */
export function tiltOf(up: Vector): readonly [aboutEast: Scalar, aboutNorth: Scalar] {
  return shortestTurn(up)
}

/** The same of an attitude. */
export function tiltAt(at: Attitude): readonly [aboutEast: Scalar, aboutNorth: Scalar] {
  const [[, , x], [, , y], [, , z]] = rotation(quaternionOf(at))
  return tiltOf([x, y, z])
}

/**
 * The shortest turn from the tilt that a body has to the one that is asked, rad about its own x and y axes: what its rates
 * must make up for, wherever it heads.
 */
export function tiltError(at: Attitude, [aboutEast, aboutNorth]: readonly [Scalar, Scalar]): readonly [Scalar, Scalar] {
  const squared = sum([square(aboutEast), square(aboutNorth)])
  const angle = sqrt(max(squared, tiny))
  const sine = select(less(squared, tiny), 1, div(sin(angle), angle))
  const asked: Vector = [mul(aboutNorth, sine), neg(mul(aboutEast, sine)), cos(angle)]
  return shortestTurn(applied(transposedRows(rotation(quaternionOf(at))), asked))
}

/** From (0, 0, 1) to a unit vector; the turn has no z component. */
function shortestTurn([x, y, z]: Vector): readonly [Scalar, Scalar] {
  const squared = sum([square(x), square(y)])
  const sine = sqrt(max(squared, tiny))
  const share = select(less(squared, tiny), 1, div(atan2(sine, z), sine))
  return [neg(mul(y, share)), mul(x, share)]
}
