import { add, div, mul, sub } from '../expression'
import type { Scalar } from '../expression'

/**
 * Solves a x = b for a symmetric positive definite a (n x n) and any columns b (n x m), by the square-root-free
 * Cholesky factorization, unrolled: works over numbers and over expressions. The caller answers for definiteness.
 * Golub & Van Loan, Matrix Computations, 4th ed., section 4.1 (from memory).
 */
export function solveDefinite(a: readonly (readonly Scalar[])[], b: readonly (readonly Scalar[])[]): Scalar[][] {
  const n = a.length
  const l: Scalar[][] = a.map(() => [])
  const d: Scalar[] = []
  const inverses: Scalar[] = []
  for (let j = 0; j < n; j++) {
    let pivot = a[j]![j]!
    for (let k = 0; k < j; k++) pivot = sub(pivot, mul(mul(l[j]![k]!, l[j]![k]!), d[k]!))
    d.push(pivot)
    const inverse = div(1, pivot)
    inverses.push(inverse)
    for (let i = j + 1; i < n; i++) {
      let value = a[i]![j]!
      for (let k = 0; k < j; k++) value = sub(value, mul(mul(l[i]![k]!, l[j]![k]!), d[k]!))
      l[i]![j] = mul(value, inverse)
    }
  }
  const columns = b[0]?.length ?? 0
  const x = b.map((row) => [...row])
  for (let c = 0; c < columns; c++) {
    for (let i = 0; i < n; i++) for (let k = 0; k < i; k++) x[i]![c] = sub(x[i]![c]!, mul(l[i]![k]!, x[k]![c]!))
    for (let i = 0; i < n; i++) x[i]![c] = mul(x[i]![c]!, inverses[i]!)
    for (let i = n - 1; i >= 0; i--) for (let k = i + 1; k < n; k++) x[i]![c] = sub(x[i]![c]!, mul(l[k]![i]!, x[k]![c]!))
  }
  return x
}

/** a b for matrices over numbers or expressions. */
export function scalarProduct(a: readonly (readonly Scalar[])[], b: readonly (readonly Scalar[])[]): Scalar[][] {
  return a.map((row) => b[0]!.map((_, j) => row.reduce<Scalar>((total, value, k) => add(total, mul(value, b[k]![j]!)), 0)))
}

export function scalarTranspose(a: readonly (readonly Scalar[])[]): Scalar[][] {
  return a[0]!.map((_, j) => a.map((row) => row[j]!))
}
