import { cos, pow, sin } from '../expression'
import { identity, magnitude } from '../algebra'
import type { Matrix } from '../algebra'
import { balanced } from './balanced'
import { exactMatrix, exactOf, exactSum, toNumber } from './exact'
import type { Exact } from './exact'
import { responder } from './responder'
import type { StateSpace } from './stateSpace'

export interface TransferFunction {
  /** Coefficients of descending powers of s (or z), leading zeros left out; the denominator is monic. */
  readonly numerator: readonly number[]
  readonly denominator: readonly number[]
}

/** Coefficients of more states take long, and have so many digits that nobody can use them. */
export const mostTransferStates = 30

/**
 * Numerator and denominator from one input to one output, exact to the last digit of the matrices: the recursion of Faddeev
 * and Leverrier (Kailath, Linear Systems, 1980, sec. A.10, from memory) over whole numbers of any length. Coefficients that
 * the rounding of the matrices alone could make are 0. Common factors are not cancelled. `undefined` of more than
 * `mostTransferStates`, or where rounded coefficients no longer answer as the matrices do.
 */
export function transferFunction(system: StateSpace, input: number, output: number): TransferFunction | undefined {
  if (system.a.length > mostTransferStates) return undefined
  const scaled = balanced(system)
  const channel = {
    a: scaled.a,
    column: scaled.b.map((row) => row[input]!),
    row: scaled.c[output]!,
    direct: system.d[output]![input]!,
  }
  const exact = coefficientsOf(channel)
  const others = patterns.map((pattern) => coefficientsOf(shaken(channel, pattern)))
  const clean = (of: keyof Coefficients) =>
    exact[of].map((value, k) => {
      const noise = Math.max(...others.map((other) => Math.abs(toNumber(exactSum(other[of][k]!, negative(value))))))
      return Math.abs(toNumber(value)) <= certain * noise ? 0 : toNumber(value)
    })
  const [numerator, denominator] = [clean('numerator'), clean('denominator')]
  const first = numerator.findIndex((value) => value !== 0)
  const found = { numerator: first < 0 ? [0] : numerator.slice(first), denominator }
  return answersAlike(scaled, input, output, found) ? found : undefined
}

/** What of an entry may be rounding, as a share of the largest of its row or its column, whichever is less. */
const rounding = 4e-16
/** Two ways to let the entries be a little wrong, and how much further than they tell a coefficient must lie from 0. */
const patterns = [3, 5]
const certain = 16

interface Channel {
  readonly a: Matrix
  readonly column: readonly number[]
  readonly row: readonly number[]
  readonly direct: number
}

/** The same with every entry off by its rounding, this way or that; what is 0 stays so. */
function shaken({ a, column, row, direct }: Channel, pattern: number): Channel {
  const most = (values: readonly number[]) => values.reduce((largest, value) => Math.max(largest, Math.abs(value)), 0)
  const sign = (i: number, j: number) => ((i * 7 + j * 11 + i * j + pattern * (i + 2 * j)) % 4 < 2 ? rounding : -rounding)
  const columns = a.map((_, j) => most(a.map((line) => line[j]!)))
  const off = (value: number, by: number) => (value === 0 ? 0 : value + by)
  return {
    a: a.map((line, i) => line.map((value, j) => off(value, sign(i, j) * Math.min(most(line), columns[j]!)))),
    column: column.map((value, i) => off(value, sign(i, 1) * most(column))),
    row: row.map((value, j) => off(value, sign(1, j) * most(row))),
    direct,
  }
}

interface Coefficients {
  readonly numerator: readonly Exact[]
  readonly denominator: readonly Exact[]
}

function coefficientsOf({ a, column, row, direct }: Channel): Coefficients {
  const expansion = expansionOf(a)
  const { denominator } = expansion
  const passed = exactOf(direct)
  const numerator = throughOf(expansion, column, row).map((value, k) => {
    const { whole, shift } = denominator[k]!
    return exactSum(value, { whole: whole * passed.whole, shift: shift + passed.shift })
  })
  return { numerator, denominator }
}

function negative({ whole, shift }: Exact): Exact {
  return { whole: -whole, shift }
}

interface Expansion {
  readonly denominator: readonly Exact[]
  /** adj(s - a) = s^(n-1) N0 + s^(n-2) N1 + ..., N0 = 1; whole, with the shift of a for each k. */
  readonly adjoint: readonly (readonly (readonly bigint[])[])[]
  /** Of a. */
  readonly shift: number
}

/** Every division of the recursion leaves no rest: coefficients of whole matrices are whole. */
function expansionOf(a: Matrix): Expansion {
  const { whole, shift } = exactMatrix(a)
  const adjoint: bigint[][][] = []
  const denominator = [{ whole: 1n, shift: 0 }]
  let term: bigint[][] = a.map((_, i) => a.map((__, j) => (i === j ? 1n : 0n)))
  for (let k = 1; k <= a.length; k++) {
    adjoint.push(term)
    const next = product(whole, term)
    const coefficient = -next.reduce((total, one, i) => total + one[i]!, 0n) / BigInt(k)
    denominator.push({ whole: coefficient, shift: k * shift })
    term = next.map((one, i) => one.map((value, j) => (i === j ? value + coefficient : value)))
  }
  return { denominator, adjoint, shift }
}

function product(a: readonly (readonly bigint[])[], b: readonly (readonly bigint[])[]): bigint[][] {
  return a.map((row) => {
    const sums = new Array<bigint>(b.length).fill(0n)
    row.forEach((value, k) => {
      if (value !== 0n) b[k]!.forEach((other, j) => (sums[j]! += value * other))
    })
    return sums
  })
}

/** Coefficients of c adj(s - a) b, with a 0 for the power of the denominator's first. */
function throughOf({ adjoint, shift }: Expansion, column: readonly number[], row: readonly number[]): Exact[] {
  const [left, right] = [exactMatrix([row]), exactMatrix([column])]
  const of = (term: readonly (readonly bigint[])[]) =>
    term.reduce(
      (sum, line, i) => sum + left.whole[0]![i]! * line.reduce((inner, value, j) => inner + value * right.whole[0]![j]!, 0n),
      0n,
    )
  return [
    { whole: 0n, shift: 0 },
    ...adjoint.map((term, k) => ({ whole: of(term), shift: k * shift + left.shift + right.shift })),
  ]
}

/** Of the response where it is looked at, and of what adds up to it. */
const alike = 1e-6
const alikeParts = 1e-9
const looks = 24

/** Rounded coefficients can answer otherwise than the matrices they came from: then they are not told. */
function answersAlike(system: StateSpace, input: number, output: number, { numerator, denominator }: TransferFunction): boolean {
  // every state, so that it is known what adds up to the output
  const answer = responder({ ...system, c: identity(system.a.length), d: system.a.map(() => system.inputs.map(() => 0)) })
  const [row, direct] = [system.c[output]!, system.d[output]![input]!]
  const { dt } = system
  const pace = denominator.map((value, k) => (k === 0 ? 0 : pow(Math.abs(value), 1 / k))).filter((size) => size > 0)
  const [slowest, fastest] = pace.length === 0 ? [1, 1] : [Math.min(...pace), Math.max(...pace)]
  const places = Array.from({ length: looks }, (_, k) => {
    // off the axis, so that no pole is met
    if (dt !== null) return { re: 1.01 * cos((k * Math.PI) / looks), im: 1.01 * sin((k * Math.PI) / looks) }
    const size = 0.1 * slowest * pow((100 * fastest) / slowest, k / (looks - 1))
    return { re: 0.6 * size, im: 0.8 * size }
  })
  return places.every((s) => {
    const states = answer(s)
    if (states === undefined) return true
    const [above, below] = [numerator, denominator].map((coefficients) => valueAt(coefficients, s)) as [Value, Value]
    const size = below.re * below.re + below.im * below.im
    const found = {
      re: (above.re * below.re + above.im * below.im) / size,
      im: (above.im * below.re - above.re * below.im) / size,
    }
    const parts = states.map((one, i) => ({ re: row[i]! * one[input]!.re, im: row[i]! * one[input]!.im }))
    const wanted = parts.reduce((sum, { re, im }) => ({ re: sum.re + re, im: sum.im + im }), { re: direct, im: 0 })
    const whole = parts.reduce((sum, part) => sum + magnitude(part), Math.abs(direct))
    const gap = magnitude({ re: found.re - wanted.re, im: found.im - wanted.im })
    return gap <= alike * magnitude(wanted) + alikeParts * whole
  })
}

interface Value {
  readonly re: number
  readonly im: number
}

function valueAt(coefficients: readonly number[], s: Value): Value {
  return coefficients.reduce<Value>(
    (sum, value) => ({ re: sum.re * s.re - sum.im * s.im + value, im: sum.re * s.im + sum.im * s.re }),
    { re: 0, im: 0 },
  )
}
