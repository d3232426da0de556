import { along, eigenvalues, identity, multiply, norm, rankOf, singularValues, transpose } from '../algebra'
import type { Complex, Matrix } from '../algebra'
import { inLikeSizes } from './balanced'
import type { StateSpace } from './stateSpace'

/** Directions a push reaches by less than this share of the largest are taken as not reached. */
const unreachedShare = 1e-10

export interface Reachable {
  /** Orthogonal columns that span what the inputs reach. */
  readonly reached: Matrix
  /** Orthogonal columns that complete them. */
  readonly rest: Matrix
  /** Poles that no input moves. */
  readonly fixed: readonly Complex[]
}

/**
 * What the inputs reach: an orthogonal basis grown block by block from the columns of b, as in the staircase form.
 * Paige, Properties of Numerical Algorithms Related to Computing Controllability, IEEE TAC 26 (1981), from memory.
 */
export function reachable(a: Matrix, b: Matrix, share = unreachedShare): Reachable {
  const n = a.length
  const basis = reachedRows(a, b, share)
  const reached = transpose(basis, n)
  const rest = basis.length === 0 ? identity(n) : singularValues(basis, n).v.map((row) => row.slice(basis.length))
  const left = multiply(multiply(transpose(rest, n - basis.length), a), rest)
  return { reached, rest, fixed: left.length === 0 ? [] : (eigenvalues(left) ?? []) }
}

/** The basis of what is reached, as rows. */
function reachedRows(a: Matrix, b: Matrix, share = unreachedShare): Matrix {
  const n = a.length
  const pace = mostOf(a)
  let basis: number[][] = [] // rows, for ease of adding
  let block = transpose(b)
  let scale = singularValues(b, b[0]?.length ?? 0).values[0] ?? 0
  while (basis.length < n && block.length > 0 && scale > 0) {
    const fresh = block.map((column) => without(without(column, basis), basis))
    const found = directionsOf(fresh)
    const count = Math.min(rankOf(found, share, scale), n - basis.length)
    if (count === 0) break
    const added = found.directions.slice(0, count)
    basis = [...basis, ...added.map((one) => unit(without(one, basis)))]
    block = added.map((one) => a.map((row) => along(row, one)))
    scale = pace
  }
  return basis
}

/** The singular values of some rows, with the directions that go with them; of one row these are its size and itself. */
function directionsOf(rows: Matrix): { readonly values: readonly number[]; readonly directions: Matrix } {
  const [first] = rows
  if (rows.length === 1) return { values: [norm(first!)], directions: [unit(first!)] }
  const { values, u } = singularValues(transpose(rows), rows.length)
  return { values, directions: transpose(u) }
}

/**
 * A bound of the largest singular value, at most sqrt(n) above it: the root of the largest row sum times the largest column
 * sum. Golub & Van Loan, Matrix Computations, 4th ed., section 2.3.3 (from memory).
 */
function mostOf(a: Matrix): number {
  const sums = (one: Matrix) => one.map((row) => row.reduce((sum, value) => sum + Math.abs(value), 0))
  return a.length === 0 ? 0 : Math.sqrt(Math.max(...sums(a)) * Math.max(...sums(transpose(a))))
}

/** Singular values of [b, a b, a² b, ...]: n of them. Far apart means hard to control; for the rank see `reachable`. */
export function krylovValues(a: Matrix, b: Matrix): readonly number[] {
  const blocks: Matrix[] = [b]
  for (let k = 1; k < a.length; k++) blocks.push(multiply(a, blocks[k - 1]!))
  const rows = a.map((_, i) => blocks.flatMap((block) => block[i]!))
  return singularValues(transpose(rows), a.length).values
}

/** What the outputs show: what an input reaches of the transposed system. */
export function observable(a: Matrix, c: Matrix, share?: number): Reachable {
  return reachable(transpose(a), transpose(c, a.length), share)
}

/** The system without what no input reaches and no output shows, whatever its units. Share: see `reachable`. */
export function minimalRealization(system: StateSpace, share?: number): StateSpace {
  const joined = linked(system)
  const { scaled, inUnits } = inLikeSizes(joined)
  const reached = within(scaled, reachedRows(scaled.a, scaled.b, share))
  const small = within(reached, reachedRows(transpose(reached.a), transpose(reached.c, reached.a.length), share))
  return small.a.length === joined.a.length ? joined : inUnits(small)
}

/** The system without states that no chain of couplings leads to from an input, or from which none leads to an output: exact. */
function linked(system: StateSpace): StateSpace {
  const { a, b, c, states } = system
  const from = spread(
    b.map((row) => row.some((value) => value !== 0)),
    (to, by) => a[to]![by] !== 0,
  )
  const kept = spread(
    states.map((_, i) => c.some((row) => row[i] !== 0)),
    (to, by) => a[by]![to] !== 0,
  ).map((shows, i) => shows && from[i]!)
  if (kept.every(Boolean)) return system
  const some = <Value>(list: readonly Value[]) => list.filter((_, i) => kept[i])
  return { ...system, a: some(a).map(some), b: some(b), c: c.map(some), states: some(states) }
}

/** Those marked, and all that a chain of `goes` leads to from them. */
function spread(marked: readonly boolean[], goes: (to: number, by: number) => boolean): readonly boolean[] {
  const all = [...marked]
  const next = all.flatMap((is, i) => (is ? [i] : []))
  for (let by = next.pop(); by !== undefined; by = next.pop())
    for (let to = 0; to < all.length; to++)
      if (!all[to] && goes(to, by)) {
        all[to] = true
        next.push(to)
      }
  return all
}

/** The system in the coordinates of some orthogonal rows alone. */
function within(system: StateSpace, across: Matrix): StateSpace {
  const count = across.length
  if (count === system.a.length) return system
  const columns = transpose(across, system.a.length)
  return {
    ...system,
    a: count === 0 ? [] : multiply(multiply(across, system.a), columns),
    b: count === 0 ? [] : multiply(across, system.b),
    c: system.c.map((row) => (count === 0 ? [] : multiply([row], columns)[0]!)),
    states: Array.from({ length: count }, (_, i) => `x${i + 1}`),
  }
}

function without(vector: readonly number[], basis: Matrix): number[] {
  const out = [...vector]
  for (const one of basis) {
    const share = along(one, out)
    for (let i = 0; i < out.length; i++) out[i]! -= share * one[i]!
  }
  return out
}

function unit(vector: readonly number[]): number[] {
  const size = norm(vector)
  return vector.map((value) => value / size)
}
