import { multiply } from '../algebra'
import type { Matrix } from '../algebra'
import type { StateSpace } from './stateSpace'

export interface TransferFunction {
  /** Coefficients of descending powers of s (or z), leading zeros left out; the denominator is monic. */
  readonly numerator: readonly number[]
  readonly denominator: readonly number[]
}

/** Coefficients below this share of their terms are rounding. */
const negligible = 1e-12

/**
 * Numerator and denominator from one input to one output, by the recursion of Faddeev and Leverrier (Kailath, Linear
 * Systems, 1980, sec. A.10, from memory). Common factors are not cancelled. Meant for few states: coefficients of a high
 * order lose digits.
 */
export function transferFunction(system: StateSpace, input: number, output: number): TransferFunction {
  const { a, b, c, d } = system
  const n = a.length
  const column = b.map((row) => [row[input]!])
  const row = [c[output]!]
  const direct = d[output]![input]!
  const denominator = [1]
  const numerator = [direct]
  // adj(s - a) = s^(n-1) N0 + s^(n-2) N1 + ..., N0 = 1
  let term: Matrix = a.map((_, i) => a.map((__, j) => (i === j ? 1 : 0)))
  for (let k = 1; k <= n; k++) {
    const through = multiply(multiply(row, term), column)[0]![0]!
    const next = multiply(a, term)
    const trace = next.reduce((total, one, i) => total + one[i]!, 0)
    const size = next.reduce((total, one, i) => total + Math.abs(one[i]!), 0)
    const coefficient = Math.abs(trace) <= negligible * size ? 0 : -trace / k
    const above = termSize(row, term, column)
    numerator.push((Math.abs(through) <= negligible * above ? 0 : through) + direct * coefficient)
    denominator.push(coefficient)
    term = next.map((one, i) => one.map((value, j) => (i === j ? value + coefficient : value)))
  }
  const first = numerator.findIndex((value) => value !== 0)
  return { numerator: first < 0 ? [0] : numerator.slice(first), denominator }
}

/** The same product with every entry counted positively: what its rounding is measured by. */
function termSize(row: Matrix, term: Matrix, column: Matrix): number {
  const sizes = (matrix: Matrix) => matrix.map((one) => one.map(Math.abs))
  return multiply(multiply(sizes(row), sizes(term)), sizes(column))[0]![0]!
}
