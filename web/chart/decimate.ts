/**
 * At most two points a pixel column: the least and the most of each column keep every peak in sight.
 * Gives indices in order, of those within `rows`; a value that is no number stays among them, as it leaves the curve open.
 */
export function decimated(
  ys: ArrayLike<number>,
  columns: number,
  [first, last]: readonly [number, number] = [0, ys.length - 1],
): number[] {
  const n = last - first + 1
  if (n <= 2 * columns) return Array.from({ length: Math.max(0, n) }, (_, i) => first + i)
  const kept: number[] = []
  for (let c = 0; c < columns; c++) {
    const from = first + Math.floor((c * n) / columns)
    const to = first + Math.floor(((c + 1) * n) / columns)
    let [low, high, hole] = [from, from, -1]
    for (let i = from; i < to; i++) {
      if (Number.isNaN(ys[i]!)) hole = i
      else if (!(ys[i]! >= ys[low]!)) low = i
      if (ys[i]! > ys[high]! || Number.isNaN(ys[high]!)) high = i
    }
    const here = new Set(hole < 0 ? [low, high] : [low, high, hole])
    kept.push(...[...here].sort((a, b) => a - b))
  }
  if (kept.at(-1) !== last) kept.push(last)
  return kept
}

const rising = new WeakMap<object, boolean>()

/** Whether values never fall, such as times; looked at once for each array. */
export function isRising(xs: ArrayLike<number>): boolean {
  let known = rising.get(xs)
  if (known === undefined) {
    known = true
    for (let i = 1; i < xs.length && known; i++) known = xs[i]! >= xs[i - 1]!
    rising.set(xs, known)
  }
  return known
}

/** The first and last row of rising values that a part of the axis needs: those within it, and one on either side. */
export function rowsOver(xs: ArrayLike<number>, [from, to]: readonly [number, number]): [number, number] {
  return [Math.max(0, countBelow(xs, from) - 1), Math.min(xs.length - 1, countBelow(xs, to))]
}

function countBelow(xs: ArrayLike<number>, value: number): number {
  let [low, high] = [0, xs.length]
  while (low < high) {
    const middle = (low + high) >> 1
    if (xs[middle]! < value) low = middle + 1
    else high = middle
  }
  return low
}

/** Values of a curve that are on a part of the axis: all of one that turns back. */
export function valuesOver(
  { xs, ys }: { readonly xs: ArrayLike<number>; readonly ys: ArrayLike<number> },
  domain: readonly [number, number],
): ArrayLike<number> {
  if (!isRising(xs)) return ys
  const [first, last] = rowsOver(xs, domain)
  return ys instanceof Float64Array ? ys.subarray(first, last + 1) : Array.from(ys).slice(first, last + 1)
}

/** Points of a way that turns back, at most: more cannot be told apart. */
const mostOfPath = 4000

/** The rows of a curve to be drawn on so many columns: of rising values those on the plot, else all, thinned evenly. */
export function drawnRows(
  xs: ArrayLike<number>,
  ys: ArrayLike<number>,
  columns: number,
  domain: readonly [number, number],
): number[] {
  if (isRising(xs)) return decimated(ys, columns, rowsOver(xs, domain))
  const step = Math.ceil(xs.length / mostOfPath)
  const rows = Array.from({ length: Math.ceil(xs.length / step) }, (_, i) => i * step)
  if (rows.at(-1) !== xs.length - 1) rows.push(xs.length - 1)
  return rows
}
