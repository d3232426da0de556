import { add, mul, sub, sum } from '../expression'
import type { Scalar } from '../expression'
import { scalarProduct, scalarTranspose, solveDefinite } from '../algebra'
import { partsIn } from '../document'
import type { Part } from '../document'
import { assemble, bodyPoses, chainRowsOf, closeChains, numbersOf } from '../machine'
import type { Read } from '../machine'

/** The joints of closed chains that follow from those that are held. */
export interface Linkage {
  /** Their positions and speeds among the machine's positions and speeds. */
  readonly dependents: readonly { readonly name: string; readonly position: number; readonly speed: number }[]
  /** Equations of the chains that say something new. */
  readonly kept: readonly number[]
}

/** What the chains leave no room for, in words. */
export interface Stuck {
  readonly what: string
}

/** A pivot below this share of the largest is no pivot. */
const leastPivot = 1e-6
/** Newton's steps a sample: the pose has hardly moved since the one before. */
const steps = 2

/** Which joints follow at a pose; nothing where the machine has no closed chains. */
export function linkageOf(
  machine: Part,
  pose: Readonly<Record<string, number>>,
  held: readonly string[],
): Linkage | Stuck | undefined {
  if (Object.keys(partsIn(machine.chains)).length === 0) return undefined
  const read = numbersOf(machine)
  const assembly = assemble(machine, read)
  const closure = closeChains(machine)
  if (closure.kind === 'open') return { what: 'Its chains do not close at rest.' }
  const { kept } = closure
  const q = assembly.positions.map(({ name }, i) => pose[name] ?? assembly.start[i]!)
  const state = { q, speeds: assembly.speeds.map(() => 0) }
  const rows = chainRowsOf(machine, read, assembly, state, bodyPoses(assembly.tree, q))
  let left = kept.map((row) => rows[row]!.jacobian as readonly number[])
  const candidates = assembly.positions.flatMap(({ name }, position) => {
    const speed = assembly.pairs[position]!
    return held.includes(name) || speed < 0 ? [] : [{ name, position, speed }]
  })
  // the column that says most, then the one that says most of what is left: elimination with full choice of pivots
  const dependents: (typeof candidates)[number][] = []
  let first = 0
  while (left.length > 0) {
    let best = { row: 0, candidate: candidates[0], size: 0 }
    left.forEach((entries, row) => {
      for (const candidate of candidates) {
        const size = Math.abs(entries[candidate.speed]!)
        if (!dependents.includes(candidate) && size > best.size) best = { row, candidate, size }
      }
    })
    first ||= best.size
    if (best.candidate === undefined || !(best.size > leastPivot * first))
      return { what: 'What its loops hold leaves its closed chains no way to move.' }
    const own = left[best.row]!
    const { speed } = best.candidate
    dependents.push(best.candidate)
    left = left
      .filter((_, i) => i !== best.row)
      .map((entries) => entries.map((value, j) => value - (entries[speed]! / own[speed]!) * own[j]!))
  }
  return { dependents, kept }
}

/** The chains' equations at a pose: gaps, and their derivatives by all speeds. */
function rowsAt(machine: Part, read: Read, { kept }: Linkage, q: readonly Scalar[]) {
  const assembly = assemble(machine, read)
  const speeds = assembly.speeds.map(() => 0)
  const rows = chainRowsOf(machine, read, assembly, { q, speeds }, bodyPoses(assembly.tree, q))
  return kept.map((row) => rows[row]!)
}

/** Solves the dependents' share of J v = wanted. */
function solvedFor(
  { dependents }: Linkage,
  jacobians: readonly (readonly Scalar[])[],
  wanted: readonly Scalar[],
): readonly Scalar[] {
  const own = jacobians.map((row) => dependents.map(({ speed }) => row[speed]!))
  const across = scalarTranspose(own)
  const right = scalarProduct(
    across,
    wanted.map((value) => [value]),
  )
  return solveDefinite(scalarProduct(across, own), right).map(([value]) => value!)
}

/** Positions of the dependents nearer to closing the chains, from where they were a sample ago. `q` are all positions. */
export function closedFurther(machine: Part, read: Read, linkage: Linkage, q: readonly Scalar[]): readonly Scalar[] {
  const now = [...q]
  for (let k = 0; k < steps; k++) {
    const rows = rowsAt(machine, read, linkage, now)
    const change = solvedFor(
      linkage,
      rows.map(({ jacobian }) => jacobian),
      rows.map(({ gap }) => sub(0, gap)),
    )
    linkage.dependents.forEach(({ position }, i) => (now[position] = add(now[position]!, change[i]!)))
  }
  return linkage.dependents.map(({ position }) => now[position]!)
}

/** Speeds of the dependents that keep the chains closed. */
export function closedSpeeds(
  machine: Part,
  read: Read,
  linkage: Linkage,
  q: readonly Scalar[],
  speeds: readonly Scalar[],
): readonly Scalar[] {
  const rows = rowsAt(machine, read, linkage, q)
  const free = speeds.map((value, i) => (linkage.dependents.some(({ speed }) => speed === i) ? 0 : value))
  return solvedFor(
    linkage,
    rows.map(({ jacobian }) => jacobian),
    rows.map(({ jacobian }) => sub(0, sum(jacobian.map((entry, i) => mul(entry, free[i]!))))),
  )
}
