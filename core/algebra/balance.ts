import type { Matrix } from './matrix'

/**
 * Scales the rows and columns of n x n entries, row by row, by powers of 2 (so without rounding) until they are of like size:
 * a becomes d⁻¹ a d. Gives d. Follows EISPACK's balanc (Parlett & Reinsch, Numerische Mathematik 13, 1969; from memory).
 * `into` and `out` are sums beside each row and each column that count and are scaled with them.
 */
export function balancingSizes(a: Float64Array, n: number, into?: Float64Array, out?: Float64Array): Float64Array {
  const d = new Float64Array(n).fill(1)
  for (let converged = false; !converged;) {
    converged = true
    for (let i = 0; i < n; i++) {
      let row = into?.[i] ?? 0
      let column = out?.[i] ?? 0
      for (let j = 0; j < n; j++) {
        if (j === i) continue
        row += Math.abs(a[i * n + j]!)
        column += Math.abs(a[j * n + i]!)
      }
      if (row === 0 || column === 0) continue
      const total = row + column
      let f = 1
      for (; column < row / 2; column *= 4) f *= 2
      for (; column >= row * 2; column /= 4) f /= 2
      if ((column + row) / f >= 0.95 * total) continue
      converged = false
      d[i]! *= f
      if (into !== undefined) into[i]! /= f
      if (out !== undefined) out[i]! *= f
      for (let j = 0; j < n; j++) a[i * n + j]! /= f
      for (let j = 0; j < n; j++) a[j * n + i]! *= f
    }
  }
  return d
}

/** The scales d of a matrix, with rows beside it that are driven by `b` and columns that are seen by `c`. */
export function balancingScales(a: Matrix, b?: Matrix, c?: Matrix): Float64Array {
  const n = a.length
  const flat = new Float64Array(n * n)
  for (let i = 0; i < n; i++) flat.set(a[i]!, i * n)
  if (!flat.every(Number.isFinite)) return new Float64Array(n).fill(1)
  const sum = (values: readonly number[]) => values.reduce((total, value) => total + Math.abs(value), 0)
  const into = b === undefined ? undefined : Float64Array.from(b, sum)
  const out = c === undefined ? undefined : Float64Array.from(a, (_, j) => sum(c.map((row) => row[j]!)))
  return balancingSizes(flat, n, into, out)
}

/** d⁻¹ a d: a matrix in scaled states. */
export function inScales(a: Matrix, d: Float64Array): number[][] {
  return a.map((row, i) => row.map((value, j) => (value / d[i]!) * d[j]!))
}
