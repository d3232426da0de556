import { jacobian, neg } from '../../expression'
import type { NumberNode, Scalar } from '../../expression'
import { solveDefinite } from '../../algebra'
import { inverseDynamics } from './inverseDynamics'
import { massMatrix } from './massMatrix'
import type { BodyForces, Tree } from './tree'

/** How accelerations change: n rows, one column a position, speed or effort. */
export interface DynamicsDerivatives {
  readonly byPosition: readonly (readonly Scalar[])[]
  readonly bySpeed: readonly (readonly Scalar[])[]
  readonly byEffort: readonly (readonly Scalar[])[]
}

/**
 * Exact derivatives of forward dynamics at accelerations that are already in memory: -M⁻¹ d(inverse dynamics), which
 * costs a fraction of differentiating forward dynamics itself. Carpentier & Mansard, Robotics: Science and Systems, 2018
 * (from memory). For joints whose positions are the integrals of their speeds.
 */
export function forwardDynamicsDerivatives(
  tree: Tree,
  q: readonly NumberNode[],
  speeds: readonly NumberNode[],
  accelerations: readonly NumberNode[],
  forces: BodyForces = [],
): DynamicsDerivatives {
  const efforts = inverseDynamics(tree, { q, speeds }, accelerations, forces)
  const slots = [...q, ...speeds].map(({ index }) => index)
  const slopes = jacobian(efforts, slots)
  const n = speeds.length
  const columns = solveDefinite(
    massMatrix(tree, { q }),
    slopes.map((row, i) => [...row.map(neg), ...speeds.map((_, j) => (i === j ? 1 : 0))]),
  )
  return {
    byPosition: columns.map((row) => row.slice(0, q.length)),
    bySpeed: columns.map((row) => row.slice(q.length, q.length + n)),
    byEffort: columns.map((row) => row.slice(q.length + n)),
  }
}
