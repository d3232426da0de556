import { identity, norm, transpose, zeros } from './matrix'
import type { Matrix } from './matrix'

/** a = u diag(values) vᵀ with values falling; u has one column a value, v is square and orthogonal. */
export interface SingularValues {
  readonly values: readonly number[]
  readonly u: Matrix
  readonly v: Matrix
}

const mostSweeps = 60
/** Columns whose cosine is below count as orthogonal. */
const orthogonal = 1e-15

/**
 * Singular values of an m x n matrix by one-sided Jacobi rotations of its columns: small values keep their digits. There
 * are n of them, so of a wide matrix the last n - m are 0 and the last columns of v span its null space.
 * Golub & Van Loan, Matrix Computations, 4th ed., section 8.6.3 (from memory).
 */
export function singularValues(a: Matrix, columns = a[0]?.length ?? 0): SingularValues {
  const w = transpose(a, columns)
  const v = identity(columns)
  for (let sweep = 0, turned = true; turned && sweep < mostSweeps; sweep++) {
    turned = false
    for (let p = 0; p < columns; p++) for (let q = p + 1; q < columns; q++) if (orthogonalized(w, v, p, q)) turned = true
  }
  const order = w.map((column, i) => ({ i, size: norm(column) })).sort((x, y) => y.size - x.size)
  const rows = a.length
  const u = zeros(rows, columns)
  order.forEach(({ i, size }, k) => w[i]!.forEach((value, row) => (u[row]![k] = size > 0 ? value / size : 0)))
  return { values: order.map(({ size }) => size), u, v: transpose(order.map(({ i }) => v[i]!)) }
}

/** Turns columns p and q (rows of `w` and `v`) until they are orthogonal; whether they were not. */
function orthogonalized(w: number[][], v: number[][], p: number, q: number): boolean {
  let [alpha, beta, gamma] = [0, 0, 0]
  const [x, y] = [w[p]!, w[q]!]
  for (let i = 0; i < x.length; i++) {
    alpha += x[i]! * x[i]!
    beta += y[i]! * y[i]!
    gamma += x[i]! * y[i]!
  }
  if (gamma === 0 || Math.abs(gamma) <= orthogonal * Math.sqrt(alpha * beta)) return false
  const zeta = (beta - alpha) / (2 * gamma)
  const t = (zeta >= 0 ? 1 : -1) / (Math.abs(zeta) + Math.sqrt(1 + zeta * zeta))
  const c = 1 / Math.sqrt(1 + t * t)
  turn(x, y, c, c * t)
  turn(v[p]!, v[q]!, c, c * t)
  return true
}

function turn(x: number[], y: number[], c: number, s: number): void {
  for (let i = 0; i < x.length; i++) {
    const [a, b] = [x[i]!, y[i]!]
    x[i] = c * a - s * b
    y[i] = s * a + c * b
  }
}

/** Values above this share of `scale` count. */
export function rankOf({ values }: Pick<SingularValues, 'values'>, share: number, scale = values[0] ?? 0): number {
  return values.filter((value) => value > share * scale).length
}
