import { leastChange, norm } from '../algebra'
import { sin } from '../expression'
import type { Part } from '../document'
import { assemble } from './assemble'
import type { Assembly } from './assemble'
import { chainRowsOf } from './mechanismMotion'
import type { NamedRow } from './mechanismMotion'
import { numbersOf } from './numbers'
import { bodyPoses, positionCount, positionRates } from './tree'

export type Closure =
  | {
      readonly kind: 'closed'
      /** Positions near those of the start, with every chain closed. */
      readonly q: readonly number[]
      /** Rows that say something new; the others follow from them. */
      readonly kept: readonly number[]
      readonly redundant: number
      readonly freedoms: number
      /** Largest gap left, m or rad. */
      readonly gap: number
    }
  /** The chains close neither from here nor from other starts: the smallest gap that was reached, and whose it is. */
  | { readonly kind: 'open'; readonly gap: number; readonly chain: string; readonly unit: string }

const closedGap = 1e-11 // m or rad: far below what any chain's maker could measure
const mostSteps = 200
/** Steps without a tenth less of a gap after which Newton's steps have stalled. */
const patience = 25
/** Where else to begin when the chains do not close from where the joints start: ever farther away. */
const otherStarts = 30
/** Share of a row that must stand out from the rows before it to count as new. */
const newShare = 1e-7

/** Closes the chains of a mechanism by Newton's steps of least change, and finds which of their equations are independent. */
export function closeChains(machine: Part, start?: readonly number[]): Closure {
  const { assembly, rowsAt } = chainsOf(machine)
  const n = assembly.speeds.length
  const given = [...(start ?? assembly.start)]
  let first = closedFrom(assembly, rowsAt, given)
  for (let k = 1; k <= otherStarts && first.gap > closedGap; k++) {
    const away = assembly.speeds.map((_, i) => 3 * (k / otherStarts) * sin(1.7 * k + 2.3 * i * k + i))
    const next = closedFrom(assembly, rowsAt, moved(assembly, given, away))
    if (next.gap < first.gap) first = next
  }
  if (first.gap > closedGap) {
    const { chain, unit } = rowsAt(first.q)[first.row]!
    return { kind: 'open', gap: first.gap, chain, unit }
  }
  // a second pose a little further on: rows may say the same in one pose only
  const nudge = assembly.speeds.map((_, i) => 0.05 * sin(2.3 * i + 1))
  const second = closedFrom(assembly, rowsAt, moved(assembly, first.q, nudge))
  const poses = second.gap > closedGap ? [first.q] : [first.q, second.q]
  const kept = independentRows(poses.map((q) => rowsAt(q).map(({ jacobian }) => jacobian as readonly number[])))
  return {
    kind: 'closed',
    q: first.q,
    kept,
    redundant: rowsAt(first.q).length - kept.length,
    freedoms: n - kept.length,
    gap: first.gap,
  }
}

/**
 * A pose with its chains closed, reached by moving everything but the held coordinates. `undefined` where the held ones
 * leave no way to close them.
 */
export function closedPose(machine: Part, q: readonly number[], held: readonly string[]): readonly number[] | undefined {
  return poseCloser(machine, held)(q)
}

/** The same for many poses of one machine. */
export function poseCloser(machine: Part, held: readonly string[]): (q: readonly number[]) => readonly number[] | undefined {
  const { assembly, rowsAt } = chainsOf(machine)
  const fixed = held.map((name) => assembly.pairs[assembly.positions.findIndex((one) => one.name === name)] ?? -1)
  return (q) => {
    const found = closedFrom(assembly, rowsAt, q, fixed)
    return found.gap > closedGap ? undefined : found.q
  }
}

function chainsOf(machine: Part): { assembly: Assembly; rowsAt: (q: readonly number[]) => NamedRow[] } {
  const read = numbersOf(machine)
  const assembly = assemble(machine, read)
  const none = assembly.speeds.map(() => 0)
  const rowsAt = (q: readonly number[]) => chainRowsOf(machine, read, assembly, { q, speeds: none }, bodyPoses(assembly.tree, q))
  return { assembly, rowsAt }
}

function closedFrom(
  assembly: Assembly,
  rowsAt: (q: readonly number[]) => NamedRow[],
  start: readonly number[],
  held: readonly number[] = [],
): { q: number[]; gap: number; row: number } {
  let q = [...start]
  let best = { q, gap: Infinity, row: 0 }
  let stalled = { gap: Infinity, step: 0 }
  for (let step = 0; step < mostSteps; step++) {
    const rows = rowsAt(q)
    const gaps = rows.map(({ gap }) => gap as number)
    const gap = Math.max(0, ...gaps.map(Math.abs))
    if (gap < best.gap) best = { q, gap, row: gaps.findIndex((one) => Math.abs(one) === gap) }
    if (gap < 0.9 * stalled.gap) stalled = { gap, step }
    if (gap < 1e-14 || rows.length === 0 || step > stalled.step + patience) break
    const j = rows.map(({ jacobian }) => jacobian.map((entry, i) => (held.includes(i) ? 0 : (entry as number))))
    const change = leastChange(
      j,
      gaps.map((one) => -one),
    )
    if (change === undefined) break
    const size = Math.max(...change.map(Math.abs))
    q = moved(
      assembly,
      q,
      change.map((value) => value * Math.min(1, 0.5 / size)),
    ) // at most half a radian or metre at once
  }
  return best.gap === Infinity ? { q, gap: 0, row: 0 } : best
}

/** Positions after a small motion with the given speeds over one second. */
export function moved(assembly: Assembly, q: readonly number[], speeds: readonly number[]): number[] {
  const rates = positionRates(assembly.tree, { q, speeds }) as number[]
  const next = q.map((value, i) => value + rates[i]!)
  return unitQuaternions(assembly, next)
}

/** Quaternions drift off their sphere when they are stepped: back to length 1. */
export function unitQuaternions({ tree, positions }: Assembly, q: readonly number[]): number[] {
  const next = [...q]
  for (let i = 0; i + 3 < positionCount(tree); i++) {
    if (!/(^|\.)w$/.test(positions[i]!.name)) continue
    const length = norm(next.slice(i, i + 4))
    for (let k = 0; k < 4; k++) next[i + k]! /= length
  }
  return next
}

function independentRows(poses: readonly (readonly (readonly number[])[])[]): number[] {
  const bases: number[][][] = poses.map(() => [])
  const kept: number[] = []
  for (let row = 0; row < (poses[0]?.length ?? 0); row++) {
    const directions = poses.map((rows, p) => outside(bases[p]!, rows[row]!))
    if (directions.every((direction) => direction === undefined)) continue
    kept.push(row)
    directions.forEach((direction, p) => direction !== undefined && bases[p]!.push(direction))
  }
  return kept
}

/** The part of a row outside the span of unit rows, as a unit row; nothing where there is none. */
function outside(basis: readonly number[][], row: readonly number[]): number[] | undefined {
  const length = norm(row)
  if (length < 1e-12) return undefined
  let rest = [...row]
  for (let pass = 0; pass < 2; pass++) {
    for (const direction of basis) {
      const along = direction.reduce((sum, value, i) => sum + value * rest[i]!, 0)
      rest = rest.map((value, i) => value - along * direction[i]!)
    }
  }
  const left = norm(rest)
  return left > newShare * length ? rest.map((value) => value / left) : undefined
}
