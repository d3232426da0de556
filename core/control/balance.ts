import { evaluation, jacobianAt } from '../expression'
import type { Scalar } from '../expression'
import { leastChange } from '../algebra'

/** m/s², rad/s² and their like: what may be left unbalanced. */
export const balanced = 1e-9
const mostSteps = 200
/** Steps within which what is left must change by at least this share: where it stands still, nothing balances the machine. */
const window = 15
const leastChangeOfRest = 0.01
/** rad or m: a longer step of a position is shortened, so that a turn does not jump to another branch. */
const longestStep = 0.5

/**
 * Newton's method with the least change. The first `positions` slots are positions; `tidy` brings the values back to
 * where they belong after a step.
 */
export function balance(
  must: readonly Scalar[],
  unknowns: readonly number[],
  start: Float64Array,
  positions: number,
  tidy: (at: Float64Array) => void,
): { at: Float64Array; residual: number; worst: number } {
  let at = start
  let best = { at, residual: Infinity, worst: 0 }
  let [least, most] = [Infinity, 0]
  for (let step = 0; step < mostSteps; step++) {
    const values = evaluation(at)
    const left = must.map((one) => values.number(one) as number)
    const residual = Math.max(0, ...left.map((value) => (Number.isFinite(value) ? Math.abs(value) : Infinity)))
    // once it balances, rounding alone is left
    if (residual < balanced && residual > 0.5 * best.residual) break
    if (residual < best.residual) best = { at, residual, worst: left.findIndex((value) => Math.abs(value) === residual) }
    if (unknowns.length === 0) break
    least = Math.min(least, residual)
    most = Math.max(most, residual)
    if (step % window === window - 1) {
      if (most - least < leastChangeOfRest * most) break
      least = Infinity
      most = 0
    }
    const change = leastChange(
      jacobianAt(must, unknowns, at),
      left.map((value) => -value),
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
