import { motionInto, origin, spatialPlus, spatialScaled, crossMotion } from '../../algebra'
import type { Placement, Spatial } from '../../algebra'
import type { Scalar } from '../../expression'
import { byBody } from './tree'
import type { Tree, TreeState } from './tree'

/** One body's motion in its own axes. */
export interface BodyMotion {
  readonly pose: Placement
  readonly subspace: readonly Spatial[]
  readonly velocity: Spatial
  /** Acceleration at zero change of the speeds, less what comes from the parent. */
  readonly bias: Spatial
}

export const still: Spatial = { angular: origin, linear: origin }

/** Velocities outward from ground: v_i = X v_parent + S q', c_i = S' q' + v_i x S q' (Featherstone, table 7.1, first loop). */
export function motionOf(tree: Tree, { q, speeds }: TreeState): BodyMotion[] {
  const [positions, rates] = [byBody(tree, 'positions', q), byBody(tree, 'speeds', speeds)]
  const done: BodyMotion[] = []
  tree.bodies.forEach((body, i) => {
    const pose = body.joint.pose(positions[i]!)
    const subspace = body.joint.subspace(positions[i]!)
    const own = combined(subspace, rates[i]!)
    const carried = body.parent < 0 ? still : intoBody(body.place, pose, done[body.parent]!.velocity)
    const velocity = spatialPlus(carried, own)
    // v x v is nothing: what hangs on ground has only its own motion
    const turning = body.parent < 0 ? still : crossMotion(velocity, own)
    const bias = body.joint.bias?.(positions[i]!, rates[i]!)
    done.push({ pose, subspace, velocity, bias: bias === undefined ? turning : spatialPlus(bias, turning) })
  })
  return done
}

/** Accelerations of the bodies, in their own axes, at zero change of the speeds and without gravity. */
export function biasAccelerations(tree: Tree, moved: readonly BodyMotion[]): Spatial[] {
  return bodyAccelerations(tree, moved, undefined)
}

/** The same for given changes of the speeds. */
export function bodyAccelerations(
  tree: Tree,
  moved: readonly BodyMotion[],
  accelerations: readonly Scalar[] | undefined,
): Spatial[] {
  const own = accelerations === undefined ? undefined : byBody(tree, 'speeds', accelerations)
  const done: Spatial[] = []
  tree.bodies.forEach(({ parent, place }, i) => {
    const { pose, bias, subspace } = moved[i]!
    const added = own === undefined ? bias : spatialPlus(bias, combined(subspace, own[i]!))
    done.push(parent < 0 ? added : spatialPlus(intoBody(place, pose, done[parent]!), added))
  })
  return done
}

/** Sum of S_k times its factor. */
export function combined(subspace: readonly Spatial[], factors: readonly Scalar[]): Spatial {
  return subspace.map((column, k) => spatialScaled(column, factors[k]!)).reduce(spatialPlus, still)
}

/** A motion of the parent seen from the body, through the joint's place and pose one after the other: both are sparse. */
export function intoBody(place: Placement, pose: Placement, motion: Spatial): Spatial {
  return motionInto(pose, motionInto(place, motion))
}
