import type { Problem } from '../document'
import { add, div, less, mul, select, sub } from '../expression'
import type { Scalar } from '../expression'

/** A curve through points (x, y) with x rising: between two of them what `piece` says, the first and last value beyond. */
export function piecewise(rows: readonly (readonly Scalar[])[], x: Scalar, piece: (first: number) => Scalar): Scalar {
  return rows.slice(0, -1).reduceRight<Scalar>((after, [x0, y0], i) => {
    const inside = i === 0 ? select(less(x, x0!), y0!, piece(i)) : piece(i)
    return select(less(x, rows[i + 1]![0]!), inside, after)
  }, rows.at(-1)![1]!)
}

/**
 * The value of a table at x: straight between its points, the first and last value beyond them. Rows of (x, y) with x
 * rising; points stay in memory, so that they can change without another program.
 */
export function interpolated(rows: readonly (readonly Scalar[])[], x: Scalar): Scalar {
  return piecewise(rows, x, (i) => {
    const [[x0, y0], [x1, y1]] = [rows[i]!, rows[i + 1]!] as [[Scalar, Scalar], [Scalar, Scalar]]
    return add(y0, mul(sub(x, x0), div(sub(y1, y0), sub(x1, x0))))
  })
}

/** What is wrong with a table that should rise in its first column. */
export function risingProblems(
  rows: readonly (readonly number[])[],
  slot: string,
  least: 1 | 2 = 2,
): { slot: string; what: string; remedy: string }[] {
  if (rows.length < least) {
    const what = `The table has ${rows.length} points; ${least === 2 ? 'a line needs two' : 'it needs one'}.`
    return [{ slot, what, remedy: `Give it at least ${least === 2 ? 'two rows' : 'a row'}.` }]
  }
  const at = rows.findIndex(([x], i) => i > 0 && !(x! > rows[i - 1]![0]!))
  if (at < 0) return []
  return [
    {
      slot,
      what: `Row ${at + 1} of the table goes back: ${rows[at]![0]} after ${rows[at - 1]![0]}.`,
      remedy: 'Sort its rows so that the first column rises.',
    },
  ]
}

/** The same as problems of the part at a path. */
export function risingProblemsAt(where: string, rows: readonly (readonly number[])[], slot: string, least: 1 | 2 = 2): Problem[] {
  return risingProblems(rows, slot, least).map(({ slot: own, ...said }) => ({ where: `${where}.${own}`, ...said }))
}
