import { add, mul, square, sum } from '../../expression'
import type { Scalar } from '../../expression'
import {
  applied,
  atOrigin,
  composed,
  cross,
  dividedBy,
  dot,
  forceOutOf,
  minus,
  plus,
  rigidTimes,
  scaled,
  spatialDot,
  spatialPlus,
} from '../../algebra'
import type { Placement, Spatial, Vector } from '../../algebra'
import { motionOf, still } from './motion'
import { firstSpeeds } from './massMatrix'
import { byBody, speedCount } from './tree'
import type { Tree, TreeState } from './tree'

/** r_world_body and p_world_body of every body. */
export function bodyPoses(tree: Tree, q: readonly Scalar[]): Placement[] {
  const positions = byBody(tree, 'positions', q)
  const done: Placement[] = []
  tree.bodies.forEach(({ parent, place, joint }, i) => {
    const near = composed(parent < 0 ? atOrigin : done[parent]!, place)
    done.push(composed(near, joint.pose(positions[i]!)))
  })
  return done
}

/** One column a speed: (angular, linear) velocity in world axes of the point of `body` that lies at `point`, world. */
export function pointJacobian(
  tree: Tree,
  q: readonly Scalar[],
  body: number,
  point: Vector,
  poses = bodyPoses(tree, q),
): Spatial[] {
  const columns = new Array<Spatial>(speedCount(tree)).fill(still)
  const positions = byBody(tree, 'positions', q)
  const first = firstSpeeds(tree)
  for (let i = body; i >= 0; i = tree.bodies[i]!.parent) {
    const { rotation, position } = poses[i]!
    tree.bodies[i]!.joint.subspace(positions[i]!).forEach((column, k) => {
      const angular = applied(rotation, column.angular)
      const linear = plus(applied(rotation, column.linear), cross(angular, minus(point, position)))
      columns[first[i]! + k] = { angular, linear }
    })
  }
  return columns
}

/** Total mass and centre of mass in world axes, with what is fixed to ground. */
export function massAndCentre(tree: Tree, poses: readonly Placement[]): { mass: Scalar; centre: Vector } {
  const mass = tree.bodies.reduce<Scalar>((total, { inertia }) => add(total, inertia.mass), tree.fixed?.mass ?? 0)
  const moment = tree.bodies.reduce<Vector>((total, { inertia }, i) => {
    const { rotation, position } = poses[i]!
    return plus(total, plus(applied(rotation, inertia.moment), scaled(position, inertia.mass)))
  }, tree.fixed?.moment ?? still.linear)
  return { mass, centre: dividedBy(moment, mass) }
}

/** Kinetic energy, and potential energy in uniform gravity, 0 at the world's origin, J. */
export function energies(tree: Tree, state: TreeState): { kinetic: Scalar; potential: Scalar } {
  const moved = motionOf(tree, state)
  const poses = bodyPoses(tree, state.q)
  const twice = tree.bodies.reduce<Scalar>(
    (total, { inertia }, i) => add(total, spatialDot(moved[i]!.velocity, rigidTimes(inertia, moved[i]!.velocity))),
    0,
  )
  const rates = byBody(tree, 'speeds', state.speeds)
  const geared = sum(tree.bodies.flatMap(({ armature = [] }, i) => armature.map((one, k) => mul(one, square(rates[i]![k]!)))))
  const { mass, centre } = massAndCentre(tree, poses)
  return { kinetic: mul(0.5, add(twice, geared)), potential: mul(-1, mul(mass, dot(tree.gravity, centre))) }
}

/** Momentum about the world's origin, in world axes. */
export function momentum(tree: Tree, state: TreeState): Spatial {
  const moved = motionOf(tree, state)
  const poses = bodyPoses(tree, state.q)
  return tree.bodies.reduce<Spatial>(
    (total, { inertia }, i) => spatialPlus(total, forceOutOf(poses[i]!, rigidTimes(inertia, moved[i]!.velocity))),
    still,
  )
}

/** Time derivatives of all positions. */
export function positionRates(tree: Tree, { q, speeds }: TreeState): Scalar[] {
  const [positions, rates] = [byBody(tree, 'positions', q), byBody(tree, 'speeds', speeds)]
  return tree.bodies.flatMap(({ joint }, i) => joint.rates(positions[i]!, rates[i]!))
}
