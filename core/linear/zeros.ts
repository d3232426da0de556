import { eigenvalues, multiply, plusMatrix, rankOf, singularValues, solve, times, transpose } from '../algebra'
import type { Complex, Matrix } from '../algebra'
import { inLikeSizes } from './balanced'
import { minimalRealization } from './reachable'
import type { StateSpace } from './stateSpace'

/** Parts below this share of the system's largest entries count as 0. */
const negligible = 1e-11

interface Blocks {
  readonly a: Matrix
  readonly b: Matrix
  readonly c: Matrix
  readonly d: Matrix
  readonly inputs: number
}

/**
 * Transmission zeros: the frequencies at which the matrix of transfer functions loses rank. Of the minimal realization, so
 * that what cancels does not count. By the reduction of Emami-Naeini & Van Dooren, Automatica 18 (1982), from memory.
 * `undefined` where they cannot be found (entries not finite).
 */
export function transmissionZeros(system: StateSpace): readonly Complex[] | undefined {
  const { a, b, c, d } = inLikeSizes(minimalRealization(system)).scaled
  const inputs = system.inputs.length
  const scale = Math.max(1e-300, ...[a, b, c, d].map((m) => Math.max(0, ...m.flat().map(Math.abs))))
  const rows = rowsReduced({ a, b, c, d, inputs }, scale)
  const columns = rowsReduced(transposed(rows), scale)
  const n = columns.a.length
  if (n === 0) return []
  if (columns.inputs === 0) return eigenvalues(columns.a)
  const feedback = solve(columns.d, columns.c, 0)
  if (feedback === undefined) return undefined
  return eigenvalues(plusMatrix(columns.a, times(multiply(columns.b, feedback), -1)))
}

function transposed({ a, b, c, d, inputs }: Blocks): Blocks {
  return { a: transpose(a), b: transpose(c, a.length), c: transpose(b, inputs), d: transpose(d, inputs), inputs: c.length }
}

/** The same zeros with fewer states and outputs, until d has full row rank. */
function rowsReduced(blocks: Blocks, scale: number): Blocks {
  let { a, b, c, d } = blocks
  const { inputs } = blocks
  for (;;) {
    const outputs = d.length
    if (outputs === 0) return { a, b, c, d, inputs }
    // rows of d that matter, and those that do not
    const compressed = singularValues(transpose(d, inputs), outputs)
    const rank = rankOf(compressed, negligible, scale)
    if (rank === outputs) return { a, b, c, d, inputs }
    const turned = transpose(compressed.v)
    const [dTop, cAll] = [multiply(turned, d).slice(0, rank), multiply(turned, c)]
    const [cTop, cLow] = [cAll.slice(0, rank), cAll.slice(rank)]
    const n = a.length
    const seen = n === 0 ? undefined : singularValues(cLow, n)
    const held = seen === undefined ? 0 : rankOf(seen, negligible, scale)
    if (seen === undefined || held === 0) return { a, b, c: cTop, d: dTop, inputs } // the low rows say nothing
    // states in new coordinates: the free ones first, then those that the low rows hold at 0
    const order = [...Array.from({ length: n - held }, (_, i) => held + i), ...Array.from({ length: held }, (_, i) => i)]
    const v = seen.v.map((row) => order.map((j) => row[j]!))
    const across = transpose(v)
    const [an, bn, cn] = [multiply(multiply(across, a), v), multiply(across, b), multiply(cTop, v)]
    const free = n - held
    a = an.slice(0, free).map((row) => row.slice(0, free))
    b = bn.slice(0, free)
    c = [...an.slice(free).map((row) => row.slice(0, free)), ...cn.map((row) => row.slice(0, free))]
    d = [...bn.slice(free), ...dTop]
  }
}
