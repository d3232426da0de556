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

/** The point of a simplex of up to four points that is nearest to the origin, with the corners that hold it; the last is the newest. */
function nearestOf(points: readonly Point[]): { readonly point: Point; readonly simplex: Point[] } {
  const newest = points.at(-1)!
  let [point, least] = [newest, square(newest)]
  let simplex: Point[] = [newest]
  const take = (found: Point | undefined, ...corners: Point[]) => {
    if (found === undefined || square(found) >= least) return
    ;[point, least, simplex] = [found, square(found), corners]
  }
  // what does not hold the newest corner was looked at before it came
  const others = points.length - 1
  for (let i = 0; i < others; i++) {
    const one = points[i]!
    take(onEdge(newest, one), one, newest)
    for (let j = 0; j < i; j++) {
      const two = points[j]!
      take(onFace(newest, one, two), two, one, newest)
      for (let k = 0; k < j; k++) if (isInside(newest, one, two, points[k]!)) return { point: [0, 0, 0], simplex: [...points] }
    }
  }
  return { point, simplex }
}

/** The foot of the origin on the line of two corners, where it lies between them. */
function onEdge(a: Point, b: Point): Point | undefined {
  const edge = minus(b, a)
  const along = square(edge)
  const share = -dot(a, edge) / along
  return along > 0 && share > 0 && share < 1 ? plus(a, times(edge, share)) : undefined
}

/** The foot of the origin on the plane of three corners, where it lies between them. */
function onFace(a: Point, b: Point, c: Point): Point | undefined {
  const [e, f] = [minus(b, a), minus(c, a)]
  const [ee, ef, ff] = [square(e), dot(e, f), square(f)]
  const [ae, af] = [-dot(a, e), -dot(a, f)]
  const area = ee * ff - ef * ef
  if (area <= flat * ee * ff) return undefined
  const [s, t] = [(ae * ff - af * ef) / area, (af * ee - ae * ef) / area]
  return s > 0 && t > 0 && s + t < 1 ? plus(a, plus(times(e, s), times(f, t))) : undefined
}

/** Whether the origin lies between four corners. */
function isInside(a: Point, b: Point, c: Point, d: Point): boolean {
  const [e, f, g] = [minus(b, a), minus(c, a), minus(d, a)]
  const volume = dot(e, cross(f, g))
  if (Math.abs(volume) <= flat * Math.sqrt(square(e) * square(f) * square(g))) return false
  const [s, t, u] = [-dot(a, cross(f, g)) / volume, -dot(a, cross(g, e)) / volume, -dot(a, cross(e, f)) / volume]
  return s >= 0 && t >= 0 && u >= 0 && s + t + u <= 1
}

/** Faces and corners flatter than this, as a share of what they could be, are told by their edges. */
const flat = 1e-13

function cross(a: Point, b: Point): Point {
  return [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]]
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
