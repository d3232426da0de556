/** A point, m. */
export type Point = readonly [number, number, number]

/** A convex solid that is swollen by `margin`, m: a sphere is its swollen middle. */
export interface Convex {
  /** The farthest point of what is swollen along a direction, world axes. */
  readonly support: (along: Point) => Point
  readonly margin: number
  /** A ball that holds all of it. */
  readonly centre: Point
  readonly radius: number
}

const mostSteps = 80
/** Of what is left to gain in a step, and of squares of lengths: beneath that nothing is told from rounding. */
const [smallGain, tiny] = [1e-10, 1e-20]

/**
 * m: the distance of two convex solids; 0 where they touch or stand in one another. Beyond `limit`, m, something between it
 * and the distance. Gilbert, Johnson & Keerthi, IEEE Journal
 * of Robotics and Automation 4 (1988), from memory; the nearest point of a simplex by looking at all its faces.
 */
export function distanceBetween(a: Convex, b: Convex, limit = Infinity): number {
  const difference = (along: Point): Point => minus(a.support(along), b.support(times(along, -1)))
  let nearest = minus(a.centre, b.centre)
  if (square(nearest) < tiny) nearest = [1, 0, 0]
  let simplex: Point[] = []
  for (let step = 0; step < mostSteps; step++) {
    const far = difference(times(nearest, -1))
    // what lies behind a plane is at least so far away
    const least = dot(nearest, far) / Math.sqrt(square(nearest)) - a.margin - b.margin
    if (least >= limit) return least
    // once the support is no farther than the nearest point there is nothing nearer
    if (simplex.length > 0 && square(nearest) - dot(nearest, far) <= smallGain * square(nearest)) break
    const found = nearestOf([...simplex, far])
    simplex = found.simplex
    nearest = found.point
    if (square(nearest) < tiny) return 0
  }
  return Math.max(0, Math.sqrt(square(nearest)) - a.margin - b.margin)
}

/** The point of a simplex of up to four points that is nearest to the origin, with the corners that hold it. */
function nearestOf(points: readonly Point[]): { readonly point: Point; readonly simplex: Point[] } {
  let best: { point: Point; simplex: Point[] } | undefined
  // what does not hold the newest corner was looked at before it came
  for (let mask = 1 << (points.length - 1); mask < 1 << points.length; mask++) {
    const corners = points.filter((_, i) => (mask >> i) & 1)
    const point = withinFace(corners)
    if (point !== undefined && (best === undefined || square(point) < square(best.point))) best = { point, simplex: corners }
  }
  return best!
}

/** The foot of the origin on the plane, line or point of some corners, where it lies between them. */
function withinFace(corners: readonly Point[]): Point | undefined {
  const [origin, ...others] = corners as [Point, ...Point[]]
  const edges = others.map((corner) => minus(corner, origin))
  const shares = solve(
    edges.map((one) => edges.map((other) => dot(one, other))),
    edges.map((one) => -dot(one, origin)),
  )
  if (shares === undefined || shares.some((share) => share < 0) || shares.reduce((a, b) => a + b, 0) > 1) return undefined
  return edges.reduce((sum, edge, i) => plus(sum, times(edge, shares[i]!)), origin)
}

/** A few equations by elimination with the largest pivot; nothing where they say too little. */
function solve(matrix: readonly (readonly number[])[], right: readonly number[]): number[] | undefined {
  const rows = matrix.map((row, i) => [...row, right[i]!])
  const size = rows.length
  const scale = Math.max(...rows.map((row, i) => Math.abs(row[i]!)), 0)
  for (let k = 0; k < size; k++) {
    const pivot = rows.reduce((at, row, i) => (i > k && Math.abs(row[k]!) > Math.abs(rows[at]![k]!) ? i : at), k)
    ;[rows[k], rows[pivot]] = [rows[pivot]!, rows[k]!]
    if (Math.abs(rows[k]![k]!) <= 1e-13 * scale) return undefined
    for (let i = k + 1; i < size; i++) {
      const factor = rows[i]![k]! / rows[k]![k]!
      for (let j = k; j <= size; j++) rows[i]![j]! -= factor * rows[k]![j]!
    }
  }
  const found: number[] = Array.from({ length: size }, () => 0)
  for (let i = size - 1; i >= 0; i--) {
    let left = rows[i]![size]!
    for (let j = i + 1; j < size; j++) left -= rows[i]![j]! * found[j]!
    found[i] = left / rows[i]![i]!
  }
  return found
}

function plus(a: Point, b: Point): Point {
  return [a[0] + b[0], a[1] + b[1], a[2] + b[2]]
}

function minus(a: Point, b: Point): Point {
  return [a[0] - b[0], a[1] - b[1], a[2] - b[2]]
}

function times(a: Point, by: number): Point {
  return [a[0] * by, a[1] * by, a[2] * by]
}

function dot(a: Point, b: Point): number {
  return a[0] * b[0] + a[1] * b[1] + a[2] * b[2]
}

function square(a: Point): number {
  return dot(a, a)
}
