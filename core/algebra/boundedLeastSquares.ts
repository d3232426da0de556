import { abs, add, and, atMost, clamp, div, equal, less, max, min, mul, not, or, select, sub, sum } from '../expression'
import type { Flag, Scalar } from '../expression'
import { solveDefinite } from './definite'

export interface BoundedProblem {
  /** n x n, symmetric positive definite. */
  readonly h: readonly (readonly Scalar[])[]
  readonly g: readonly Scalar[]
  readonly least: readonly Scalar[]
  readonly most: readonly Scalar[]
  /** Where the free minimum lies, to start from. */
  readonly start: readonly Scalar[]
}

/** Variables that are put on a bound or let go, one a pass: two for each are more than are needed in practice. */
const passesEach = 2
/** A slope along a bound that is felt, as a share of the largest one at the start. */
const felt = 1e-12

/**
 * The x within its bounds that minimizes x'h x/2 - g'x, by a primal active set: unrolled to a fixed number of passes, so that
 * it is one expression and costs the same every time. Each pass goes to the minimum over what is free, or as far as a bound
 * allows, which is then held; at a minimum the bound that pulls hardest the wrong way is let go. Never worse from pass to
 * pass, and always within the bounds. Nocedal & Wright, Numerical Optimization, 2nd ed., section 16.5 (from memory).
 */
export function boundedLeastSquares({ h, g, least, most, start }: BoundedProblem): Scalar[] {
  const slopesAt = (x: readonly Scalar[]) => g.map((value, i) => sub(value, sum(h[i]!.map((factor, j) => mul(factor, x[j]!)))))
  let x: Scalar[] = start.map((value, i) => clamp(value, least[i]!, most[i]!))
  let low: Flag[] = start.map((value, i) => less(value, least[i]!))
  let high: Flag[] = start.map((value, i) => less(most[i]!, value))
  const threshold = mul(
    felt,
    slopesAt(x).reduce<Scalar>((all, slope) => max(all, abs(slope)), 0),
  )
  for (let pass = 0; pass < passesEach * g.length; pass++) {
    const held = low.map((flag, i) => or(flag, high[i]!))
    const to = freeMinimum(h, g, x, held)
    const way = to.map((value, i) => sub(value, x[i]!))
    // how far each may go, as a share of the way; 2 is further than anyone goes
    const shares = way.map((step, i) =>
      select(
        held[i]!,
        2,
        select(less(0, step), div(sub(most[i]!, x[i]!), step), select(less(step, 0), div(sub(least[i]!, x[i]!), step), 2)),
      ),
    )
    const share = shares.reduce<Scalar>((all, one) => min(all, one), 1)
    const isBlocked = less(share, 1)
    const blocks = first(shares.map((one) => and(isBlocked, equal(one, share))))
    x = x.map((value, i) => {
      const moved = add(value, mul(share, way[i]!))
      const onBound = select(less(0, way[i]!), most[i]!, least[i]!)
      return select(blocks[i]!, onBound, moved)
    })
    const slopes = slopesAt(x)
    const pulls = slopes.map((slope, i) => select(low[i]!, slope, select(high[i]!, mul(-1, slope), 0)))
    const hardest = pulls.reduce<Scalar>((all, one) => max(all, one), 0)
    const letsGo = and(not(isBlocked), less(threshold, hardest))
    const released = first(pulls.map((pull) => and(letsGo, atMost(hardest, pull))))
    low = low.map((flag, i) => or(and(flag, not(released[i]!)), and(blocks[i]!, less(way[i]!, 0))))
    high = high.map((flag, i) => or(and(flag, not(released[i]!)), and(blocks[i]!, less(0, way[i]!))))
  }
  return x.map((value, i) => clamp(value, least[i]!, most[i]!))
}

/** The minimum over what is not held, the rest staying where it is. */
function freeMinimum(h: BoundedProblem['h'], g: readonly Scalar[], x: readonly Scalar[], held: readonly Flag[]): Scalar[] {
  const free = held.map((flag) => select(flag, 0, 1))
  const bound = x.map((value, i) => select(held[i]!, value, 0))
  const matrix = h.map((row, i) =>
    row.map((value, j) => (i === j ? select(held[i]!, 1, value) : mul(mul(free[i]!, free[j]!), value))),
  )
  const right = g.map((value, i) => {
    const pulled = sum(h[i]!.map((factor, j) => mul(factor, bound[j]!)))
    return [add(mul(free[i]!, sub(value, pulled)), bound[i]!)]
  })
  return solveDefinite(matrix, right).map(([value]) => value!)
}

/** The first of some flags that is set; no other. */
function first(flags: readonly Flag[]): Flag[] {
  let before: Flag = false
  return flags.map((flag) => {
    const own = and(flag, not(before))
    before = or(before, flag)
    return own
  })
}
