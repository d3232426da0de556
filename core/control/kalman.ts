import { add, sub } from '../expression'
import type { Scalar } from '../expression'
import { scalarProduct, scalarTranspose, solveDefinite } from '../algebra'

export type ScalarMatrix = readonly (readonly Scalar[])[]

export interface StateEstimate {
  /** n x 1 */
  readonly x: ScalarMatrix
  /** n x n covariance of its error */
  readonly p: ScalarMatrix
}

/** x = f x + push, p = f p fᵀ + q. Over numbers or expressions. Anderson & Moore, Optimal Filtering, 1979 (from memory). */
export function predicted({ x, p }: StateEstimate, f: ScalarMatrix, q: ScalarMatrix, push?: ScalarMatrix): StateEstimate {
  const moved = scalarProduct(f, x)
  return {
    x: push === undefined ? moved : sum(moved, push),
    p: sum(scalarProduct(scalarProduct(f, p), scalarTranspose(f)), q),
  }
}

/** Takes in a measurement y = h x + noise of covariance r (positive definite). */
export function updated(
  { x, p }: StateEstimate,
  h: ScalarMatrix,
  r: ScalarMatrix,
  y: ScalarMatrix,
): StateEstimate & { gain: Scalar[][] } {
  const hp = scalarProduct(h, p)
  const s = sum(scalarProduct(hp, scalarTranspose(h)), r)
  const gain = scalarTranspose(solveDefinite(s, hp)) // p hᵀ s⁻¹, with p and s symmetric
  const surprise = difference(y, scalarProduct(h, x))
  return { x: sum(x, scalarProduct(gain, surprise)), p: difference(p, scalarProduct(gain, hp)), gain }
}

/** The upper triangle of a symmetric matrix by rows, as memories keep it. */
export function upperTriangle<Value extends Scalar>(p: readonly (readonly Value[])[]): Value[] {
  return p.flatMap((row, i) => row.slice(i))
}

/** The symmetric n x n matrix of an upper triangle by rows. */
export function fromUpperTriangle(values: readonly Scalar[], n: number): Scalar[][] {
  const at = (i: number, j: number) => values[i * n - (i * (i - 1)) / 2 + (j - i)]!
  return Array.from({ length: n }, (_, i) => Array.from({ length: n }, (__, j) => (i <= j ? at(i, j) : at(j, i))))
}

/** How many values such a triangle has. */
export function packedSize(n: number): number {
  return (n * (n + 1)) / 2
}

function sum(a: ScalarMatrix, b: ScalarMatrix): Scalar[][] {
  return a.map((row, i) => row.map((value, j) => add(value, b[i]![j]!)))
}

function difference(a: ScalarMatrix, b: ScalarMatrix): Scalar[][] {
  return a.map((row, i) => row.map((value, j) => sub(value, b[i]![j]!)))
}
