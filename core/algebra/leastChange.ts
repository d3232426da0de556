import { multiply, norm, solve, transpose } from './matrix'
import type { Matrix } from './matrix'

/** Share of the size of a row below which a direction counts as not there. */
const damping = 1e-11

/**
 * The shortest x with a x = b, or nearly so where rows contradict one another: aᵀ (a aᵀ + e)⁻¹ b with rows scaled to
 * length 1 and e against rows that say the same. `undefined` where an entry is not finite.
 */
export function leastChange(a: Matrix, b: readonly number[]): number[] | undefined {
  const sizes = a.map((row) => norm(row) || 1)
  const rows = a.map((row, i) => row.map((value) => value / sizes[i]!))
  const square = multiply(rows, transpose(rows)).map((row, i) => row.map((value, k) => (i === k ? value + damping : value)))
  const weights = solve(
    square,
    b.map((value, i) => [value / sizes[i]!]),
  )
  if (weights === undefined) return undefined
  const x = multiply(transpose(rows), weights).map(([value]) => value!)
  return x.every(Number.isFinite) ? x : undefined
}
