import { identity, multiply, norm, solve, transpose } from './matrix'
import type { Matrix } from './matrix'

/** Share of the size of a row below which a direction counts as not there. */
const damping = 1e-11
/** What the damping takes from a direction that is there comes back by solving again for what is left. */
const rounds = 3

/**
 * The shortest x with a x = b, or nearly so where rows contradict one another: aᵀ (a aᵀ + e)⁻¹ b with rows scaled to
 * length 1 and e against rows that say the same, iterated (Golub & Van Loan, Matrix Computations, 4th ed., section 6.1, from
 * memory). `units` are sizes in which entries of x are measured, where they are not alike. `undefined` where an entry is not
 * finite.
 */
export function leastChange(a: Matrix, b: readonly number[], units?: readonly number[]): number[] | undefined {
  const inUnits = units === undefined ? a : a.map((row) => row.map((value, i) => value * units[i]!))
  const sizes = inUnits.map((row) => norm(row) || 1)
  const rows = inUnits.map((row, i) => row.map((value) => value / sizes[i]!))
  const across = transpose(rows, inUnits[0]?.length ?? 0)
  const square = multiply(rows, across).map((row, i) => row.map((value, k) => (i === k ? value + damping : value)))
  const inverse = solve(square, identity(square.length))
  if (inverse === undefined) return undefined
  const wanted = b.map((value, i) => value / sizes[i]!)
  let x = across.map(() => 0)
  for (let round = 0; round < rounds; round++) {
    const reached = along(rows, x)
    const left = wanted.map((value, i) => value - reached[i]!)
    const more = along(across, along(inverse, left))
    x = x.map((value, i) => value + more[i]!)
  }
  const found = units === undefined ? x : x.map((value, i) => value * units[i]!)
  return found.every(Number.isFinite) ? found : undefined
}

function along(a: Matrix, x: readonly number[]): number[] {
  return a.map((row) => row.reduce((sum, value, i) => sum + value * x[i]!, 0))
}
