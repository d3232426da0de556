import { cos, sin } from '../expression'
import { simplified } from './simplify'
import type { Atoms } from './atoms'
import { constantSum, plusSum, sumOf, timesProduct, timesSum, zero } from './sum'
import type { Product, Sum } from './sum'
import { sumToTerms, variableToLatex } from './print'
import { matrixToLatex } from './linearInLetters'

/** Letters of one coordinate: itself, its speed and its acceleration, as atoms. */
export interface CoordinateAtoms {
  readonly at: string
  readonly speed: string
  readonly acceleration: string
  readonly latex: string
  /** Where it rests, rad or m. */
  readonly rest: number
}

/** M x'' + D x' + K x = B u about rest, entries as sums over parameters and what the resting angles leave. */
export interface LinearLetters {
  readonly mass: readonly (readonly Sum[])[]
  readonly damping: readonly (readonly Sum[])[]
  readonly stiffness: readonly (readonly Sum[])[]
}

/** Products of a coefficient: more, and no one reads it. */
const mostProducts = 24
/** Coordinates of a transfer function: determinants of larger matrices fill pages. */
const mostForTransfer = 3

/** Equations (left sides, what they equal left out) linearized exactly about rest: speeds and accelerations 0 there. */
export function linearForm(equations: readonly Sum[], coordinates: readonly CoordinateAtoms[], atoms: Atoms): LinearLetters {
  const rest = new Map(coordinates.map(({ at, rest: value }) => [at, value]))
  const still = new Set(coordinates.flatMap(({ speed, acceleration }) => [speed, acceleration]))
  const by = (letter: (one: CoordinateAtoms) => string) =>
    equations.map((sum) =>
      coordinates.map((one) => simplified(atRest(derivative(sum, letter(one), atoms), rest, still, atoms), atoms)),
    )
  return { mass: by((one) => one.acceleration), damping: by((one) => one.speed), stiffness: by((one) => one.at) }
}

/** d(sum)/d(letter): powers, and sines and cosines of sums of letters. */
export function derivative(sum: Sum, letter: string, atoms: Atoms): Sum {
  let out: Sum = zero
  for (const product of sum.values())
    for (const [key, power] of product.powers) {
      const inner = innerDerivative(key, letter, atoms)
      if (inner === undefined) continue
      const lowered = timesProduct(
        { factor: product.factor * power, powers: product.powers },
        { factor: 1, powers: new Map([[key, -1]]) },
      )
      out = plusSum(out, sumOf([timesProduct(lowered, inner)]))
    }
  return out
}

function innerDerivative(key: string, letter: string, atoms: Atoms): Product | undefined {
  if (key === letter) return { factor: 1, powers: new Map() }
  const { turn } = atoms.get(key)
  const times = turn?.angle.get(letter)
  if (turn === undefined || times === undefined) return undefined
  const other = atoms.turned(turn.of === 'sin' ? 'cos' : 'sin', turn.angle)
  return { factor: turn.of === 'sin' ? times : -times, powers: new Map([[other, 1]]) }
}

/** Sines and cosines that are 0 or ±1 at rest become that; other resting angles keep their letters. */
function atRest(sum: Sum, rest: ReadonlyMap<string, number>, still: ReadonlySet<string>, atoms: Atoms): Sum {
  let out: Sum = zero
  for (const { factor, powers } of sum.values()) {
    let kept: Product = { factor, powers: new Map() }
    for (const [key, power] of powers) {
      const value = still.has(key) ? 0 : restingValue(key, rest, atoms)
      kept =
        value === undefined
          ? timesProduct(kept, { factor: 1, powers: new Map([[key, power]]) })
          : { ...kept, factor: kept.factor * value ** power }
    }
    out = plusSum(out, sumOf(kept.factor === 0 ? [] : [kept]))
  }
  return out
}

const exact = 1e-7

/** A plain value where a letter, sine or cosine has one that is worth a number: 0 and ±1. */
function restingValue(key: string, rest: ReadonlyMap<string, number>, atoms: Atoms): number | undefined {
  const { turn } = atoms.get(key)
  if (turn === undefined) {
    const own = rest.get(key)
    return own !== undefined && Math.abs(own) < exact ? 0 : undefined
  }
  const angle = [...turn.angle].reduce((total, [letter, times]) => total + times * (rest.get(letter) ?? NaN), 0)
  const value = turn.of === 'sin' ? sin(angle) : cos(angle)
  return [0, 1, -1].find((whole) => Math.abs(value - whole) < exact)
}

/** Coefficients by power of s. */
type Polynomial = readonly Sum[]

/** One drive: its letter and the coordinate whose equation it stands in. */
export interface DriveLetter {
  readonly latex: string
  readonly coordinate: number
}

/**
 * The linear form as LaTeX, then transfer functions from every drive to every coordinate over one named denominator, by
 * Cramer's rule. Lines that would be too long to read are left out; `left` says so.
 */
export function linearFormToLatex(
  form: LinearLetters,
  coordinates: readonly CoordinateAtoms[],
  drives: readonly DriveLetter[],
  atoms: Atoms,
): { readonly lines: readonly string[]; readonly transfer: readonly string[]; readonly left: boolean } {
  const matrix = (rows: readonly (readonly Sum[])[]) =>
    matrixToLatex(rows.map((row) => row.map((sum) => withoutBracket(sumToLatex(sum, atoms)))))
  const isZero = (rows: readonly (readonly Sum[])[]) => rows.every((row) => row.every((sum) => sum.size === 0))
  const named = (
    [
      ['M', form.mass, '\\ddot q'],
      ['D', form.damping, '\\dot q'],
      ['K', form.stiffness, 'q'],
    ] as const
  ).filter(([, rows]) => !isZero(rows))
  const pushes = coordinates.map((_, i) => {
    const own = drives.filter(({ coordinate }) => coordinate === i).map(({ latex }) => latex)
    return [own.length === 0 ? '0' : own.join(' + ')]
  })
  const column = matrixToLatex(coordinates.map(({ latex }) => [latex]))
  const sides = `${named.map(([letter, , moved]) => `${letter}\\,\\Delta ${moved}`).join(' + ')} = ${drives.length === 0 ? '0' : '\\Delta u'}`
  const lines = [
    `${sides},\\quad q = ${column}${drives.length === 0 ? '' : `,\\quad u = ${matrixToLatex(pushes)}`}`,
    ...named.map(([letter, rows]) => `${letter} = ${matrix(rows)}`),
  ]
  const transfer = transferLines(form, coordinates, drives, atoms)
  return { lines, transfer: transfer ?? [], left: transfer === undefined }
}

function transferLines(
  form: LinearLetters,
  coordinates: readonly CoordinateAtoms[],
  drives: readonly DriveLetter[],
  atoms: Atoms,
): string[] | undefined {
  if (drives.length === 0) return []
  if (coordinates.length > mostForTransfer) return undefined
  const entries = coordinates.map((_, i) =>
    coordinates.map((_, j): Polynomial => [form.stiffness[i]![j]!, form.damping[i]![j]!, form.mass[i]![j]!]),
  )
  const denominator = determinant(entries, atoms)
  if (denominator === undefined) return undefined
  const lines: string[] = []
  for (const { latex, coordinate } of drives)
    for (const [j, output] of coordinates.entries()) {
      const minor = determinant(without(entries, coordinate, j), atoms)
      if (minor === undefined) return undefined
      const signed = (coordinate + j) % 2 === 0 ? minor : minor.map((sum) => plusSum(zero, sum, -1))
      if (signed.every((sum) => sum.size === 0)) continue
      lines.push(`\\frac{\\Delta ${output.latex}(s)}{\\Delta ${latex}(s)} = \\frac{${polynomialToLatex(signed, atoms)}}{N(s)}`)
    }
  return [...lines, `N(s) = ${polynomialToLatex(denominator, atoms)}`]
}

function without<Value>(rows: readonly (readonly Value[])[], row: number, column: number): Value[][] {
  return rows.filter((_, i) => i !== row).map((one) => one.filter((_, j) => j !== column))
}

/** By the first row; nothing where a coefficient grows too long to read. */
function determinant(rows: readonly (readonly Polynomial[])[], atoms: Atoms): Polynomial | undefined {
  if (rows.length === 0) return [constantSum(1)]
  let total: Polynomial = []
  for (const [j, entry] of rows[0]!.entries()) {
    const minor = determinant(without(rows, 0, j), atoms)
    const product = minor === undefined ? undefined : polynomialTimes(entry, minor)
    if (product === undefined) return undefined
    const length = Math.max(total.length, product.length)
    total = Array.from({ length }, (_, k) => plusSum(total[k] ?? zero, product[k] ?? zero, j % 2 === 0 ? 1 : -1))
  }
  const short = total.map((sum) => simplified(sum, atoms))
  return short.some(({ size }) => size > mostProducts) ? undefined : short
}

function polynomialTimes(a: Polynomial, b: Polynomial): Polynomial | undefined {
  const out: Sum[] = Array.from({ length: a.length + b.length - 1 }, () => zero)
  for (const [i, x] of a.entries())
    for (const [j, y] of b.entries()) {
      const product = timesSum(x, y, 20 * mostProducts)
      if (product === undefined) return undefined
      out[i + j] = plusSum(out[i + j]!, product)
    }
  return out
}

function polynomialToLatex(polynomial: Polynomial, atoms: Atoms): string {
  const terms = polynomial
    .map((sum, power) => ({ sum, power }))
    .filter(({ sum }) => sum.size > 0)
    .reverse()
    .map(({ sum, power }) => {
      const s = variableToLatex('s', power)
      const words = sumToLatex(sum, atoms)
      if (power === 0) return words
      if (words === '1') return s
      return `${words}\\,${s}`
    })
  return terms.length === 0 ? '0' : terms.join(' + ').replaceAll('+ -', '- ')
}

function sumToLatex(sum: Sum, atoms: Atoms): string {
  return sumToTerms(
    sum,
    atoms,
    () => false,
    () => 0,
  ).join(' ')
}

/** An entry of a matrix needs no bracket around all of it. */
function withoutBracket(words: string): string {
  return words.replace(/^\\left\(((?:(?!\\left|\\right).)*)\\right\)$/, '$1')
}
