import { add, and, atMost, div, mul, select, sub, sum, square } from '../expression'
import type { Scalar } from '../expression'
import { dot, minus, plus, scaled } from '../algebra'
import type { Vector } from '../algebra'

export interface NearestOnTriangle {
  readonly nearest: Vector
  /** m² */
  readonly square: Scalar
  /** 0 within the face; 1, 2, 3 on the edge from the first, second, third corner on; 4, 5, 6 at a corner. */
  readonly part: Scalar
}

/** The point of a triangle that is nearest to another (Ericson, Real-Time Collision Detection, 2005, 5.1.5, from memory). */
export function nearestOnTriangle(point: Vector, [a, b, c]: readonly [Vector, Vector, Vector]): NearestOnTriangle {
  const [ab, ac, ap] = [minus(b, a), minus(c, a), minus(point, a)]
  const [abab, abac, acac] = [dot(ab, ab), dot(ab, ac), dot(ac, ac)]
  const [d1, d2] = [dot(ab, ap), dot(ac, ap)]
  const [d3, d4, d5, d6] = [sub(d1, abab), sub(d2, abac), sub(d1, abac), sub(d2, acac)]
  const [va, vb, vc] = [crossed(d3, d6, d5, d4), crossed(d5, d2, d1, d6), crossed(d1, d4, d3, d2)]
  const [past, before] = [sub(d4, d3), sub(d5, d6)]
  const alongBc = div(past, add(past, before))
  const whole = sum([va, vb, vc])
  // where it lies in the first that holds: shares of the two edges at the first corner, and the part
  const cases = [
    { holds: and(atMost(d1, 0), atMost(d2, 0)), at: [0, 0], part: 4 },
    { holds: and(atMost(0, d3), atMost(d4, d3)), at: [1, 0], part: 5 },
    { holds: and(atMost(vc, 0), and(atMost(0, d1), atMost(d3, 0))), at: [div(d1, sub(d1, d3)), 0], part: 1 },
    { holds: and(atMost(0, d6), atMost(d5, d6)), at: [0, 1], part: 6 },
    { holds: and(atMost(vb, 0), and(atMost(0, d2), atMost(d6, 0))), at: [0, div(d2, sub(d2, d6))], part: 3 },
    { holds: and(atMost(va, 0), and(atMost(0, past), atMost(0, before))), at: [sub(1, alongBc), alongBc], part: 2 },
  ] as const
  const first = (of: (one: (typeof cases)[number]) => Scalar, otherwise: Scalar) =>
    cases.reduceRight<Scalar>((rest, one) => select(one.holds, of(one), rest), otherwise)
  const [v, w] = [first(({ at }) => at[0], div(vb, whole)), first(({ at }) => at[1], div(vc, whole))]
  const nearest = plus(a, plus(scaled(ab, v), scaled(ac, w)))
  return { nearest, square: sum(minus(point, nearest).map((one) => square(one))), part: first(({ part }) => part, 0) }
}

function crossed(a: Scalar, d: Scalar, b: Scalar, c: Scalar): Scalar {
  return sub(mul(a, d), mul(b, c))
}
