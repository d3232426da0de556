import { abs, and, atMost, clamp, div, less, max, mul, not, select, sqrt, square, sub, sum } from '../expression'
import type { Scalar } from '../expression'
import type { Vector } from '../algebra'

/** The surface of a solid as a point sees it. */
export interface Surface {
  /** m: how far the point is over it, negative inside */
  readonly over: Scalar
  /** Length 1: outward where the surface is nearest. */
  readonly normal: Vector
}

/** m: what is nearer to an edge or a middle than this has no direction of its own. */
const tiny = 1e-12

/** A block about the origin, by half its size, m. */
export function blockSurface(point: Vector, half: readonly [number, number, number]): Surface {
  const { over, shares } = past(point.map((x, i) => sub(abs(x), half[i]!)))
  return { over, normal: point.map((x, i) => mul(signOf(x), shares[i]!)) as unknown as Vector }
}

/** A drum about z, by its radius and half its length, m. */
export function drumSurface([x, y, z]: Vector, radius: number, half: number): Surface {
  const out = sqrt(sum([square(x), square(y)]))
  const { over, shares } = past([sub(out, radius), sub(abs(z), half)])
  const [ex, ey] = directionOf([x, y], out)
  return { over, normal: [mul(ex!, shares[0]!), mul(ey!, shares[0]!), mul(signOf(z), shares[1]!)] }
}

/** All that is nearer than a radius to a line along z, m, by half its length: a ball where that is 0. */
export function capsuleSurface([x, y, z]: Vector, radius: number, half: number): Surface {
  const beside: Vector = [x, y, sub(z, clamp(z, -half, half))]
  const far = sqrt(sum(beside.map((one) => square(one))))
  return { over: sub(far, radius), normal: directionOf(beside, far) as unknown as Vector }
}

/** Of something so long; of nothing along the first axis. */
function directionOf(of: readonly Scalar[], long: Scalar): readonly Scalar[] {
  return of.map((one, i) => select(less(long, tiny), i === 0 ? 1 : 0, div(one, long)))
}

/** How far a point is past faces that stand across one another, and the share that each has in its direction: of one face inside. */
function past(faces: readonly Scalar[]): { readonly over: Scalar; readonly shares: readonly Scalar[] } {
  const out = faces.map((face) => max(0, face))
  const far = sqrt(sum(out.map((one) => square(one))))
  const deepest = faces.reduce((most, face) => max(most, face))
  const isOut = less(0, deepest)
  const firstOf = (i: number) =>
    faces.slice(0, i).reduce((first, earlier) => and(first, not(atMost(deepest, earlier))), atMost(deepest, faces[i]!))
  return {
    over: select(isOut, far, deepest),
    shares: out.map((one, i) => select(isOut, div(one, max(far, tiny)), select(firstOf(i), 1, 0))),
  }
}

function signOf(x: Scalar): Scalar {
  return select(less(x, 0), -1, 1)
}
