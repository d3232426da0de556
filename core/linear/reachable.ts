import { eigenvalues, identity, multiply, rankOf, singularValues, transpose } from '../algebra'
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
  const sizes = singularValues(a, n).values
  const pace = sizes[0] ?? 0
  let basis: number[][] = [] // rows, for ease of adding
  let block = transpose(b)
  let scale = singularValues(b, b[0]?.length ?? 0).values[0] ?? 0
  while (basis.length < n && block.length > 0 && scale > 0) {
    const fresh = block.map((column) => without(without(column, basis), basis))
    const found = singularValues(transpose(fresh), fresh.length)
    const count = Math.min(rankOf(found, share, scale), n - basis.length)
    if (count === 0) break
    const added = transpose(found.u).slice(0, count)
    basis = [...basis, ...added.map((one) => unit(without(one, basis)))]
    block = transpose(multiply(a, transpose(added)))
    scale = pace
  }
  const reached = basis.length === 0 ? identity(n).map(() => []) : transpose(basis)
  const rest = basis.length === 0 ? identity(n) : singularValues(basis, n).v.map((row) => row.slice(basis.length))
  const left = multiply(multiply(transpose(rest, n - basis.length), a), rest)
  return { reached, rest, fixed: left.length === 0 ? [] : (eigenvalues(left) ?? []) }
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
  const { scaled, inUnits } = inLikeSizes(system)
  const reached = within(scaled, reachable(scaled.a, scaled.b, share).reached)
  const small = within(reached, observable(reached.a, reached.c, share).reached)
  return small.a.length === system.a.length ? system : inUnits(small)
}

/** The system in the coordinates of some orthogonal columns alone. */
function within(system: StateSpace, columns: Matrix): StateSpace {
  const count = columns[0]?.length ?? 0
  if (count === system.a.length) return system
  const across = transpose(columns, count)
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
    const share = one.reduce((total, value, i) => total + value * out[i]!, 0)
    one.forEach((value, i) => (out[i]! -= share * value))
  }
  return out
}

function unit(vector: readonly number[]): number[] {
  const size = Math.sqrt(vector.reduce((total, value) => total + value * value, 0))
  return vector.map((value) => value / size)
}
