import type { Scalar } from '../../expression'
import { add } from '../../expression'
import { forceOutOf, rigidOutOf, rigidPlus, rigidTimes, spatialDot } from '../../algebra'
import type { RigidInertia } from '../../algebra'
import { byBody, speedCount } from './tree'
import type { Tree, TreeState } from './tree'

/**
 * Joint-space inertia, n x n: composite rigid bodies, Featherstone, 2008, table 6.2. Entries between branches that do
 * not share a body stay exactly 0.
 */
export function massMatrix(tree: Tree, { q }: Pick<TreeState, 'q'>): Scalar[][] {
  const positions = byBody(tree, 'positions', q)
  const poses = tree.bodies.map(({ joint }, i) => joint.pose(positions[i]!))
  const subspaces = tree.bodies.map(({ joint }, i) => joint.subspace(positions[i]!))
  const composite: RigidInertia[] = tree.bodies.map(({ inertia }) => inertia)
  for (let i = tree.bodies.length - 1; i >= 0; i--) {
    const { parent, place } = tree.bodies[i]!
    if (parent < 0) continue
    composite[parent] = rigidPlus(composite[parent]!, rigidOutOf(place, rigidOutOf(poses[i]!, composite[i]!)))
  }
  const n = speedCount(tree)
  const first = firstSpeeds(tree)
  const m: Scalar[][] = Array.from({ length: n }, () => new Array<Scalar>(n).fill(0))
  tree.bodies.forEach(({ armature }, i) => {
    subspaces[i]!.forEach((column, k) => {
      const row = first[i]! + k
      let force = rigidTimes(composite[i]!, column)
      for (let j = i; j >= 0; j = tree.bodies[j]!.parent) {
        subspaces[j]!.forEach((other, l) => {
          const entry = spatialDot(other, force)
          m[row]![first[j]! + l] = entry
          m[first[j]! + l]![row] = entry
        })
        force = forceOutOf(tree.bodies[j]!.place, forceOutOf(poses[j]!, force))
      }
      m[row]![row] = add(m[row]![row]!, armature?.[k] ?? 0)
    })
  })
  return m
}

/** Index of each body's first speed. */
export function firstSpeeds({ bodies }: Tree): number[] {
  let at = 0
  return bodies.map(({ speeds }) => (at += speeds) - speeds)
}

/** Share of the largest entry below which an inertia left for a speed counts as none. */
const weightlessShare = 1e-12

/** A speed that no inertia resists once the earlier ones are held: a pivot of the factored matrix that vanishes. */
export function weightlessSpeed(m: readonly (readonly number[])[]): number | undefined {
  const a = m.map((row) => [...row])
  for (let j = 0; j < a.length; j++) {
    const pivot = a[j]![j]!
    if (!(pivot > weightlessShare * Math.max(m[j]![j]!, 1e-300))) return j
    for (let i = j + 1; i < a.length; i++) {
      const factor = a[i]![j]! / pivot
      if (factor !== 0) for (let k = j; k < a.length; k++) a[i]![k]! -= factor * a[j]![k]!
    }
  }
  return undefined
}
