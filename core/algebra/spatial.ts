import { add, mul, sub, neg } from '../expression'
import type { Scalar } from '../expression'
import { applied, cross, dot, plus, rowsPlus, scaled, transposedRows } from './vector'
import type { Rows, Vector } from './vector'

/**
 * Spatial (6-D) vectors after Featherstone, Rigid Body Dynamics Algorithms, 2008, ch. 2: angular part first. A motion is
 * (angular velocity, velocity of the point at the frame's origin), a force (moment about the origin, force).
 */
export interface Spatial {
  readonly angular: Vector
  readonly linear: Vector
}

/** Where a frame `new` lies in a frame `old`: r_old_new turns new coordinates into old ones, p_old_new is in old axes. */
export interface Placement {
  readonly rotation: Rows
  readonly position: Vector
}

export const unrotated: Rows = [
  [1, 0, 0],
  [0, 1, 0],
  [0, 0, 1],
]
export const origin: Vector = [0, 0, 0]
export const atOrigin: Placement = { rotation: unrotated, position: origin }

export function spatialPlus(a: Spatial, b: Spatial): Spatial {
  return { angular: plus(a.angular, b.angular), linear: plus(a.linear, b.linear) }
}

export function spatialScaled(a: Spatial, factor: Scalar): Spatial {
  return { angular: scaled(a.angular, factor), linear: scaled(a.linear, factor) }
}

/** Power of a force along a motion, or any product of the two sorts. */
export function spatialDot(a: Spatial, b: Spatial): Scalar {
  return add(dot(a.angular, b.angular), dot(a.linear, b.linear))
}

/** r_old_newer and p_old_newer from two placements in a row. */
export function composed(first: Placement, then: Placement): Placement {
  return {
    rotation: rowsTimes(first.rotation, then.rotation),
    position: plus(first.position, applied(first.rotation, then.position)),
  }
}

export function rowsTimes(a: Rows, b: Rows): Rows {
  const columns = transposedRows(b)
  return a.map((row) => columns.map((column) => dot(row, column))) as unknown as Rows
}

/** A motion given in the old frame, in the new one. Featherstone (2.24): (E w, E (v - r x w)). */
export function motionInto({ rotation, position }: Placement, { angular, linear }: Spatial): Spatial {
  const back = transposedRows(rotation)
  return { angular: applied(back, angular), linear: applied(back, plus(linear, cross(angular, position))) }
}

/** A force given in the new frame, in the old one: the transpose of `motionInto`. */
export function forceOutOf({ rotation, position }: Placement, { angular, linear }: Spatial): Spatial {
  const force = applied(rotation, linear)
  return { angular: plus(applied(rotation, angular), cross(position, force)), linear: force }
}

/** v x m for two motions, Featherstone (2.31). */
export function crossMotion(v: Spatial, m: Spatial): Spatial {
  return {
    angular: cross(v.angular, m.angular),
    linear: plus(cross(v.angular, m.linear), cross(v.linear, m.angular)),
  }
}

/** v x* f for a motion and a force, Featherstone (2.32). */
export function crossForce(v: Spatial, f: Spatial): Spatial {
  return {
    angular: plus(cross(v.angular, f.angular), cross(v.linear, f.linear)),
    linear: cross(v.angular, f.linear),
  }
}

/** A rigid body's inertia in a frame: mass, first moment (mass times centre) and inertia about the frame's origin. */
export interface RigidInertia {
  readonly mass: Scalar
  readonly moment: Vector
  readonly about: Rows
}

/** Momentum of a rigid body along a motion, Featherstone (2.63). */
export function rigidTimes({ mass, moment, about }: RigidInertia, { angular, linear }: Spatial): Spatial {
  return {
    angular: plus(applied(about, angular), cross(moment, linear)),
    linear: plus(scaled(linear, mass), cross(angular, moment)),
  }
}

export function rigidPlus(a: RigidInertia, b: RigidInertia): RigidInertia {
  return { mass: add(a.mass, b.mass), moment: plus(a.moment, b.moment), about: rowsPlus(a.about, b.about) }
}

/** The same inertia seen from the old frame. */
export function rigidOutOf({ rotation, position }: Placement, { mass, moment, about }: RigidInertia): RigidInertia {
  const turned = applied(rotation, moment)
  const moved = plus(turned, scaled(position, mass))
  // about the old origin: I - p h^ - ... Steiner's theorem for both ends: I' = R I Rᵀ - (p×)(h×) - ((h + m p)×)(p×)
  const first = crossCross(position, turned)
  const second = crossCross(moved, position)
  return {
    mass,
    moment: moved,
    about: symmetric((i, j) => sub(sub(turnedEntry(rotation, about, i, j), first(i, j)), second(i, j))),
  }
}

/** Entry (i, j) of (a×)(b×) = b aᵀ - (a·b) 1. */
function crossCross(a: Vector, b: Vector): (i: Axis, j: Axis) => Scalar {
  const along = dot(a, b)
  return (i, j) => (i === j ? sub(mul(b[i], a[j]), along) : mul(b[i], a[j]))
}

/**
 * Any symmetric spatial inertia, such as an articulated body's: moment = angularBy·α + mixed·a,
 * force = mixedᵀ·α + linearBy·a.
 */
export interface SpatialInertia {
  readonly angularBy: Rows
  readonly mixed: Rows
  readonly linearBy: Rows
}

export function spatialInertia({ mass, moment, about }: RigidInertia): SpatialInertia {
  return { angularBy: about, mixed: crossRows(moment), linearBy: diagonalRows(mass) }
}

export function spatialTimes({ angularBy, mixed, linearBy }: SpatialInertia, { angular, linear }: Spatial): Spatial {
  return {
    angular: plus(applied(angularBy, angular), applied(mixed, linear)),
    linear: plus(applied(transposedRows(mixed), angular), applied(linearBy, linear)),
  }
}

export function inertiaPlus(a: SpatialInertia, b: SpatialInertia): SpatialInertia {
  return {
    angularBy: rowsPlus(a.angularBy, b.angularBy),
    mixed: rowsPlus(a.mixed, b.mixed),
    linearBy: rowsPlus(a.linearBy, b.linearBy),
  }
}

/** Takes u wᵀ away, where u and w are such that the result is symmetric (Featherstone's U D⁻¹ Uᵀ, column by column). */
export function inertiaMinusOuter(a: SpatialInertia, u: Spatial, w: Spatial): SpatialInertia {
  const outer = (x: Vector, y: Vector) => (i: Axis, j: Axis) => mul(x[i], y[j])
  const less = (rows: Rows, of: (i: Axis, j: Axis) => Scalar) => (i: Axis, j: Axis) => sub(rows[i][j], of(i, j))
  return {
    angularBy: symmetric(less(a.angularBy, outer(u.angular, w.angular))),
    mixed: full(less(a.mixed, outer(u.angular, w.linear))),
    linearBy: symmetric(less(a.linearBy, outer(u.linear, w.linear))),
  }
}

/** The same inertia seen from the old frame: Featherstone (2.66), turned first and moved then. */
export function inertiaOutOf({ rotation, position }: Placement, inertia: SpatialInertia): SpatialInertia {
  const linearBy = symmetric((i, j) => turnedEntry(rotation, inertia.linearBy, i, j))
  const mixed = full((i, j) => turnedEntry(rotation, inertia.mixed, i, j))
  // I' = R I Rᵀ - H p× + p× H'ᵀ with H' = H + p× M
  const p = crossRows(position)
  const moved = rowsPlus(mixed, rowsTimes(p, linearBy))
  const left = rowsTimes(mixed, p)
  const right = rowsTimes(p, transposedRows(moved))
  return {
    linearBy,
    mixed: moved,
    angularBy: symmetric((i, j) => add(sub(turnedEntry(rotation, inertia.angularBy, i, j), left[i][j]), right[i][j])),
  }
}

type Axis = 0 | 1 | 2

/** Entry (i, j) of R A Rᵀ. */
function turnedEntry(r: Rows, a: Rows, i: Axis, j: Axis): Scalar {
  return dot(r[i], applied(a, r[j]))
}

/** v×, the matrix of the cross product. */
export function crossRows([x, y, z]: Vector): Rows {
  return [
    [0, neg(z), y],
    [z, 0, neg(x)],
    [neg(y), x, 0],
  ]
}

function diagonalRows(value: Scalar): Rows {
  return [
    [value, 0, 0],
    [0, value, 0],
    [0, 0, value],
  ]
}

function symmetric(entry: (i: Axis, j: Axis) => Scalar): Rows {
  const [xy, xz, yz] = [entry(0, 1), entry(0, 2), entry(1, 2)]
  return [
    [entry(0, 0), xy, xz],
    [xy, entry(1, 1), yz],
    [xz, yz, entry(2, 2)],
  ]
}

function full(entry: (i: Axis, j: Axis) => Scalar): Rows {
  return ([0, 1, 2] as const).map((i) => ([0, 1, 2] as const).map((j) => entry(i, j))) as unknown as Rows
}

/** A turn about a unit axis by an angle whose cosine and sine are given (Rodrigues): R = c 1 + s a× + (1 - c) a aᵀ. */
export function turnAbout(axis: Vector, cosine: Scalar, sine: Scalar): Rows {
  const versine = sub(1, cosine)
  const skew = crossRows(axis)
  return full((i, j) =>
    isUnitAlong(axis, i) && i === j
      ? 1
      : add(i === j ? diagonalTerm(axis[i], cosine, versine) : mul(versine, mul(axis[i], axis[j])), mul(sine, skew[i][j])),
  )
}

function diagonalTerm(component: Scalar, cosine: Scalar, versine: Scalar): Scalar {
  return add(cosine, mul(versine, mul(component, component)))
}

/** Along an axis of the frame the turn leaves that coordinate exactly alone. */
function isUnitAlong(axis: Vector, i: Axis): boolean {
  return axis[i] === 1 || axis[i] === -1
}

/** r_old_new for turns about fixed x, then fixed y, then fixed z (roll, pitch, yaw): Rz Ry Rx. */
export function turnedBy(cosines: Vector, sines: Vector): Rows {
  const about = (axis: Vector, i: Axis) => turnAbout(axis, cosines[i], sines[i])
  return rowsTimes(about([0, 0, 1], 2), rowsTimes(about([0, 1, 0], 1), about([1, 0, 0], 0)))
}
