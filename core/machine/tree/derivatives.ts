import { both, lane, neg, pairedJacobian, replacement } from '../../expression'
import type { Graph, NumberNode, Scalar } from '../../expression'
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
 * Exact derivatives of forward dynamics at the accelerations that it gives: -M⁻¹ d(inverse dynamics), which costs a
 * fraction of differentiating forward dynamics itself. Carpentier & Mansard, Robotics: Science and Systems, 2018 (from
 * memory). `accelerations` may stand in memory, or be the expressions of forward dynamics: computed in one block, both
 * share their sines, poses and velocities. Columns go in pairs, a position with its speed: computed and stored column by
 * column, they are fastest. For joints whose positions are the integrals of their speeds.
 */
export function forwardDynamicsDerivatives(
  tree: Tree,
  q: readonly NumberNode[],
  speeds: readonly NumberNode[],
  accelerations: readonly Scalar[],
  forces: BodyForces = [],
): DynamicsDerivatives {
  const n = speeds.length
  const { graph } = speeds[0]!
  const given = accelerations.map((_, i) => graph.slot(-1 - i)) // held while positions and speeds vary
  const efforts = inverseDynamics(tree, { q, speeds }, given, forces)
  const slopes = pairedJacobian(
    graph,
    efforts,
    speeds.map((speed, j) => [q[j]!.index, speed.index]),
  )
  const columns = solveDefinite(
    massMatrix(tree, { q }),
    slopes.map((row, i) => [...row.map(neg), ...pairedUnits(graph, i, n)]),
  )
  const reached = replacement(graph, new Map(given.map((slot, i) => [slot, accelerations[i]!])))
  const entries = (first: number, which: (j: number) => 0 | 1) =>
    columns.map((row) => speeds.map((_, j) => reached.number(lane(row[first === 0 ? j : n + (j >> 1)]!, which(j)))))
  return {
    byPosition: entries(0, () => 0),
    bySpeed: entries(0, () => 1),
    byEffort: entries(n, (j) => (j % 2) as 0 | 1),
  }
}

/** Row i of the unit matrix of n rows, two columns in one. */
function pairedUnits(graph: Graph, i: number, n: number): Scalar[] {
  const unit = (j: number) => (i === j ? 1 : 0)
  return Array.from({ length: Math.ceil(n / 2) }, (_, pair) => both(graph, unit(2 * pair), unit(2 * pair + 1)))
}
