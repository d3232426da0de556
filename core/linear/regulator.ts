import { eigenvalues, identity, magnitude, multiply, plusMatrix, solve, times, transpose } from '../algebra'
import type { Complex, Matrix } from '../algebra'
import { done, refusedFor } from '../document'
import type { Outcome } from '../document'
import { observable, reachable } from './reachable'
import { riccati } from './riccati'
import { polesInWords, short } from './words'

/** Leftovers of the equation beyond this share of its terms mean that digits were lost. */
const acceptable = 1e-7
/** Entries that differ by less than this share of the largest are alike. */
const alikeShare = 1e-12
/** Published weights are rounded to three or four digits: what that makes negative is let pass. */
const roundedShare = 3e-4

export interface RegulatorWeights {
  /** On the states, n x n, symmetric, not negative. */
  readonly q: Matrix
  /** On the inputs, m x m, symmetric, positive. */
  readonly r: Matrix
  /** On states times inputs, n x m; none unless given. */
  readonly n?: Matrix
}

export interface Regulator {
  /** u = -k x */
  readonly k: Matrix
  /** The cost left from a state: xᵀ s x. */
  readonly s: Matrix
  readonly poles: readonly Complex[]
}

/** How the same mathematics is spoken of: an observer is the regulator of the transposed system. */
export interface RegulatorWords {
  readonly q: string
  readonly r: string
  readonly positive: string
  /** Before and after the modes that nothing moves. */
  readonly stuck: readonly [before: string, after: string, remedy: string]
  readonly onEdge: readonly [before: string, after: string, remedy: string]
}

const ownWords: RegulatorWords = {
  q: 'q',
  r: 'r',
  positive: 'Give every input a weight above 0.',
  stuck: ['No input moves', ', which does not die out by itself.', 'Add an input that reaches it, or leave it out of the model.'],
  onEdge: ['Nothing in q weighs', ': leaving it as it is would be best.', 'Give the states that move in it a weight.'],
}

/**
 * The state feedback with the least integral (sum, for a sampled system) of xᵀ q x + uᵀ r u + 2 xᵀ n u.
 * Anderson & Moore, Optimal Control: Linear Quadratic Methods, 1990 (from memory). Refused, with the reason, where the
 * weights are not of their kind, where an unstable mode cannot be moved, or where digits are lost.
 */
export function regulator(
  { a, b, dt }: { readonly a: Matrix; readonly b: Matrix; readonly dt: number | null },
  { q, r, n }: RegulatorWeights,
  words = ownWords,
): Outcome<Regulator> {
  const states = a.length
  const inputs = b[0]?.length ?? 0
  if (
    !isSquare(q, states) ||
    !isSquare(r, inputs) ||
    (n !== undefined && (n.length !== states || n.some((row) => row.length !== inputs)))
  )
    return refusedFor(
      'weights',
      `The weights do not fit ${states} states and ${inputs} inputs.`,
      `q is ${states} x ${states}, r ${inputs} x ${inputs}, n ${states} x ${inputs}.`,
    )
  for (const [name, weight] of [
    [words.q, q],
    [words.r, r],
  ] as const)
    if (!isSymmetric(weight))
      return refusedFor(name, `${name} is not symmetric.`, `Give (${name} + ${name}ᵀ)/2: it weighs the same.`)
  const leastR = leastEigenvalue(r)
  if (!(leastR > 0))
    return refusedFor(words.r, `${words.r} is not positive: its least eigenvalue is ${short(leastR)}.`, words.positive)
  const across = n ?? a.map(() => new Array<number>(inputs).fill(0))
  const rInverse = solve(r, identity(inputs), 0)!
  const shift = multiply(rInverse, transpose(across)) // r⁻¹ nᵀ
  const own = plusMatrix(a, times(multiply(b, shift), -1))
  const weight = plusMatrix(q, times(multiply(across, shift), -1))
  const leastQ = leastEigenvalue(weight)
  const isIndefinite = leastQ < -roundedShare * Math.max(1e-300, largest(weight))
  const g = multiply(multiply(b, rInverse), transpose(b))
  const found = riccati(own, g, weight, dt)
  const k = found === undefined ? undefined : gains(a, b, r, across, found.x, dt)
  const poles = k === undefined ? undefined : eigenvalues(plusMatrix(a, times(multiply(b, k), -1)))
  const isStable = poles?.every((pole) => (dt === null ? pole.re < 0 : magnitude(pole) < 1)) ?? false
  const isFound = found !== undefined && k !== undefined && poles !== undefined && isStable && found.residual < acceptable
  // a weight may be negative in a direction as long as a stabilizing solution exists all the same
  if (!isFound && isIndefinite) {
    const name = n === undefined ? words.q : 'q - n r⁻¹ nᵀ'
    return refusedFor(
      words.q,
      `${name} is negative in a direction, its least eigenvalue is ${short(leastQ)}, and no stabilizing solution was found.`,
      'Give weights that no motion can make negative.',
    )
  }
  if (!isFound) return refusedFor('system', ...reason({ a: own, b, dt }, weight, found?.residual, words))
  return done({ k, s: found.x, poles })
}

function gains(a: Matrix, b: Matrix, r: Matrix, n: Matrix, x: Matrix, dt: number | null): Matrix | undefined {
  const bx = multiply(transpose(b), x)
  if (dt === null) return solve(r, plusMatrix(bx, transpose(n)), 0)
  return solve(plusMatrix(r, multiply(bx, b)), plusMatrix(multiply(bx, a), transpose(n)), 0)
}

/** Why there is no such feedback, and what to do about it. */
function reason(
  { a, b, dt }: { readonly a: Matrix; readonly b: Matrix; readonly dt: number | null },
  q: Matrix,
  residual: number | undefined,
  { stuck, onEdge }: RegulatorWords,
): [what: string, remedy: string] {
  const grows = (pole: Complex) => (dt === null ? pole.re >= -1e-9 : magnitude(pole) >= 1 - 1e-9)
  const fixed = reachable(a, b).fixed.filter(grows)
  if (fixed.length > 0) return [`${stuck[0]} ${polesInWords(fixed, dt)}${stuck[1]}`, stuck[2]]
  const edge = (pole: Complex) => Math.abs(dt === null ? pole.re : magnitude(pole) - 1) < 1e-9
  const unweighed = observable(a, q).fixed.filter(edge)
  if (unweighed.length > 0) return [`${onEdge[0]} ${polesInWords(unweighed, dt)}${onEdge[1]}`, onEdge[2]]
  const lost = residual === undefined ? 'does not converge' : `leaves ${short(residual)} of its largest term`
  return [
    `The Riccati equation ${lost}: the system is too badly scaled or too nearly uncontrollable.`,
    'Choose units that make states and inputs alike in size, or weights less far apart.',
  ]
}

function isSquare(m: Matrix, size: number): boolean {
  return m.length === size && m.every((row) => row.length === size)
}

function isSymmetric(m: Matrix): boolean {
  const most = largest(m)
  return m.every((row, i) => row.every((value, j) => Math.abs(value - m[j]![i]!) <= alikeShare * most))
}

function leastEigenvalue(m: Matrix): number {
  return Math.min(...(eigenvalues(m) ?? [{ re: NaN }]).map(({ re }) => re))
}

function largest(m: Matrix): number {
  return Math.max(0, ...m.flat().map(Math.abs))
}
