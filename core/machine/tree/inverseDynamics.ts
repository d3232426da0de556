import { add, mul, sub } from '../../expression'
import type { Scalar } from '../../expression'
import { crossForce, forceOutOf, origin, rigidTimes, scaled, spatialDot, spatialPlus, spatialScaled } from '../../algebra'
import type { Spatial } from '../../algebra'
import { combined, intoBody, motionOf } from './motion'
import { byBody } from './tree'
import type { BodyForces, Tree, TreeState } from './tree'

/**
 * Efforts of the joints (N or N·m, one a speed) that give accelerations: recursive Newton-Euler, Featherstone, 2008,
 * table 5.1. `forces` act on bodies from outside.
 */
export function inverseDynamics(
  tree: Tree,
  state: TreeState,
  accelerations: readonly Scalar[],
  forces: BodyForces = [],
): Scalar[] {
  const moved = motionOf(tree, state)
  const own = byBody(tree, 'speeds', accelerations)
  const raised: Spatial = { angular: origin, linear: scaled(tree.gravity, -1) }
  const acceleration: Spatial[] = []
  const force: Spatial[] = []
  tree.bodies.forEach(({ parent, place, inertia }, i) => {
    const { pose, subspace, velocity, bias } = moved[i]!
    const carried = intoBody(place, pose, parent < 0 ? raised : acceleration[parent]!)
    const a = spatialPlus(spatialPlus(carried, bias), combined(subspace, own[i]!))
    acceleration.push(a)
    const needed = spatialPlus(rigidTimes(inertia, a), crossForce(velocity, rigidTimes(inertia, velocity)))
    force.push(withoutForce(needed, forces[i]))
  })
  const efforts: Scalar[][] = tree.bodies.map(() => [])
  for (let i = tree.bodies.length - 1; i >= 0; i--) {
    const { parent, place, armature } = tree.bodies[i]!
    const { pose, subspace } = moved[i]!
    efforts[i] = subspace.map((column, k) => add(spatialDot(column, force[i]!), mul(armature?.[k] ?? 0, own[i]![k]!)))
    if (parent >= 0) force[parent] = spatialPlus(force[parent]!, forceOutOf(place, forceOutOf(pose, force[i]!)))
  }
  return efforts.flat()
}

/** Efforts at zero acceleration: gravity, centrifugal and Coriolis, less what the outer forces give. */
export function biasEfforts(tree: Tree, state: TreeState, forces: BodyForces = []): Scalar[] {
  return inverseDynamics(
    tree,
    state,
    state.speeds.map(() => 0),
    forces,
  )
}

export function withoutForce(needed: Spatial, force: Spatial | undefined): Spatial {
  return force === undefined ? needed : spatialPlus(needed, spatialScaled(force, -1))
}

/** tau - bias. */
export function effortsLeft(efforts: readonly Scalar[], bias: readonly Scalar[]): Scalar[] {
  return efforts.map((effort, i) => sub(effort, bias[i]!))
}
