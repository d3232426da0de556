import { pow } from '../expression'
import { multiply } from '../algebra'
import type { Matrix } from '../algebra'
import type { StateSpace } from './stateSpace'

export interface TransferFunction {
  /** Coefficients of descending powers of s (or z), leading zeros left out; the denominator is monic. */
  readonly numerator: readonly number[]
  readonly denominator: readonly number[]
}

/** Coefficients below this share of what their poles could make of them are rounding. */
const negligible = 1e-12

/**
 * Numerator and denominator from one input to one output, by the recursion of Faddeev and Leverrier (Kailath, Linear
 * Systems, 1980, sec. A.10, from memory). Common factors are not cancelled. Meant for few states: coefficients of a high
 * order lose digits.
 */
export function transferFunction(system: StateSpace, input: number, output: number): TransferFunction {
  const { a, b, c, d } = system
  const column = b.map((row) => [row[input]!])
  const row = [c[output]!]
  const direct = d[output]![input]!
  const denominator = [1]
  const through = [0]
  // adj(s - a) = s^(n-1) N0 + s^(n-2) N1 + ..., N0 = 1
  let term: Matrix = a.map((_, i) => a.map((__, j) => (i === j ? 1 : 0)))
  for (let k = 1; k <= a.length; k++) {
    through.push(multiply(multiply(row, term), column)[0]![0]!)
    const next = multiply(a, term)
    const coefficient = -next.reduce((total, one, i) => total + one[i]!, 0) / k
    denominator.push(coefficient)
    term = next.map((one, i) => one.map((value, j) => (i === j ? value + coefficient : value)))
  }
  // a polynomial with poles of size w has coefficients up to w^k: time enters by its own scale
  const pace = Math.max(0, ...denominator.map((value, k) => (k === 0 ? 0 : pow(Math.abs(value), 1 / k))))
  const clean = withoutRounding(denominator, pace)
  const numerator = withoutRounding(through, pace).map((value, k) => value + direct * clean[k]!)
  const first = numerator.findIndex((value) => value !== 0)
  return { numerator: first < 0 ? [0] : numerator.slice(first), denominator: clean }
}

function withoutRounding(coefficients: readonly number[], pace: number): number[] {
  const scaled = coefficients.map((value, k) => (pace > 0 ? Math.abs(value) / pow(pace, k) : Math.abs(value)))
  const most = Math.max(...scaled)
  return coefficients.map((value, k) => (scaled[k]! <= negligible * most ? 0 : value))
}
