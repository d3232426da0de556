import {
  balancingScales,
  complex,
  eigenvalues,
  identity,
  inScales,
  magnitude,
  multiply,
  plusMatrix,
  rankOf,
  singularValues,
  solveComplex,
  times,
  transpose,
} from '../algebra'
import type { Complex, Matrix } from '../algebra'
import { done, refusedFor } from '../document'
import type { Outcome } from '../document'
import { reachable } from './reachable'
import { polesInWords } from './words'

export interface PlacedPoles {
  /** u = -k x */
  readonly k: Matrix
  /** Poles of a - b k, as computed from k. */
  readonly achieved: readonly Complex[]
}

const sweeps = 30
/** Of the largest pole: what lies farther from where it was wanted is not there. */
const farOff = 1e-3
/** Poles nearer together than this share of their size count as one. */
const alike = 1e-8

/**
 * State feedback that puts the poles of a - b k where they are wanted. One input: Ackermann's formula in controller
 * Hessenberg coordinates. Several: the eigenvectors are turned apart as far as they go (Kautsky, Nichols & Van Dooren,
 * International Journal of Control 41, 1985, method 0); both from memory. Refused where poles do not come in pairs, are
 * asked for more often than there are inputs, or where no input moves a mode.
 */
export function placePoles(
  { a, b }: { readonly a: Matrix; readonly b: Matrix },
  poles: readonly Complex[],
): Outcome<PlacedPoles> {
  // in balanced states, as their units must not matter
  const scales = balancingScales(a, b)
  const placed = placedIn(
    inScales(a, scales),
    b.map((row, i) => row.map((value) => value / scales[i]!)),
    poles,
  )
  if (placed.kind === 'refused') return placed
  const { k, achieved } = placed.value
  const [off, reach] = [farthest(achieved, poles), Math.max(...poles.map(magnitude))]
  if (!(off <= farOff * reach)) {
    const far = Number.isFinite(off) ? `up to ${off.toPrecision(2)} rad/s` : 'anywhere'
    const what = `The poles would come to lie ${far} from where they are wanted: with ${a.length} states the gains hang on digits that no machine has.`
    return refusedFor(
      'poles',
      what,
      'Ask for poles nearer to those that are there, give it more inputs, or let a regulator choose.',
    )
  }
  return done({ k: k.map((row) => row.map((value, j) => value / scales[j]!)), achieved })
}

/** The farthest that one lies from where it was wanted, each place taken once. */
function farthest(achieved: readonly Complex[], wanted: readonly Complex[]): number {
  const left = [...wanted]
  return achieved.reduce((most, pole) => {
    const far = left.map(({ re, im }) => magnitude(complex(re - pole.re, im - pole.im)))
    const nearest = far.indexOf(Math.min(...far))
    left.splice(nearest, 1)
    return Math.max(most, far[nearest] ?? Infinity)
  }, 0)
}

function placedIn(a: Matrix, b: Matrix, poles: readonly Complex[]): Outcome<PlacedPoles> {
  const n = a.length
  if (poles.length !== n) return refusedFor('poles', `${poles.length} poles are given for ${n} states.`, `Give ${n}.`)
  const lone = poles.find((pole) => pole.im !== 0 && count(poles, pole) !== count(poles, complex(pole.re, -pole.im)))
  if (lone !== undefined)
    return refusedFor(
      'poles',
      `The pole ${lone.re} ${lone.im < 0 ? '-' : '+'} ${Math.abs(lone.im)}i has no partner.`,
      'Complex poles come in conjugate pairs: give both.',
    )
  const { fixed } = reachable(a, b)
  if (fixed.length > 0)
    return refusedFor(
      'system',
      `No input moves ${polesInWords(fixed, null)}.`,
      'Add an input that reaches it, or leave its states out.',
    )
  const used = inputsUsed(b)
  const crowded = poles.find((pole) => count(poles, pole) > used.rank)
  if (used.rank > 1 && crowded !== undefined)
    return refusedFor(
      'poles',
      `${polesInWords([crowded], null)} is wanted ${count(poles, crowded)} times, with ${used.rank} independent inputs.`,
      'Move them a little apart.',
    )
  const k = used.rank === 1 ? ofOneInput(a, b, poles, used.direction) : ofSeveral(a, b, poles, used.rank)
  const achieved = k === undefined ? undefined : eigenvalues(plusMatrix(a, times(multiply(b, k), -1)))
  if (k === undefined || achieved === undefined)
    return refusedFor('poles', 'No well conditioned gains lead there.', 'Ask for poles nearer to those that the system has.')
  return done({ k, achieved })
}

function count(poles: readonly Complex[], like: Complex): number {
  return poles.filter(({ re, im }) => magnitude(complex(re - like.re, im - like.im)) <= alike * (1 + magnitude(like))).length
}

function inputsUsed(b: Matrix): { rank: number; direction: readonly number[] } {
  const found = singularValues(b)
  return { rank: rankOf(found, 1e-12), direction: found.v.map((row) => row[0]!) }
}

/** Of several inputs that push alike, each takes its share. */
function ofOneInput(a: Matrix, b: Matrix, poles: readonly Complex[], direction: readonly number[]): Matrix | undefined {
  const single = b.map((row) => [row.reduce((total, value, j) => total + value * direction[j]!, 0)])
  const basis = reachable(a, single).reached // columns in which a is Hessenberg and the input enters first
  const h = multiply(multiply(transpose(basis), a), basis)
  const entered = multiply(transpose(basis), single)[0]![0]!
  const n = a.length
  // the last row of the inverse of the controllability matrix
  let scale = entered
  for (let i = 1; i < n; i++) scale *= h[i]![i - 1]!
  let row: number[] = identity(n)[n - 1]!.map((value) => value / scale)
  const shifted = (by: number) => multiply([row], h)[0]!.map((value, i) => value - by * row[i]!)
  for (const { re, im } of poles.filter((pole) => pole.im >= 0)) {
    const once = shifted(re)
    if (im === 0) {
      row = once
      continue
    }
    const before = row
    row = once
    row = shifted(re).map((value, i) => value + im * im * before[i]!)
  }
  const gain = multiply([row], transpose(basis))[0]!
  return gain.every(Number.isFinite) ? direction.map((share) => gain.map((value) => share * value)) : undefined
}

function ofSeveral(a: Matrix, b: Matrix, poles: readonly Complex[], rank: number): Matrix | undefined {
  const n = a.length
  const range = singularValues([...transpose(b)], n).v // rows of bᵀ: the first columns span what b reaches
  const out = transpose(range).slice(rank)
  const spaces = poles.map((pole) => allowed(a, out, pole, n))
  // upper half first: each brings its partner along
  let x = poles.map(({ im }, j) => projected(spaces[j]!, startVector(n, j), im === 0))
  const partner = partners(poles)
  const paired = (columns: readonly Complex[][]) =>
    columns.map((column, j) => (poles[j]!.im < 0 ? columns[partner[j]!]!.map(({ re, im }) => complex(re, -im)) : column))
  x = paired(x)
  for (let sweep = 0; sweep < sweeps; sweep++) {
    for (let j = 0; j < n; j++) {
      if (poles[j]!.im < 0) continue
      const inverse = inverseOf(x)
      if (inverse === undefined) return undefined
      const away = inverse[j]!.map(({ re, im }) => complex(re, -im)) // at right angles to all others
      x[j] = projected(spaces[j]!, away, poles[j]!.im === 0)
      x = paired(x)
    }
  }
  const inverse = inverseOf(x)
  if (inverse === undefined) return undefined
  // m = x diag(poles) x⁻¹ is real; b k = a - m
  const m = Array.from({ length: n }, (_, i) =>
    Array.from({ length: n }, (__, l) =>
      poles.reduce((total, pole, j) => {
        const [u, v] = [x[j]![i]!, inverse[j]![l]!]
        const [re, im] = [u.re * pole.re - u.im * pole.im, u.re * pole.im + u.im * pole.re]
        return total + re * v.re - im * v.im
      }, 0),
    ),
  )
  const wanted = plusMatrix(a, times(m, -1))
  const { u, values, v } = singularValues(b)
  const turned = multiply(transpose(u).slice(0, rank), wanted).map((row, i) => row.map((value) => value / values[i]!))
  return multiply(
    v.map((row) => row.slice(0, rank)),
    turned,
  )
}

/** For each pole below the axis the one above it that is its conjugate, every one once. */
function partners(poles: readonly Complex[]): number[] {
  const free = new Set(poles.keys())
  return poles.map((pole) => {
    if (pole.im >= 0) return -1
    const found = [...free].find((j) => count([poles[j]!], complex(pole.re, -pole.im)) > 0)!
    free.delete(found)
    return found
  })
}

/** Orthonormal rows, complex vectors as real ones of twice the length, that span what an eigenvector may not have. */
function allowed(a: Matrix, out: Matrix, { re, im }: Complex, n: number): Matrix {
  const shifted = multiply(out, plusMatrix(a, times(identity(n), -re)))
  const rows = shifted.flatMap((row, i) => {
    const beside = out[i]!.map((value) => value * im)
    return [
      [...row, ...beside],
      [...beside.map((value) => -value), ...row],
    ]
  })
  const { v } = singularValues(rows, 2 * n)
  return transpose(v).slice(0, rows.length)
}

/** The unit vector nearest to one given, without the forbidden directions; real for a real pole. */
function projected(forbidden: Matrix, vector: readonly Complex[], isReal: boolean): Complex[] {
  const n = vector.length
  const real = [...vector.map(({ re }) => re), ...vector.map(({ im }) => (isReal ? 0 : im))]
  for (const row of forbidden) {
    const share = row.reduce((total, value, i) => total + value * real[i]!, 0)
    row.forEach((value, i) => (real[i]! -= share * value))
  }
  const size = Math.sqrt(real.reduce((total, value) => total + value * value, 0))
  return Array.from({ length: n }, (_, i) => complex(real[i]! / size, real[n + i]! / size))
}

/** Any vector will do that is not special. */
function startVector(n: number, j: number): Complex[] {
  return Array.from({ length: n }, (_, i) => complex(1 / (1 + ((i * 7 + j * 3) % (n + 2))), i === j ? 1 : 0))
}

function inverseOf(columns: readonly (readonly Complex[])[]): Complex[][] | undefined {
  const n = columns.length
  const rows = Array.from({ length: n }, (_, i) => columns.map((column) => column[i]!))
  return solveComplex(
    rows,
    identity(n).map((row) => row.map((value) => complex(value))),
  )
}
