import { add, sub } from '../../expression'
import type { Scalar } from '../../expression'
import {
  crossForce,
  forceOutOf,
  inertiaMinusOuter,
  inertiaOutOf,
  inertiaPlus,
  origin,
  rigidTimes,
  scaled,
  solveDefinite,
  spatialDot,
  spatialInertia,
  spatialPlus,
  spatialTimes,
} from '../../algebra'
import type { Spatial, SpatialInertia } from '../../algebra'
import { withoutForce } from './inverseDynamics'
import { combined, intoBody, motionOf } from './motion'
import { byBody } from './tree'
import type { BodyForces, Tree, TreeState } from './tree'

/**
 * Accelerations that efforts give: articulated bodies, Featherstone, 2008, table 7.1, in its letters. Joints without
 * freedom pass inertia and force on as they are.
 */
export function forwardDynamics(tree: Tree, state: TreeState, efforts: readonly Scalar[], forces: BodyForces = []): Scalar[] {
  const moved = motionOf(tree, state)
  const tau = byBody(tree, 'speeds', efforts)
  const articulated: SpatialInertia[] = tree.bodies.map(({ inertia }) => spatialInertia(inertia))
  const p: Spatial[] = tree.bodies.map(({ inertia }, i) => {
    const { velocity } = moved[i]!
    return withoutForce(crossForce(velocity, rigidTimes(inertia, velocity)), forces[i])
  })
  const solvedBodies: Solved[] = []
  for (let i = tree.bodies.length - 1; i >= 0; i--) {
    const { parent, place, armature } = tree.bodies[i]!
    const { pose, subspace, bias } = moved[i]!
    // what hangs on ground passes nothing on: its joint is solved once, for all that acts on it
    if (parent < 0) continue
    const solved = solveJoint(articulated[i]!, subspace, tau[i]!, p[i]!, armature)
    solvedBodies[i] = solved
    const rest = solved.columns.reduce((left, { u, w }) => inertiaMinusOuter(left, u, w), articulated[i]!)
    const carried = spatialPlus(spatialPlus(p[i]!, spatialTimes(rest, bias)), combined(solved.us, solved.free))
    articulated[parent] = inertiaPlus(articulated[parent]!, inertiaOutOf(place, inertiaOutOf(pose, rest)))
    p[parent] = spatialPlus(p[parent]!, forceOutOf(place, forceOutOf(pose, carried)))
  }
  const raised: Spatial = { angular: origin, linear: scaled(tree.gravity, -1) }
  const a: Spatial[] = []
  return tree.bodies.flatMap(({ parent, place, armature }, i) => {
    const { pose, subspace, bias } = moved[i]!
    const before = spatialPlus(intoBody(place, pose, parent < 0 ? raised : a[parent]!), bias)
    const solved = solvedBodies[i]
    const accelerations =
      solved === undefined
        ? solveRoot(articulated[i]!, subspace, tau[i]!, spatialPlus(p[i]!, spatialTimes(articulated[i]!, before)), armature)
        : solved.free.map((value, k) => sub(value, spatialDot(solved.columns[k]!.w, before)))
    a.push(spatialPlus(before, combined(subspace, accelerations)))
    return accelerations
  })
}

interface Solved {
  /** U = I S by column, and U D⁻¹. */
  readonly columns: readonly { readonly u: Spatial; readonly w: Spatial }[]
  readonly us: readonly Spatial[]
  /** D⁻¹ (tau - Sᵀ p): the acceleration without any motion of the parent. */
  readonly free: readonly Scalar[]
}

/** D q'' = tau - Sᵀ (p + I a): accelerations of a joint on ground, `p` with what acts on the body where the joint stands still. */
function solveRoot(
  inertia: SpatialInertia,
  subspace: readonly Spatial[],
  tau: readonly Scalar[],
  p: Spatial,
  armature: readonly Scalar[] = [],
): Scalar[] {
  const wanted = subspace.map((column, k) => [sub(tau[k]!, spatialDot(column, p))])
  return solvedLast(ownInertia(inertia, subspace, armature).d, wanted).map(([value]) => value!)
}

/**
 * D⁻¹ times columns, last speeds first: those of a body that is free are its linear ones, between which D is a mass alone, so
 * that most of what would be multiplied is 0.
 */
function solvedLast(d: readonly (readonly Scalar[])[], columns: readonly (readonly Scalar[])[]): (readonly Scalar[])[] {
  if (columns.length === 0) return []
  const turned = [...d].reverse().map((row) => [...row].reverse())
  return [...solveDefinite(turned, [...columns].reverse())].reverse()
}

/** U = I S by column, and D = Sᵀ U with what rotors geared to the joint add. */
function ownInertia(inertia: SpatialInertia, subspace: readonly Spatial[], armature: readonly Scalar[]) {
  const us = subspace.map((column) => spatialTimes(inertia, column))
  return { us, d: subspace.map((row, k) => us.map((u, l) => add(spatialDot(row, u), k === l ? (armature[k] ?? 0) : 0))) }
}

function solveJoint(
  inertia: SpatialInertia,
  subspace: readonly Spatial[],
  tau: readonly Scalar[],
  p: Spatial,
  armature: readonly Scalar[] = [],
): Solved {
  const { us, d } = ownInertia(inertia, subspace, armature)
  const wanted = subspace.map((column, k) => sub(tau[k]!, spatialDot(column, p)))
  const flat = us.map(({ angular, linear }, k) => [...angular, ...linear, wanted[k]!])
  const solved = solvedLast(d, flat)
  const columns = us.map((u, k) => {
    const [ax, ay, az, lx, ly, lz] = solved[k] as [Scalar, Scalar, Scalar, Scalar, Scalar, Scalar]
    return { u, w: { angular: [ax, ay, az], linear: [lx, ly, lz] } as Spatial }
  })
  return { columns, us, free: solved.map((row) => row[6]!) }
}
