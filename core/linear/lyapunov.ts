import { balancingScales, complex, inScales, magnitude, overComplex, plusComplex, schurForm, timesComplex } from '../algebra'
import type { Complex, Matrix } from '../algebra'
import { done, refusedFor } from '../document'
import type { Outcome } from '../document'

/** Sums of two poles (products less 1) below this share of the largest pole count as 0. */
const opposed = 1e-13

/**
 * x with a x + x aᵀ + q = 0, or for a sampled system a x aᵀ - x + q = 0; a and q are n x n. By the complex Schur form:
 * Bartels & Stewart, Algorithm 432, CACM 15 (1972); Kitagawa, 1977, for the sampled one (both from memory). Refused where
 * two poles add up to 0 (multiply to 1): then there is no single x.
 */
export function lyapunov(a: Matrix, q: Matrix, dt: number | null): Outcome<number[][]> {
  // in balanced states, as their units must not matter
  const d = balancingScales(a)
  const right = q.map((row, i) => row.map((value, j) => value / (d[i]! * d[j]!)))
  const found = solved(inScales(a, d), right, dt)
  if (found.kind === 'refused') return found
  return done(found.value.map((row, i) => row.map((value, j) => value * d[i]! * d[j]!)))
}

function solved(a: Matrix, q: Matrix, dt: number | null): Outcome<number[][]> {
  const schur = schurForm(a)
  if (schur === undefined) return refusedFor('a', 'The poles cannot be found: entries are not finite.', 'Check the matrices.')
  const { t, u } = schur
  const n = a.length
  const scale = Math.max(1e-300, ...t.map((row, i) => magnitude(row[i]!)))
  const right = conjugated(
    u,
    q.map((row) => row.map((value) => complex(value))),
  )
  const y: Complex[][] = t.map(() => new Array<Complex>(n).fill(complex(0)))
  for (let k = n - 1; k >= 0; k--) {
    const own = conjugate(t[k]![k]!)
    // what the columns already known bring in
    const known = t.map((_, i) => {
      let sum = complex(0)
      for (let j = k + 1; j < n; j++) sum = plusComplex(sum, timesComplex(y[i]![j]!, conjugate(t[k]![j]!)))
      return sum
    })
    const brought = dt === null ? known : t.map((row) => dotFrom(row, known, 0))
    for (let i = n - 1; i >= 0; i--) {
      const diagonal = t[i]![i]!
      const pivot = dt === null ? plusComplex(diagonal, own) : plusComplex(timesComplex(own, diagonal), complex(-1))
      if (magnitude(pivot) <= opposed * (dt === null ? scale : 1)) return refusedFor('a', ...noSingle(dt))
      const rest = dotFrom(t[i]!, columnOf(y, k), i + 1)
      const sum = plusComplex(plusComplex(right[i]![k]!, brought[i]!), dt === null ? rest : timesComplex(own, rest))
      y[i]![k] = overComplex(complex(-sum.re, -sum.im), pivot)
    }
  }
  const back = conjugated(conjugateTranspose(u), y)
  return done(back.map((row) => row.map(({ re }) => re)))
}

function noSingle(dt: number | null): [string, string] {
  const what = dt === null ? 'Two poles add up to 0' : 'Two poles multiply to 1'
  return [`${what}: the equation has no single solution.`, 'Move the poles apart, for example by closing a loop first.']
}

/** uᴴ m u */
function conjugated(u: readonly (readonly Complex[])[], m: readonly (readonly Complex[])[]): Complex[][] {
  const turned = conjugateTranspose(u)
  return product(product(turned, m), u)
}

function conjugate({ re, im }: Complex): Complex {
  return complex(re, -im)
}

function conjugateTranspose(m: readonly (readonly Complex[])[]): Complex[][] {
  return m.map((_, i) => m.map((row) => conjugate(row[i]!)))
}

function product(a: readonly (readonly Complex[])[], b: readonly (readonly Complex[])[]): Complex[][] {
  return a.map((row) => b.map((_, j) => dotFrom(row, columnOf(b, j), 0)))
}

function columnOf(m: readonly (readonly Complex[])[], j: number): Complex[] {
  return m.map((row) => row[j]!)
}

function dotFrom(row: readonly Complex[], column: readonly Complex[], from: number): Complex {
  let sum = complex(0)
  for (let j = from; j < row.length; j++) sum = plusComplex(sum, timesComplex(row[j]!, column[j]!))
  return sum
}
