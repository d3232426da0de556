import { sqrt } from '../expression'

/** Eigenvalues of a symmetric matrix with their unit vectors as columns. */
export interface PrincipalAxes {
  readonly values: readonly number[]
  /** vectors[i][k]: component i of the k-th vector; a rotation, so right-handed. */
  readonly vectors: readonly (readonly number[])[]
}

const mostSweeps = 40

/**
 * Principal values and axes of a symmetric 3 x 3 matrix by Jacobi's rotations.
 * Golub & Van Loan, Matrix Computations, 4th ed., algorithm 8.5.2 (from memory).
 */
export function principalAxes(matrix: readonly (readonly number[])[]): PrincipalAxes {
  const a = matrix.map((row) => [...row])
  const v = [
    [1, 0, 0],
    [0, 1, 0],
    [0, 0, 1],
  ]
  for (let sweep = 0; sweep < mostSweeps; sweep++) {
    for (const [p, q] of [
      [0, 1],
      [0, 2],
      [1, 2],
    ] as const) {
      const off = a[p]![q]!
      if (off === 0) continue
      const tau = (a[q]![q]! - a[p]![p]!) / (2 * off)
      const t = (tau >= 0 ? 1 : -1) / (Math.abs(tau) + (sqrt(1 + tau * tau) as number))
      const c = 1 / (sqrt(1 + t * t) as number)
      rotate(a, v, p, q, c, t * c)
    }
    if (Math.abs(a[0]![1]!) + Math.abs(a[0]![2]!) + Math.abs(a[1]![2]!) === 0) break
  }
  return { values: [a[0]![0]!, a[1]![1]!, a[2]![2]!], vectors: v }
}

/** a becomes Jᵀ a J and v becomes v J for the rotation of p and q. */
function rotate(a: number[][], v: number[][], p: number, q: number, c: number, s: number): void {
  for (let i = 0; i < 3; i++) {
    const [x, y] = [a[i]![p]!, a[i]![q]!]
    a[i]![p] = c * x - s * y
    a[i]![q] = s * x + c * y
  }
  for (let i = 0; i < 3; i++) {
    const [x, y] = [a[p]![i]!, a[q]![i]!]
    a[p]![i] = c * x - s * y
    a[q]![i] = s * x + c * y
  }
  a[p]![q] = 0
  a[q]![p] = 0
  for (let i = 0; i < 3; i++) {
    const [x, y] = [v[i]![p]!, v[i]![q]!]
    v[i]![p] = c * x - s * y
    v[i]![q] = s * x + c * y
  }
}
