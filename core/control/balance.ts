import type { Tape } from '../expression'
import { leastChange, multiply, norm, rankOf, singularValues, transpose } from '../algebra'
import type { Matrix } from '../algebra'

/** m/s², rad/s² and their like: what may be left unbalanced. */
export const mostUnbalanced = 1e-9
const mostSteps = 200
/** Steps within which what is left must change by at least this share: where it stands still, nothing balances the machine. */
const window = 15
const leastChangeOfRest = 0.01
/** rad or m: a longer step of a position is shortened, so that a turn does not jump to another branch. */
const longestStep = 0.5

/** What is asked for, and where the search for it begins. */
export interface BalanceRequest {
  /** Of what must be 0. */
  readonly must: Tape
  /** Slots of what may change. */
  readonly unknowns: readonly number[]
  readonly start: Float64Array
  /** The first so many slots are positions. */
  readonly positions: number
  /** Brings the values back to where they belong after a step. */
  readonly tidy: (at: Float64Array) => void
}

export interface Balanced {
  readonly at: Float64Array
  readonly residual: number
  /** The one that keeps changing most. */
  readonly worst: number
}

/**
 * Newton's method with the least change: first of the values as they are; where that stands still, of the values in the size
 * in which each moves the rates by about 1. Both have their machines: a rotor at rest has no slope to be sized by, and a
 * newton on a tonne beside a stiff spring hardly any.
 */
export function balance(request: BalanceRequest): Balanced {
  const plain = newton(request, () => undefined)
  if (plain.residual < mostUnbalanced || request.unknowns.length === 0) return plain
  const sized = newton({ ...request, start: plain.at }, sizesOf)
  return sized.residual < plain.residual ? sized : plain
}

function newton(
  { must, unknowns, start, positions, tidy }: BalanceRequest,
  sizes: (slopes: Matrix) => readonly number[] | undefined,
): Balanced {
  let at = start
  let best = { at, residual: Infinity, worst: 0 }
  let [least, most] = [Infinity, 0]
  for (let step = 0; step < mostSteps; step++) {
    const left = must.values(at)
    const residual = Math.max(0, ...left.map((value) => (Number.isFinite(value) ? Math.abs(value) : Infinity)))
    // once it balances, rounding alone is left
    if (residual < mostUnbalanced && residual >= 0.5 * best.residual) break
    if (residual < best.residual) best = { at, residual, worst: left.findIndex((value) => Math.abs(value) === residual) }
    if (unknowns.length === 0) break
    least = Math.min(least, residual)
    most = Math.max(most, residual)
    if (step % window === window - 1) {
      if (most - least < leastChangeOfRest * most) break
      least = Infinity
      most = 0
    }
    const slopes = must.jacobian(unknowns, at)
    const change = leastChange(
      slopes,
      left.map((value) => -value),
      sizes(slopes),
    )
    if (change === undefined) break
    const longest = Math.max(0, ...change.map((value, i) => (unknowns[i]! < positions ? Math.abs(value) : 0)))
    const share = longest > longestStep ? longestStep / longest : 1
    const next = Float64Array.from(at)
    unknowns.forEach((slot, i) => (next[slot]! += share * change[i]!))
    tidy(next)
    at = next
  }
  return best
}

/** A newton moves a rate little where a metre moves it much: each unknown in the size in which it moves rates by about 1. */
function sizesOf(slopes: Matrix): number[] {
  return (slopes[0] ?? []).map((_, k) => 1 / (norm(slopes.map((row) => row[k]!)) || 1))
}

/** An unknown that is an effort, with the size in which it counts: its limit where it has one. */
export interface Effort {
  readonly slot: number
  readonly size: number
}

/** Share of an effort below which it has no part in what is open between them. */
const noPart = 1e-7
const rankShare = 1e-9
const rounds = 6

/**
 * Among all balances near one that is found, that of least effort: the sum of squares, each in its size. Only `free`
 * slots move, efforts among them. `sharing` are the efforts between which the load could be moved about.
 */
export function leastEffort(
  request: BalanceRequest,
  found: Balanced,
  free: readonly number[],
  efforts: readonly Effort[],
): Balanced & { readonly sharing: readonly number[] } {
  let best = found
  let sharing: readonly number[] = []
  if (efforts.length < 2) return { ...best, sharing }
  for (let round = 0; round < rounds; round++) {
    const slopes = request.must.jacobian(free, best.at)
    const sizes = sizesOf(slopes)
    const scaled = slopes.map((row) => row.map((value, k) => value * sizes[k]!))
    const svd = singularValues(scaled, free.length)
    const rank = rankOf(svd, rankShare)
    if (rank === free.length) break
    const open = svd.v.map((row, k) => row.slice(rank).map((value) => value * sizes[k]!)) // free slots by direction
    const byEffort = efforts.map(({ slot, size }) => open[free.indexOf(slot)]!.map((value) => value / size))
    const most = Math.max(...byEffort.map(norm))
    if (most === 0) break
    sharing = efforts.filter((_, i) => norm(byEffort[i]!) > noPart * most).map(({ slot }) => slot)
    const now = efforts.map(({ slot, size }) => [best.at[slot]! / size])
    const across = transpose(byEffort)
    const along = leastChange(
      multiply(across, byEffort),
      multiply(across, now).map(([value]) => -value!),
    )
    if (along === undefined) break
    const next = Float64Array.from(best.at)
    free.forEach((slot, k) => (next[slot]! += open[k]!.reduce((sum, value, d) => sum + value * along[d]!, 0)))
    const there = newton({ ...request, unknowns: free, start: next }, () => undefined)
    if (!(there.residual < mostUnbalanced)) break
    const moved = Math.max(...efforts.map(({ slot, size }) => Math.abs(there.at[slot]! - best.at[slot]!) / size))
    best = there
    if (moved < mostUnbalanced) break
  }
  return { ...best, sharing: sharing.length > 1 ? sharing : [] }
}
